import { useEffect, useRef, type ReactNode } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { useOpenSheet } from '../../../session/session-context';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { useLayoutKind } from './layout-kind';
import { useStop } from '../stops/stop';
import { UncutScroll } from './uncut-scroll';

/** The hush row stands on the tray; the floating buttons make room while it is open. */
const ABOVE_TRAY_PX = 57;
/** Hush row, the tray's own bar and the stops: with them the opened tray covers at most half of the screen. */
const AROUND_REST_PX = 57 + 119 + 60;
const LEAST_REST_PX = 150;

/**
 * The tray of a stop: on a phone a low bar, whose rest opens upwards over at most half of the screen;
 * beside the paper everything at once. Opening slides the last stroke into view.
 */
export function Tray({ bar, rest, open }: { bar: ReactNode; rest: ReactNode; open: boolean }) {
  const theme = useTheme();
  const { height } = useWindowDimensions();
  const kind = useLayoutKind();
  const { session } = useOpenSheet();
  const stop = useStop();
  const box = useRef<View>(null);
  // The other stops' trays stand open, and the paper is fitted above them.
  const dispatch = useAppDispatch();
  const most = Math.round(height / 2) - (stop.tool ? AROUND_REST_PX : 120);
  const maxHeight = Math.max(LEAST_REST_PX, most);
  const rises = kind === 'phone' && open && stop.tool !== undefined;
  useEffect(() => {
    if (!rises) return;
    const top = (box.current as unknown as HTMLElement).getBoundingClientRect().top;
    session.stage?.cover(top - ABOVE_TRAY_PX);
    dispatch(sheetSlice.actions.trayOpen(true));
    return () => {
      session.stage?.uncover();
      dispatch(sheetSlice.actions.trayOpen(false));
    };
  }, [rises, session, dispatch]);
  if (kind !== 'phone')
    return (
      <View style={styles.column}>
        {bar}
        {rest}
      </View>
    );
  return (
    <View ref={box} style={{ backgroundColor: theme.card }}>
      {open && (
        <View style={[styles.rest, { borderColor: theme.rule }]}>
          <UncutScroll most={maxHeight}>{rest}</UncutScroll>
        </View>
      )}
      <View style={[styles.bar, { borderColor: theme.rule }]}>{bar}</View>
    </View>
  );
}

const styles = StyleSheet.create({
  column: { gap: 12 },
  rest: { borderTopWidth: 1 },
  bar: { paddingHorizontal: 8, paddingVertical: 6, gap: 4, borderTopWidth: 1 },
});
