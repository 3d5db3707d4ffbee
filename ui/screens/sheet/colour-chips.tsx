import { Pressable, StyleSheet, View } from 'react-native';
import { penSlice } from '../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';

const NAMES: Record<string, string> = {
  '#000000': 'Black',
  '#ffffff': 'White',
  '#1f3a5f': 'Night blue',
  '#5b2a1d': 'Rust brown',
  '#2f5d3a': 'Reed green',
  '#c2185b': 'Loud pink',
  '#0077c8': 'Loud blue',
  '#d35400': 'Loud orange',
};

/** Ink colours to take. */
export function ColourChips({ colours, wrap }: { colours: readonly string[]; wrap?: boolean }) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const current = useAppSelector((s) => s.pen.colour);
  return (
    <View role="radiogroup" aria-label="Ink colour" style={[styles.row, wrap && styles.wrap]}>
      {colours.map((colour) => {
        const taken = colour === current;
        return (
          <Pressable
            key={colour}
            role="radio"
            aria-checked={taken}
            aria-label={NAMES[colour] ?? colour}
            onPress={() => dispatch(penSlice.actions.takeColour(colour))}
            style={[
              styles.chip,
              {
                borderColor: taken ? theme.accent : 'transparent',
                backgroundColor: taken ? theme.chosen : 'transparent',
              },
            ]}
          >
            <View style={[styles.swatch, { backgroundColor: colour, borderColor: theme.edge }]} />
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 2 },
  wrap: { flexWrap: 'wrap' },
  chip: {
    width: TOUCH,
    height: 48,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
  },
  swatch: { width: 26, height: 26, borderRadius: 4, borderWidth: 1 },
});
