import { Redirect, usePathname, useRouter } from 'expo-router';
import { useEffect, type ReactNode } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { useStore } from 'react-redux';
import { Button } from '../../components/button';
import { Heading, Words } from '../../components/text';
import { OpenSheetProvider } from '../../session/session-context';
import { useSheet } from '../../session/use-sheet';
import { followPens } from '../../store/follow-pens';
import { useAppSelector, type AppStore } from '../../store/store';
import { useTheme } from '../../theme/theme-context';
import { Columns } from './frame/columns';
import { FirstPicture } from './frame/first-picture';
import { useFootHeights, type FootHeights } from './frame/foot-heights';
import { useInsets } from './frame/insets';
import { useLayoutKind } from './frame/layout-kind';
import { PhoneBars } from './frame/phone-bars';
import { SideBars } from './frame/side-bars';
import { BesidePictures } from './paper/beside-pictures';
import { PaperView } from './paper/paper-view';
import { sendTray } from './stops/later-parts';
import { StopProvider, useStop } from './stops/stop';
import { FIRST_STOP, stopAt } from './stops/stops';

/** What other stops need is fetched so long after a sheet is there. */
const LATER_MS = 3000;

/** One sheet, at the stop that the address names; without one the address leads to the first. */
export function SheetScreen({ id }: { id: string }) {
  const path = usePathname();
  const stop = stopAt(path);
  const store = useStore() as AppStore;
  useEffect(() => followPens(store), [store]);
  return (
    <StopProvider value={stop ?? FIRST_STOP}>
      {!stop && path.startsWith('/sheet/') && <Redirect href={`/sheet/${id}/${FIRST_STOP.route}`} />}
      <OpenedSheet id={id} />
    </StopProvider>
  );
}

function OpenedSheet({ id }: { id: string }) {
  const stop = useStop();
  const { width, height } = useWindowDimensions();
  const feet = useFootHeights(width);
  const { top, right, bottom, left } = useInsets(feet.of(stop));
  const open = useSheet(id, { width: width - left - right, height: height - top - bottom });
  // Not before the sheet is there: it waits for nothing that another stop needs.
  useEffect(() => {
    const soon = open ? setTimeout(() => sendTray.fetchAhead(), LATER_MS) : undefined;
    return () => clearTimeout(soon);
  }, [open]);
  const status = useAppSelector((s) => s.sheet.status);
  const problem = useAppSelector((s) => s.sheet.problem);
  if (status === 'failed') return <Failed problem={problem} />;
  if (!open) return <Opening feet={feet} />;
  return (
    <OpenSheetProvider value={open}>
      <Frame feet={feet}>
        <stop.Tray />
      </Frame>
    </OpenSheetProvider>
  );
}

/** The paper lies under everything and never moves; bars and columns come and go above it. */
function Frame({ feet, children }: { feet: FootHeights; children: ReactNode }) {
  const kind = useLayoutKind();
  const insets = useInsets(feet.of(useStop()));
  return (
    <View style={styles.fill} role="main">
      <PaperView insets={insets} />
      <FirstPicture insets={insets} overPaper />
      <BesidePictures />
      {kind === 'phone' ? (
        <PhoneBars feet={feet}>{children}</PhoneBars>
      ) : kind === 'side' ? (
        <SideBars>{children}</SideBars>
      ) : (
        <Columns insets={insets}>{children}</Columns>
      )}
    </View>
  );
}

function Opening({ feet }: { feet: FootHeights }) {
  const theme = useTheme();
  const insets = useInsets(feet.of(useStop()));
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
  opening: { position: 'absolute', bottom: 48 },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 14, padding: 24 },
});
