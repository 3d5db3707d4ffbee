import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { useOpenSheet } from '../../../session/session-context';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { useLayoutKind } from './layout-kind';
import { useStop } from '../stops/stop';
import { useFootBox } from './foot-box';
import { UncutScroll } from './uncut-scroll';

/** The rest of a tray is at least so high, however little half of the screen leaves. */
const LEAST_REST_PX = 150;

/**
 * The tray of a stop: on a phone a low bar, whose rest opens upwards. Over the paper, where the stop has a tool, it covers
 * with all other bars at most half of the screen, as they are measured; where it stands open and the paper is fitted above
 * it, so much without its own bar. Beside the paper everything at once. Opening slides the last stroke into view.
 */
export function Tray({ bar, rest, open }: { bar: ReactNode; rest: ReactNode; open: boolean }) {
  const theme = useTheme();
  const { width, height } = useWindowDimensions();
  const kind = useLayoutKind();
  const { session } = useOpenSheet();
  const stop = useStop();
  const foot = useFootBox();
  const opened = useRef<View>(null);
  const barBox = useRef<View>(null);
  const [around, setAround] = useState<number>();
  // The other stops' trays stand open, and the paper is fitted above them.
  const dispatch = useAppDispatch();
  const rises = kind === 'phone' && open && stop.tool !== undefined;
  // Not a layout effect: at the first one the bars around have no place yet.
  useEffect(() => {
    const span = open ? foot?.span() : undefined;
    if (!span) return;
    const own = heightOf(opened.current) + (stop.tool ? 0 : heightOf(barBox.current));
    setAround(Math.round(span.bottom - span.top - own));
  }, [foot, open, stop, width, height]);
  const cover = useCallback(() => {
    const span = rises ? foot?.span() : undefined;
    if (span) session.stage?.cover(span.top);
  }, [rises, foot, session]);
  useEffect(() => {
    if (!rises) return;
    cover();
    dispatch(sheetSlice.actions.trayOpen(true));
    return () => {
      session.stage?.uncover();
      dispatch(sheetSlice.actions.trayOpen(false));
    };
  }, [rises, session, cover, dispatch]);
  if (kind !== 'phone')
    return (
      <View style={styles.column}>
        {bar}
        {rest}
      </View>
    );
  return (
    <View style={{ backgroundColor: theme.card }}>
      {open && (
        <View ref={opened} onLayout={cover} style={[styles.rest, { borderColor: theme.rule }]}>
          <UncutScroll most={Math.max(LEAST_REST_PX, Math.round(height / 2) - (around ?? height))}>{rest}</UncutScroll>
        </View>
      )}
      <View ref={barBox} style={[styles.bar, { borderColor: theme.rule }]}>
        {bar}
      </View>
    </View>
  );
}

const heightOf = (view: View | null): number =>
  (view as unknown as HTMLElement | null)?.getBoundingClientRect().height ?? 0;

const styles = StyleSheet.create({
  column: { gap: 12 },
  rest: { borderTopWidth: 1 },
  bar: { paddingHorizontal: 8, paddingVertical: 6, gap: 4, borderTopWidth: 1 },
});
