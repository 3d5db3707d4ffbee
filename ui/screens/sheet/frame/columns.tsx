import type { ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import type { Insets } from '../../../canvas/stage';
import { useAppSelector } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { StackPanel } from '../stack/stack-panel';
import { useStop } from '../stops/stop';
import { Floats } from './floats';
import { PaperSigns } from './paper-signs';
import { HushRow } from './hush-row';
import { StopsBar } from './stops-bar';
import { TitleBar } from './title-bar';
import { UncutScroll } from './uncut-scroll';
import { UnfoldChip } from './unfold-chip';

/**
 * Beside the paper: stops, tray and hush row on the holding side, the stack on the other. Folded,
 * they are only hidden: the open stop is a route, which must stay where it is.
 */
export function Columns({ insets, children }: { insets: Insets; children: ReactNode }) {
  const theme = useTheme();
  const stop = useStop();
  const folded = useAppSelector((s) => s.sheet.penNear);
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
          <StopsBar upright />
          <UncutScroll>{children}</UncutScroll>
        </View>
        <HushRow kind="wide" />
      </View>
      <ScrollView style={[column, left ? atLeft : atRight]} contentContainerStyle={styles.inner}>
        <StackPanel />
      </ScrollView>
      {folded ? (
        <FoldedColumns />
      ) : (
        <View style={[styles.bottom, { left: insets.left, right: insets.right }]}>
          <PaperSigns />
          <Floats eraser={stop.tool !== undefined} />
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
        <PaperSigns />
        <UnfoldChip />
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  bottom: { position: 'absolute', left: 0, right: 0, bottom: 0, pointerEvents: 'box-none' },
  across: { flex: 1, flexDirection: 'row' },
  mirrored: { flexDirection: 'row-reverse' },
  column: { position: 'absolute', bottom: 0, borderRightWidth: 1, borderLeftWidth: 1 },
  away: { display: 'none' },
  atLeft: { left: 0 },
  atRight: { right: 0 },
  inner: { padding: 12, gap: 12 },
  holding: { position: 'absolute', top: 0, bottom: 0, justifyContent: 'center', pointerEvents: 'box-none' },
});
