import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import { RADIUS, TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

export interface Option<T extends string> {
  value: T;
  label: string;
  note?: string;
}

/** One of a few, side by side or (with notes) below each other; in one row that scrolls sideways where rows are dear. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
  scrolls = false,
  tight = false,
}: {
  label: string;
  options: readonly Option<T>[];
  value: T;
  onChange(value: T): void;
  scrolls?: boolean;
  /** There is little room beside it. */
  tight?: boolean;
}) {
  const theme = useTheme();
  const group = (
    <View role="radiogroup" aria-label={label} style={[styles.group, scrolls && styles.row, tight && styles.near]}>
      {options.map((o) => {
        const chosen = o.value === value;
        return (
          <Pressable
            key={o.value}
            role="radio"
            aria-checked={chosen}
            onPress={() => onChange(o.value)}
            style={[
              styles.option,
              tight && styles.narrow,
              o.note !== undefined && styles.wide,
              {
                borderColor: chosen ? theme.accent : theme.rule,
                backgroundColor: chosen ? theme.chosen : theme.raised,
              },
            ]}
          >
            <Words strong={chosen} style={{ color: chosen ? theme.accent : theme.text }}>
              {o.label}
            </Words>
            {o.note !== undefined && (
              <Words size={13} quiet>
                {o.note}
              </Words>
            )}
          </Pressable>
        );
      })}
    </View>
  );
  if (!scrolls) return group;
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.scroll}>
      {group}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  row: { flexWrap: 'nowrap' },
  near: { flexWrap: 'nowrap', gap: 4 },
  narrow: { paddingHorizontal: 6 },
  scroll: { flexGrow: 0, flexShrink: 1, minWidth: 0 },
  option: {
    minHeight: TOUCH,
    minWidth: TOUCH,
    paddingHorizontal: 12,
    borderWidth: 1,
    borderRadius: RADIUS,
    justifyContent: 'center',
    flexGrow: 1,
    alignItems: 'center',
  },
  wide: { alignItems: 'flex-start', paddingVertical: 8, flexBasis: '46%' },
});
