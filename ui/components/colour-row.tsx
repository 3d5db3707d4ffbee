import { StyleSheet, View } from 'react-native';
import { useTheme } from '../theme/theme-context';
import { Chip } from './chip';

/** What colours are called. */
export const INK_NAMES: Record<string, string> = {
  '#000000': 'Black',
  '#ffffff': 'White',
  '#1f3a5f': 'Night blue',
  '#5b2a1d': 'Rust brown',
  '#2f5d3a': 'Reed green',
  '#c2185b': 'Loud pink',
  '#0077c8': 'Loud blue',
  '#d35400': 'Loud orange',
  '#6fa8dc': 'Pale blue',
  '#e08a8a': 'Pale red',
  '#8fbf8f': 'Pale green',
  '#c9a2d8': 'Pale violet',
  '#9aa0a6': 'Pale grey',
};

/** Colours to take. @param taken the one that is. */
export function ColourRow({
  label,
  colours,
  names = {},
  taken,
  wrap,
  onTake,
}: {
  label: string;
  colours: readonly string[];
  /** What the artist calls some of them. */
  names?: Readonly<Record<string, string>>;
  taken?: string;
  wrap?: boolean;
  onTake(colour: string): void;
}) {
  const theme = useTheme();
  return (
    <View role="radiogroup" aria-label={label} style={[styles.row, wrap && styles.wrap]}>
      {colours.map((colour) => (
        <Chip
          key={colour}
          label={names[colour] ?? INK_NAMES[colour] ?? colour}
          taken={colour === taken}
          onTake={() => onTake(colour)}
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
