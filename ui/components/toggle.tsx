import { Pressable, StyleSheet, View } from 'react-native';
import { TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

/** Something that is on or off, with its name. */
export function Toggle({ label, on, onChange }: { label: string; on: boolean; onChange(on: boolean): void }) {
  const theme = useTheme();
  return (
    <Pressable role="switch" aria-checked={on} aria-label={label} onPress={() => onChange(!on)} style={styles.row}>
      <Words style={styles.words}>{label}</Words>
      <View
        style={[
          styles.track,
          { borderColor: on ? theme.accent : theme.edge, backgroundColor: on ? theme.accent : theme.raised },
        ]}
      >
        <View style={[styles.knob, on && styles.on, { backgroundColor: on ? theme.onAccent : theme.edge }]} />
      </View>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  row: { minHeight: TOUCH, flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 12 },
  words: { flexShrink: 1 },
  track: { width: 42, height: 24, borderRadius: 12, borderWidth: 1.5, justifyContent: 'center', paddingHorizontal: 3 },
  knob: { width: 15, height: 15, borderRadius: 8 },
  on: { alignSelf: 'flex-end' },
});
