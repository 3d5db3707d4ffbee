import { StyleSheet, View } from 'react-native';
import MoveHorizontal from 'lucide-react-native/icons/move-horizontal';
import { useTheme } from '../theme/theme-context';
import { DragHandle } from './drag-handle';
import type { Place } from './use-drag';

/** An upright line over something, which parts it in two: dragged by its knob, and moved by arrow keys. */
export function PartingLine({
  x,
  y,
  label,
  onMove,
  onStep,
}: {
  /** Where it stands, and its knob on it, CSS px of what is around it. */
  x: number;
  y: number;
  /** Begins with "Drag". */
  label: string;
  /** Dragged to there, and how wide what is around it is, CSS px. */
  onMove(x: number, width: number): void;
  /** An arrow key: one step to the right. */
  onStep(steps: number): void;
}) {
  const theme = useTheme();
  const drag = (box: () => DOMRect) => {
    const move = (place: Place) => onMove(place.x - box().left, box().width);
    return { move, end: move, drop: () => undefined };
  };
  return (
    <>
      <View style={[styles.line, { left: x - 1, backgroundColor: theme.accent }]} />
      <DragHandle at={[x, y]} label={label} drag={drag} onStep={onStep}>
        <View style={[styles.knob, { backgroundColor: theme.raised, borderColor: theme.accent }]}>
          <MoveHorizontal size={18} color={theme.accent} />
        </View>
      </DragHandle>
    </>
  );
}

const styles = StyleSheet.create({
  line: { position: 'absolute', top: 0, bottom: 0, width: 2, pointerEvents: 'none' },
  knob: { width: 34, height: 34, borderRadius: 17, borderWidth: 2, alignItems: 'center', justifyContent: 'center' },
});
