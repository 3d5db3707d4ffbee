import { StyleSheet, View } from 'react-native';
import MoveHorizontal from 'lucide-react-native/icons/move-horizontal';
import { DragHandle } from '../../../../components/drag-handle';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useTheme } from '../../../../theme/theme-context';
import { useWays } from './use-ways';

const KEY_STEP = 0.02;

/** The line that parts the picture, to its left, from the ink. */
export function CurtainOverPaper() {
  const theme = useTheme();
  const ways = useWays();
  const { stage } = useOpenSheet().session;
  const at = useWatched(ways.curtain);
  const { apart } = useWatched(ways.now);
  if (apart !== 'curtain' || !stage) return null;
  const { x0, x1, y0, y1 } = stage.free();
  const x = ways.curtainPx();
  const drag = (box: () => DOMRect) => {
    const move = (place: { x: number }) => ways.draw((place.x - box().left - x0) / (x1 - x0));
    return { move, end: move, drop: () => undefined };
  };
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="curtain">
      <View style={[styles.line, { left: x - 1, backgroundColor: theme.accent }]} />
      <DragHandle
        at={[x, y0 + (y1 - y0) * 0.5]}
        label={`Drag the curtain: the picture to its left, ${Math.round(at * 100)} % of the paper's room; arrow keys move it`}
        drag={drag}
        onStep={(dx) => ways.draw(at + dx * KEY_STEP)}
      >
        <View style={[styles.knob, { backgroundColor: theme.raised, borderColor: theme.accent }]}>
          <MoveHorizontal size={18} color={theme.accent} />
        </View>
      </DragHandle>
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  line: { position: 'absolute', top: 0, bottom: 0, width: 2 },
  knob: { width: 34, height: 34, borderRadius: 17, borderWidth: 2, alignItems: 'center', justifyContent: 'center' },
});
