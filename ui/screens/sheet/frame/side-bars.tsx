import { useRouter } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import PanelLeft from 'lucide-react-native/icons/panel-left';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import { IconButton } from '../../../components/button';
import { useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { ZoomButton } from './floats';
import { PaperSigns } from './paper-signs';
import { HushRow } from './hush-row';
import { SIDE_PANEL_WIDTH, SIDE_STRIP_WIDTH } from './layout-kind';
import { StepButton } from './step-button';
import { useStop } from '../stops/stop';
import { StopsBar } from './stops-bar';
import { StatusSign } from './title-bar';
import { UncutScroll } from './uncut-scroll';
import { useBackCloses } from './use-back-closes';

/**
 * A phone on its side: a slim strip at the holding side with what inking needs every minute, and the
 * whole height for the paper. The rest (stops, tray, hush row) stands in a panel: always on the other
 * stops, on demand while inking.
 */
export function SideBars({ children }: { children: ReactNode }) {
  const theme = useTheme();
  const safe = useSafeAreaInsets();
  const stop = useStop();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const [asked, setAsked] = useState(false);
  const draws = stop.tool !== undefined;
  const open = !draws || asked;
  useBackCloses(draws && asked, () => setAsked(false));
  const near = left ? safe.right : safe.left;
  const edge = { backgroundColor: theme.card, borderColor: theme.rule };
  return (
    <>
      <View style={[styles.all, left ? styles.fromRight : styles.fromLeft]}>
        <ScrollView
          style={[styles.strip, edge, { width: SIDE_STRIP_WIDTH + near }]}
          contentContainerStyle={[styles.cells, left ? { paddingRight: near + 4 } : { paddingLeft: near + 4 }]}
        >
          <StripCells open={open} onFlip={draws ? () => setAsked(!asked) : undefined} />
        </ScrollView>
        <View style={[styles.panel, edge, !open && styles.away]}>
          <StopsBar upright={false} />
          <UncutScroll>{children}</UncutScroll>
          <HushRow kind="side" />
        </View>
      </View>
      <View style={[styles.bottom, left ? { right: SIDE_STRIP_WIDTH + near } : { left: SIDE_STRIP_WIDTH + near }]}>
        <PaperSigns />
      </View>
      <View style={[styles.zoom, left ? styles.atLeft : styles.atRight]}>
        <View style={[styles.sync, { backgroundColor: theme.raised, borderColor: theme.rule }]}>
          <StatusSign />
        </View>
        <ZoomButton />
      </View>
    </>
  );
}

function StripCells({ open, onFlip }: { open: boolean; onFlip?: () => void }) {
  const router = useRouter();
  const stop = useStop();
  const target = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  return (
    <>
      <IconButton label="Back to the drawer" icon={ChevronLeft} boxed={false} onPress={() => router.replace('/')} />
      <IconButton
        label={`Stops, layers and the rest${target ? `; ink lands on ${target.name}` : ''}`}
        icon={PanelLeft}
        aria-expanded={open}
        chosen={open}
        disabled={!onFlip}
        onPress={onFlip}
      />
      <StepButton side="undo" />
      <StepButton side="redo" />
      {stop.Strip && <stop.Strip />}
    </>
  );
}

const styles = StyleSheet.create({
  all: { position: 'absolute', top: 0, bottom: 0, pointerEvents: 'box-none' },
  fromLeft: { left: 0, flexDirection: 'row' },
  fromRight: { right: 0, flexDirection: 'row-reverse' },
  strip: { flexGrow: 0, borderLeftWidth: 1, borderRightWidth: 1 },
  cells: { flexDirection: 'row', flexWrap: 'wrap', gap: 4, padding: 4 },
  panel: { width: SIDE_PANEL_WIDTH, borderRightWidth: 1, borderLeftWidth: 1 },
  away: { display: 'none' },
  sync: { minHeight: 44, paddingHorizontal: 10, borderWidth: 1, borderRadius: RADIUS, justifyContent: 'center' },
  bottom: { position: 'absolute', right: 0, left: 0, bottom: 0, pointerEvents: 'box-none' },
  zoom: { position: 'absolute', bottom: 8, flexDirection: 'row', gap: 8 },
  atLeft: { left: 8 },
  atRight: { right: 8 },
});
