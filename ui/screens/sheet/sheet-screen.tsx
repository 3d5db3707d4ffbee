import { useRouter } from 'expo-router';
import { useMemo, type ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import { Button } from '../../components/button';
import { Heading, Words } from '../../components/text';
import { OpenSheetProvider } from '../../sheet/session-context';
import { useSheet } from '../../sheet/use-sheet';
import { sheetSlice } from '../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';
import { Floats } from './floats';
import { HeldCard } from './held-card';
import { HushRow } from './hush-row';
import { STACK_WIDTH, STOPS_WIDTH, TRAY_WIDTH, useLayoutKind } from './layout-kind';
import { PaperView } from './paper-view';
import { StackPanel } from './stack-panel';
import { Stops, useStop } from './stops';
import { SyncSign, TitleBar } from './title-bar';

const TITLE_HEIGHT = 55;
/** What stands below the paper on a phone: floats, hush row, the stop's tray, stops. */
const FLOATS_HEIGHT = 64;
const TRAY_HEIGHTS: Record<string, number> = { place: 213, ink: 119, send: 300 };
const footHeight = (stop: string): number => FLOATS_HEIGHT + 57 + (TRAY_HEIGHTS[stop] ?? 119) + 60;

/** One sheet: the paper over the whole screen, and around it what the open stop needs. */
export function SheetScreen({ id, children }: { id: string; children: ReactNode }) {
  const open = useSheet(id);
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

function Frame({ children }: { children: ReactNode }) {
  const theme = useTheme();
  const kind = useLayoutKind();
  const safe = useSafeAreaInsets();
  const stop = useStop();
  const folded = useAppSelector((s) => s.sheet.folded) && kind === 'phone';
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const insets = useMemo(
    () =>
      kind === 'phone'
        ? { top: TITLE_HEIGHT + safe.top, right: 0, bottom: footHeight(stop) + safe.bottom, left: 0 }
        : { top: 0, right: 0, bottom: FLOATS_HEIGHT, left: 0 },
    [kind, stop, safe.top, safe.bottom],
  );
  const floats = <Floats eraser={stop === 'ink'} />;
  if (kind === 'phone')
    return (
      <View style={styles.fill} role="main">
        <PaperView insets={insets} />
        {!folded && (
          <View style={[styles.top, { paddingTop: safe.top, backgroundColor: theme.page }]}>
            <TitleBar />
          </View>
        )}
        <View style={styles.bottom}>
          <HeldCard />
          {floats}
          <HushRow kind={kind} />
          {children}
          {folded ? <UnfoldChip /> : <Stops upright={false} />}
          <View style={{ height: safe.bottom, backgroundColor: theme.page }} />
        </View>
      </View>
    );
  return (
    <View style={[styles.fill, { paddingTop: safe.top, paddingLeft: safe.left, paddingRight: safe.right }]} role="main">
      <TitleBar />
      <View style={[styles.across, left && styles.mirrored]}>
        <View style={[styles.side, { backgroundColor: theme.card, borderColor: theme.rule }]}>
          <View style={[styles.across, left && styles.mirrored]}>
            <Stops upright />
            <ScrollView style={styles.tray} contentContainerStyle={styles.trayInner}>
              {children}
            </ScrollView>
          </View>
          <HushRow kind={kind} />
        </View>
        <View style={styles.fill}>
          <PaperView insets={insets} />
          <View style={styles.bottom}>
            <HeldCard />
            {floats}
          </View>
        </View>
        {kind === 'wide' && (
          <ScrollView
            style={[styles.stack, { backgroundColor: theme.card, borderColor: theme.rule }]}
            contentContainerStyle={styles.trayInner}
          >
            <StackPanel />
          </ScrollView>
        )}
      </View>
    </View>
  );
}

/** What stays of the title bar and the stops while inking. */
function UnfoldChip() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  return (
    <View style={[styles.unfoldRow, { backgroundColor: theme.card }]}>
      <Pressable
        role="button"
        aria-label="Show the title bar and the stops"
        onPress={() => dispatch(sheetSlice.actions.fold(false))}
        style={[styles.unfold, { borderColor: theme.rule, backgroundColor: theme.raised }]}
      >
        <ChevronUp size={18} color={theme.text} />
        <SyncSign />
      </Pressable>
    </View>
  );
}

function Opening() {
  return (
    <View style={styles.middle} role="main">
      <Words quiet role="status">
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
  top: { position: 'absolute', left: 0, right: 0, top: 0 },
  bottom: { position: 'absolute', left: 0, right: 0, bottom: 0, pointerEvents: 'box-none' },
  across: { flex: 1, flexDirection: 'row' },
  mirrored: { flexDirection: 'row-reverse' },
  side: { width: STOPS_WIDTH + TRAY_WIDTH, borderRightWidth: 1, borderLeftWidth: 1 },
  tray: { flex: 1 },
  trayInner: { padding: 12, gap: 12 },
  stack: { width: STACK_WIDTH, flexGrow: 0, borderLeftWidth: 1, borderRightWidth: 1 },
  unfoldRow: { alignItems: 'center', paddingVertical: 4 },
  unfold: {
    minHeight: TOUCH,
    minWidth: 110,
    flexDirection: 'row',
    gap: 6,
    alignItems: 'center',
    justifyContent: 'center',
    borderWidth: 1,
    borderRadius: RADIUS,
  },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 14, padding: 24 },
});
