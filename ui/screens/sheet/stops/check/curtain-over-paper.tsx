import { StyleSheet, View } from 'react-native';
import { PartingLine } from '../../../../components/parting-line';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useWays } from './use-ways';

const KEY_STEP = 0.02;

/** The line that parts the picture, to its left, from the ink. */
export function CurtainOverPaper() {
  const ways = useWays();
  const { stage } = useOpenSheet().session;
  const at = useWatched(ways.curtain);
  const { apart } = useWatched(ways.now);
  if (apart !== 'curtain' || !stage) return null;
  const { x0, x1, y0, y1 } = stage.free();
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="curtain">
      <PartingLine
        x={ways.curtainPx()}
        y={(y0 + y1) / 2}
        label={`Drag the curtain: the picture to its left, ${Math.round(at * 100)} % of the paper's room; arrow keys move it`}
        onMove={(x) => ways.draw((x - x0) / (x1 - x0))}
        onStep={(steps) => ways.draw(at + steps * KEY_STEP)}
      />
    </View>
  );
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
