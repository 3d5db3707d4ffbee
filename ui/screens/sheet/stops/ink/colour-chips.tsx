import { StyleSheet, View } from 'react-native';
import { Chip } from '../../../../components/chip';
import { penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useTheme } from '../../../../theme/theme-context';

/** What ink colours are called. */
export const INK_NAMES: Record<string, string> = {
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
      {colours.map((colour) => (
        <Chip
          key={colour}
          label={INK_NAMES[colour] ?? colour}
          taken={colour === current}
          onTake={() => dispatch(penSlice.actions.takeColour(colour))}
        >
          <View style={[styles.swatch, { backgroundColor: colour, borderColor: theme.edge }]} />
        </Chip>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 2 },
  wrap: { flexWrap: 'wrap' },
  swatch: { width: 26, height: 26, borderRadius: 4, borderWidth: 1 },
});
