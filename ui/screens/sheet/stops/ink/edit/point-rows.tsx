import { ScrollView, StyleSheet, View } from 'react-native';
import type { NodeKind, PathNode } from '../../../../../../core/stroke/path';
import { Button } from '../../../../../components/button';
import { Choice } from '../../../../../components/choice';
import { useOpenSheet } from '../../../../../session/session-context';
import { useLayoutKind } from '../../../frame/layout-kind';
import { useTellings } from '../../../../../components/use-tellings';
import type { Bending } from '../../../../../session/bending';

/** Wider and narrower by this: a step of the ladder of line widths (ISO 128-2). */
const STEP = Math.SQRT2;

/** Tells of the line in the hand, as it is shown. */
export const watchHeld = (bending: Bending, told: () => void) => bending.watchShown(told);

/** Whether a point is chosen, followed. */
export function useChosenPoint() {
  const { bending } = useOpenSheet();
  useTellings(bending, watchHeld);
  return bending.chosenNode === undefined ? undefined : bending.nodes?.[bending.chosenNode];
}

/** What can be said of the chosen point. */
export function PointRows({ point }: { point: PathNode }) {
  const { bending } = useOpenSheet();
  const kind = useLayoutKind();
  const widen = (factor: number, label: string) =>
    void bending.change({ width: Math.min(1, Math.max(0.02, point.width * factor)) }, label);
  const all = (
    <>
      <Choice<NodeKind>
        label="The chosen point is"
        options={[
          { value: 'auto', label: 'Curve' },
          { value: 'corner', label: 'Corner' },
        ]}
        value={point.kind === 'corner' ? 'corner' : 'auto'}
        onChange={(kind) => void bending.change({ kind }, kind === 'corner' ? 'Corner' : 'Curve')}
      />
      <Button label="Wider" disabled={point.width >= 1} onPress={() => widen(STEP, 'Wider')} />
      <Button label="Narrower" onPress={() => widen(1 / STEP, 'Narrower')} />
      <Button label="Take away" disabled={(bending.nodes?.length ?? 0) < 3} onPress={() => void bending.takeAway()} />
    </>
  );
  const about = { role: 'toolbar', 'aria-label': 'The chosen point' } as const;
  // A phone's tray stays as high as it is.
  return kind === 'phone' ? (
    <ScrollView horizontal {...about} contentContainerStyle={styles.row}>
      {all}
    </ScrollView>
  ) : (
    <View {...about} style={[styles.row, styles.wraps]}>
      {all}
    </View>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', gap: 6 }, wraps: { flexWrap: 'wrap' } });
