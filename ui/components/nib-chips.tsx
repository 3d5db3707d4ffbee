import { StyleSheet, View } from 'react-native';
import { Chip } from './chip';
import { Words } from './text';
import { useTheme } from '../theme/theme-context';

/** Four sizes, dot and number; a tap takes one. */
export function NibChips({
  sizes,
  chosen,
  onTake,
  name,
  wrap,
}: {
  sizes: readonly number[];
  chosen: number;
  onTake(i: number): void;
  name: string;
  wrap?: boolean;
}) {
  const theme = useTheme();
  const largest = Math.max(...sizes);
  return (
    <View role="radiogroup" aria-label={name} style={[styles.row, wrap && styles.wrap]}>
      {sizes.map((size, i) => {
        const taken = i === chosen;
        // Dots tell the sizes apart; the ring on the paper shows the true one.
        const dot = Math.max(3, Math.round(18 * Math.sqrt(size / largest)));
        return (
          <Chip key={i} label={`${name} ${size} px`} taken={taken} onTake={() => onTake(i)}>
            <View style={styles.dotBox}>
              <View style={{ width: dot, height: dot, borderRadius: dot / 2, backgroundColor: theme.text }} />
            </View>
            <Words size={12} strong={taken} style={taken && { color: theme.accent }}>
              {size}
            </Words>
          </Chip>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 2 },
  wrap: { flexWrap: 'wrap' },
  dotBox: { height: 22, justifyContent: 'center' },
});
