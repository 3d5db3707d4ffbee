import { useEffect, type ReactNode } from 'react';
import { Modal, Pressable, ScrollView, StyleSheet, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { useReducedMotion, useTheme } from '../theme/theme-context';
import { IconButton } from './button';
import { Heading } from './text';

/** A panel over the page: from below on a phone, in the middle when there is room. Escape closes it. */
export function Dialog({ title, onClose, children }: { title: string; onClose(): void; children: ReactNode }) {
  const theme = useTheme();
  const reduced = useReducedMotion();
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    return () => before?.focus?.();
  }, []);
  useEffect(() => {
    // Caught on the way down: a text field would keep the key to itself.
    const escape = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      e.stopPropagation();
      onClose();
    };
    document.addEventListener('keydown', escape, { capture: true });
    return () => document.removeEventListener('keydown', escape, { capture: true });
  }, [onClose]);
  return (
    <Modal transparent animationType={reduced ? 'none' : 'fade'} onRequestClose={onClose} aria-label={title}>
      <View style={styles.backdrop}>
        <Pressable style={StyleSheet.absoluteFill} onPress={onClose} aria-hidden tabIndex={-1} />
        <View style={[styles.panel, { backgroundColor: theme.card, borderColor: theme.rule }]}>
          <View style={styles.head}>
            <Heading>{title}</Heading>
            <IconButton label="Close" icon={X} boxed={false} onPress={onClose} />
          </View>
          <ScrollView contentContainerStyle={styles.body}>{children}</ScrollView>
        </View>
      </View>
    </Modal>
  );
}

const styles = StyleSheet.create({
  backdrop: {
    flex: 1,
    justifyContent: 'center',
    alignItems: 'center',
    padding: 12,
    backgroundColor: 'rgba(20, 22, 27, 0.45)',
  },
  panel: { width: '100%', maxWidth: 460, maxHeight: '92%', borderRadius: 6, borderWidth: 1 },
  head: {
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    paddingLeft: 20,
    paddingRight: 8,
    paddingTop: 8,
  },
  body: { padding: 20, paddingTop: 8, gap: 14 },
});
