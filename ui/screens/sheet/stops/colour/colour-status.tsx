import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { Words } from '../../../../components/text';
import { useWatched } from '../../../../session/watched';
import { useTheme } from '../../../../theme/theme-context';
import { usePouring } from './use-pouring';

/** What is still open or unfilled, or what stands there otherwise. */
export function ColourStatus({ children }: { children: ReactNode }) {
  const theme = useTheme();
  const pouring = usePouring();
  const words = statusWords(useWatched(pouring.unfilled)?.length ?? 0, useWatched(pouring.opened).length);
  if (!words) return children;
  return (
    <View role="status" style={styles.sign}>
      <View style={[styles.dot, { borderColor: theme.warning }]} />
      <Words size={14} quiet numberOfLines={2} style={styles.words}>
        {words}
      </Words>
    </View>
  );
}

/** @param open shapes whose lines enclose them no longer. */
export function statusWords(unfilled: number, open: number): string {
  const opened = open ? `${open} ${open === 1 ? 'shape' : 'shapes'} opened` : '';
  const bare = unfilled ? `${unfilled} small ${unfilled === 1 ? 'shape' : 'shapes'} unfilled` : '';
  return [opened, bare].filter(Boolean).join(', ');
}

const styles = StyleSheet.create({
  sign: { flexDirection: 'row', alignItems: 'center', gap: 6, maxWidth: 170 },
  dot: { width: 9, height: 9, borderRadius: 5, borderWidth: 2 },
  words: { flexShrink: 1 },
});
