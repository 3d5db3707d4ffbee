import { useRouter } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import type { Insets } from '../../canvas/stage';
import { Button } from '../../components/button';
import { Heading, Words } from '../../components/text';
import { OpenSheetProvider } from '../../session/session-context';
import { useSheet } from '../../session/use-sheet';
import { sheetSlice } from '../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';
import { FirstPicture } from './frame/first-picture';
import { Floats } from './frame/floats';
import { HeldCard } from './frame/held-card';
import { HushRow } from './frame/hush-row';
import {
  SIDE_PANEL_WIDTH,
  SIDE_STRIP_WIDTH,
  STACK_WIDTH,
  STOPS_WIDTH,
  TRAY_WIDTH,
  useLayoutKind,
} from './frame/layout-kind';
import { PaperView } from './paper/paper-view';
import { SideBars } from './frame/side-bars';
import { StackPanel } from './stack/stack-panel';
import { Stops, useStop } from './frame/stops-bar';
import { SyncSign, TitleBar } from './frame/title-bar';
import { UncutScroll } from './frame/uncut-scroll';

const TITLE_HEIGHT = 55;
const SIDE_WIDTH = STOPS_WIDTH + TRAY_WIDTH;
/** What stands below the paper on a phone: floats, hush row, the stop's tray, stops. */
const FLOATS_HEIGHT = 64;
const TRAY_HEIGHTS: Record<string, number> = { place: 213, ink: 119, send: 300 };
const footHeight = (stop: string): number => FLOATS_HEIGHT + 57 + (TRAY_HEIGHTS[stop] ?? 119) + 60;

/** One sheet: the paper over the whole screen, and around it what the open stop needs. */
export function SheetScreen({ id, children }: { id: string; children: ReactNode }) {
  const { top, right, bottom, left } = useInsets(NOT_MEASURED);
  const { width, height } = useWindowDimensions();
  const open = useSheet(id, { width: width - left - right, height: height - top - bottom });
  const status = useAppSelector((s) => s.sheet.status);
  const problem = useAppSelector((s) => s.sheet.problem);
  if (status === 'failed') return <Failed problem={problem} />;
  if (!open) return <Opening />;
  return (
    <OpenSheetProvider value={open}>
      <Frame>{children}</Frame>
    </OpenSheetProvider>
  );
}

/** What bars and columns cover, unfolded. @param measured heights of a phone's bars, by stop, as far as they are known. */
function useInsets(measured: Readonly<Record<string, number>>): Insets {
  const kind = useLayoutKind();
  const safe = useSafeAreaInsets();
  const stop = useStop();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  // Only inking folds bars and opens its tray over the paper; there the height is the closed one, so that nothing moves.
  const foot = (stop === 'ink' ? undefined : measured[stop]) ?? footHeight(stop) + safe.bottom;
  return useMemo(() => {
    const top = TITLE_HEIGHT + safe.top;
    if (kind === 'phone') return { top, right: 0, bottom: foot, left: 0 };
    if (kind === 'side') {
      const hold = SIDE_STRIP_WIDTH + (stop === 'ink' ? 0 : SIDE_PANEL_WIDTH);
      return {
        top: safe.top,
        bottom: safe.bottom,
        left: left ? safe.left : hold + safe.left,
        right: left ? hold + safe.right : safe.right,
      };
    }
    const [near, far] = [SIDE_WIDTH + safe.left, STACK_WIDTH + safe.right];
    return { top, right: left ? near : far, bottom: FLOATS_HEIGHT + safe.bottom, left: left ? far : near };
  }, [kind, stop, foot, left, safe.top, safe.bottom, safe.left, safe.right]);
}

const NOT_MEASURED = {};

/** The paper lies under everything and never moves; bars and columns come and go above it. */
function Frame({ children }: { children: ReactNode }) {
  const kind = useLayoutKind();
  const stop = useStop();
  const folded = useAppSelector((s) => s.sheet.folded);
  const penNear = useAppSelector((s) => s.sheet.penNear);
  const [measured, setMeasured] = useState<Record<string, number>>({});
  const insets = useInsets(measured);
  const away = kind === 'phone' ? folded : kind === 'wide' && penNear;
  return (
    <View style={styles.fill} role="main">
      <PaperView insets={insets} />
      <FirstPicture insets={insets} overPaper />
      {kind === 'phone' ? (
        <PhoneBars folded={away} onHeight={(height) => setMeasured((m) => ({ ...m, [stop]: height }))}>
          {children}
        </PhoneBars>
      ) : kind === 'side' ? (
        <SideBars>{children}</SideBars>
      ) : (
        <Columns insets={insets} folded={away}>
          {children}
        </Columns>
      )}
    </View>
  );
}

function PhoneBars({
  folded,
  onHeight,
  children,
}: {
  folded: boolean;
  onHeight(px: number): void;
  children: ReactNode;
}) {
  const theme = useTheme();
  const safe = useSafeAreaInsets();
  const stop = useStop();
  const trayOpen = useAppSelector((s) => s.sheet.trayOpen);
  return (
    <>
      {folded ? <UnfoldChip top={safe.top} /> : <TitleBar />}
      <View style={styles.bottom} onLayout={(e) => onHeight(e.nativeEvent.layout.height)}>
        <HeldCard />
        {!trayOpen && <Floats eraser={stop === 'ink'} />}
        <HushRow kind="phone" />
        {children}
        <Stops upright={false} />
        <View style={{ height: safe.bottom, backgroundColor: theme.page }} />
      </View>
    </>
  );
}

/**
 * Beside the paper: stops, tray and hush row on the holding side, the stack on the other. Folded,
 * they are only hidden: the open stop is a route, which must stay where it is.
 */
function Columns({ insets, folded, children }: { insets: Insets; folded: boolean; children: ReactNode }) {
  const theme = useTheme();
  const stop = useStop();
  const safe = useSafeAreaInsets();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const column = [
    styles.column,
    { top: insets.top, backgroundColor: theme.card, borderColor: theme.rule },
    folded && styles.away,
  ];
  const atLeft = [styles.atLeft, { width: insets.left, paddingLeft: safe.left }];
  const atRight = [styles.atRight, { width: insets.right, paddingRight: safe.right }];
  return (
    <>
      {!folded && <TitleBar />}
      <View style={[column, left ? atRight : atLeft]}>
        <View style={[styles.across, left && styles.mirrored]}>
          <Stops upright />
          <UncutScroll>{children}</UncutScroll>
        </View>
        <HushRow kind="wide" />
      </View>
      <ScrollView style={[column, left ? atLeft : atRight]} contentContainerStyle={styles.trayInner}>
        <StackPanel />
      </ScrollView>
      {folded ? (
        <FoldedColumns />
      ) : (
        <View style={[styles.bottom, { left: insets.left, right: insets.right }]}>
          <HeldCard />
          <Floats eraser={stop === 'ink'} />
        </View>
      )}
    </>
  );
}

/** What is left of the columns while a pen is at work: what the holding hand needs, and a way back. */
function FoldedColumns() {
  const left = useAppSelector((s) => s.settings.hand === 'left');
  return (
    <>
      <View style={[styles.holding, left ? styles.atRight : styles.atLeft]}>
        <Floats eraser upright />
      </View>
      <View style={styles.bottom}>
        <HeldCard />
        <UnfoldChip />
      </View>
    </>
  );
}

/** What stays of the title bar (and of the columns) while inking. @param top where it stands; below when left out. */
function UnfoldChip({ top }: { top?: number }) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const Chevron = top === undefined ? ChevronUp : ChevronDown;
  return (
    <View style={[styles.unfoldRow, top !== undefined && [styles.unfoldTop, { top }]]}>
      <Pressable
        role="button"
        aria-label="Show the title bar and the stops"
        onPress={() => dispatch(sheetSlice.actions.unfold())}
        style={[styles.unfold, { borderColor: theme.rule, backgroundColor: theme.raised }]}
      >
        <Chevron size={18} color={theme.text} />
        <SyncSign />
      </Pressable>
    </View>
  );
}

function Opening() {
  const theme = useTheme();
  const insets = useInsets(NOT_MEASURED);
  return (
    <View style={[styles.middle, { backgroundColor: theme.desk }]} role="main">
      <FirstPicture insets={insets} overPaper={false} />
      <Words quiet role="status" style={styles.opening}>
        Opening the sheet
      </Words>
    </View>
  );
}

function Failed({ problem }: { problem?: string }) {
  const router = useRouter();
  return (
    <View style={styles.middle} role="main">
      <Heading level={1}>This sheet cannot be shown</Heading>
      <Words role="alert">{problem}</Words>
      <Words quiet>Nothing was changed. What waits on this device stays here.</Words>
      <Button tone="main" label="Try again" onPress={() => window.location.reload()} />
      <Button label="Back to the drawer" onPress={() => router.replace('/')} />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, overflow: 'hidden' },
  bottom: { position: 'absolute', left: 0, right: 0, bottom: 0, pointerEvents: 'box-none' },
  across: { flex: 1, flexDirection: 'row' },
  mirrored: { flexDirection: 'row-reverse' },
  column: { position: 'absolute', bottom: 0, borderRightWidth: 1, borderLeftWidth: 1 },
  away: { display: 'none' },
  atLeft: { left: 0 },
  atRight: { right: 0 },
  trayInner: { padding: 12, gap: 12 },
  holding: { position: 'absolute', top: 0, bottom: 0, justifyContent: 'center', pointerEvents: 'box-none' },
  unfoldRow: { alignItems: 'center', paddingVertical: 4, pointerEvents: 'box-none' },
  unfoldTop: { position: 'absolute', left: 0, right: 0 },
  unfold: {
    paddingHorizontal: 10,
    minHeight: TOUCH,
    minWidth: 110,
    flexDirection: 'row',
    gap: 6,
    alignItems: 'center',
    justifyContent: 'center',
    borderWidth: 1,
    borderRadius: RADIUS,
  },
  opening: { position: 'absolute', bottom: 48 },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 14, padding: 24 },
});
