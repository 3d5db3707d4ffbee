import { Pressable, StyleSheet, View } from 'react-native';
import { Words } from '../../components/text';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';

/** Four sizes, dot and number; a tap takes one. */
export function NibChips({
  sizes,
  chosen,
  onTake,
  name,
}: {
  sizes: readonly number[];
  chosen: number;
  onTake(i: number): void;
  name: string;
}) {
  const theme = useTheme();
  const largest = Math.max(...sizes);
  return (
    <View role="radiogroup" aria-label={name} style={styles.row}>
      {sizes.map((size, i) => {
        const taken = i === chosen;
        // Dots tell the sizes apart; the ring on the paper shows the true one.
        const dot = Math.max(3, Math.round(18 * Math.sqrt(size / largest)));
        return (
          <Pressable
            key={i}
            role="radio"
            aria-checked={taken}
            aria-label={`${name} ${size} px`}
            onPress={() => onTake(i)}
            style={[
              styles.chip,
              {
                borderColor: taken ? theme.accent : 'transparent',
                backgroundColor: taken ? theme.chosen : 'transparent',
              },
            ]}
          >
            <View style={styles.dotBox}>
              <View style={{ width: dot, height: dot, borderRadius: dot / 2, backgroundColor: theme.text }} />
            </View>
            <Words size={12} strong={taken} style={taken && { color: theme.accent }}>
              {size}
            </Words>
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 2 },
  chip: {
    width: TOUCH,
    height: 48,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'flex-end',
    paddingBottom: 2,
  },
  dotBox: { height: 22, justifyContent: 'center' },
});
