import { StyleSheet, View } from 'react-native';
import Svg, { Circle, Rect } from 'react-native-svg';
import { useViewOf } from '../../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../../session/session-context';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../../../theme/theme';
import { useTellings } from '../../../../../components/use-tellings';
import { watchHeld } from './point-rows';

/** The places at which the line in the hand is held. */
export function BendDots() {
  const { session, bending } = useOpenSheet();
  const { stage } = session;
  useViewOf(stage);
  useTellings(bending, watchHeld);
  const { nodes } = bending;
  if (!stage || !nodes) return null;
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="bend-dots" aria-hidden>
      <Svg width="100%" height="100%" style={StyleSheet.absoluteFill}>
        {nodes.map(({ x, y, kind }, i) => {
          const [cx, cy] = stage.toScreen(x, y);
          const fill = i === bending.chosenNode ? ON_PAPER : ON_PAPER_EDGE;
          const look = { fill, stroke: ON_PAPER, strokeWidth: 2 };
          return kind === 'corner' ? (
            <Rect key={i} x={cx - 4.5} y={cy - 4.5} width={9} height={9} {...look} />
          ) : (
            <Circle key={i} cx={cx} cy={cy} r={5} {...look} />
          );
        })}
      </Svg>
    </View>
  );
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
