import { useState, type ReactNode } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

/** Controls under a line that unfolds them; `note` tells folded what they are set to. */
export function Section({ title, note, children }: { title: string; note?: string; children: ReactNode }) {
  const theme = useTheme();
  const [open, setOpen] = useState(false);
  const Sign = open ? ChevronDown : ChevronRight;
  return (
    <View style={[styles.section, { borderColor: theme.rule }]}>
      <Pressable role="button" aria-expanded={open} style={styles.line} onPress={() => setOpen(!open)}>
        <Sign size={18} color={theme.text} />
        <Words strong>{title}</Words>
        {note !== undefined && (
          <Words size={14} quiet numberOfLines={1} style={styles.note}>
            {note}
          </Words>
        )}
      </Pressable>
      {open && <View style={styles.inner}>{children}</View>}
    </View>
  );
}

const styles = StyleSheet.create({
  section: { borderTopWidth: 1 },
  line: { minHeight: TOUCH, flexDirection: 'row', alignItems: 'center', gap: 8 },
  note: { flex: 1, minWidth: 0, textAlign: 'right' },
  inner: { gap: 8, paddingBottom: 8 },
});
