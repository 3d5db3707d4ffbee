import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

const hasFiles = (data: DataTransfer | null): boolean => data?.types.includes('Files') === true;
const isTyping = (target: EventTarget | null): boolean =>
  target instanceof Element && target.matches('input, textarea');

/** While Place is open, pictures can be pasted and dropped anywhere. */
export function PictureArrivals() {
  const theme = useTheme();
  const { bringing } = useOpenSheet();
  const [hovers, setHovers] = useState(false);
  useEffect(() => {
    // Children are entered before their parents are left.
    let inside = 0;
    const show = (depth: number) => {
      inside = Math.max(0, depth);
      setHovers(inside > 0);
    };
    const over = (e: DragEvent) => {
      if (!hasFiles(e.dataTransfer)) return;
      e.preventDefault();
      if (e.type === 'dragenter') show(inside + 1);
    };
    const leave = (e: DragEvent) => hasFiles(e.dataTransfer) && show(inside - 1);
    const drop = (e: DragEvent) => {
      if (!hasFiles(e.dataTransfer)) return;
      e.preventDefault();
      show(0);
      void bringing.bring([...e.dataTransfer!.files]);
    };
    const paste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])];
      if (files.length === 0 || isTyping(e.target)) return;
      e.preventDefault();
      void bringing.bring(files);
    };
    const on = { dragenter: over, dragover: over, dragleave: leave, drop, paste } as const;
    const entries = Object.entries(on) as [string, EventListener][];
    for (const [name, listener] of entries) window.addEventListener(name, listener);
    return () => entries.forEach(([name, listener]) => window.removeEventListener(name, listener));
  }, [bringing]);
  if (!hovers) return null;
  return (
    <View style={[StyleSheet.absoluteFill, styles.target, { borderColor: theme.accent }]} pointerEvents="none">
      <View style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.accent }]}>
        <Words strong>Let go: pictures go under the ink</Words>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  target: { borderWidth: 3, borderStyle: 'dashed', alignItems: 'center', justifyContent: 'center' },
  card: { borderWidth: 1, borderRadius: RADIUS, paddingHorizontal: 18, paddingVertical: 12 },
});
