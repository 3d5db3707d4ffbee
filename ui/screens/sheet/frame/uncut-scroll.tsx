import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { controlSpans, uncutHeight } from './uncut-height';

/** The least that is shown, as a part of what there is room for, before a control may be cut through. */
const LEAST_PART = 0.5;

/**
 * A scrolled area whose lower edge cuts through no control.
 * @param most its height in CSS px; without, as much as its parent leaves.
 */
export function UncutScroll({ most, children }: { most?: number; children: ReactNode }) {
  const content = useRef<View>(null);
  const [room, setRoom] = useState(0);
  const [uncut, setUncut] = useState<number>();
  const height = most ?? room;
  const measure = useCallback(() => {
    const inner = content.current as unknown as HTMLElement | null;
    if (inner && height > 0) setUncut(uncutHeight(controlSpans(inner), height, height * LEAST_PART));
  }, [height]);
  useEffect(measure, [measure]);
  return (
    <View
      style={most === undefined && styles.fill}
      onLayout={(e) => most === undefined && setRoom(e.nativeEvent.layout.height)}
    >
      <ScrollView style={{ maxHeight: uncut ?? (height || undefined) }} onContentSizeChange={measure}>
        <View ref={content} style={styles.inner}>
          {children}
        </View>
      </ScrollView>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minHeight: 0 },
  inner: { padding: 12, gap: 12 },
});
