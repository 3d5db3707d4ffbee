import { StyleSheet } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { useTheme } from '../../../../theme/theme-context';
import { usePouring } from './use-pouring';

/** Points of a border nearer to each other than this are one, CSS px. */
const LEAST_STEP_PX = 0.7;

/** The shapes under the pen, in the colour that they will have, or the loop around them. */
export function HeldShapes() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const pouring = usePouring();
  const held = useWatched(pouring.held);
  const colour = useAppSelector((s) => s.colouring.colour);
  const lasso = useWatched(pouring.lasso);
  useViewOf(stage, held.length > 0 || lasso.length > 0);
  if (!stage || (!held.length && !lasso.length)) return null;
  const path = held.flatMap((rings) => rings.map((ring) => ringPath(ring, stage))).join('');
  return (
    <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} testID="held-shapes" aria-hidden>
      <Path d={path} fill={colour} fillOpacity={0.8} fillRule="evenodd" />
      <Path d={path} fill="none" stroke={theme.accent} strokeWidth={1.5} />
      {lasso.length > 1 && (
        <Path
          d={`M${lasso.map((at) => stage.shown(...at).join(' ')).join('L')}`}
          fill="none"
          stroke={theme.accent}
          strokeWidth={2}
          strokeDasharray="6 5"
        />
      )}
    </Svg>
  );
}

function ringPath(ring: Float64Array, stage: Stage): string {
  const places: string[] = [];
  let [lx, ly] = [Infinity, Infinity];
  for (let i = 0; i < ring.length; i += 2) {
    const [x, y] = stage.shown(ring[i], ring[i + 1]);
    if (Math.abs(x - lx) + Math.abs(y - ly) < LEAST_STEP_PX) continue;
    [lx, ly] = [x, y];
    places.push(`${x.toFixed(1)} ${y.toFixed(1)}`);
  }
  return places.length > 2 ? `M${places.join('L')}Z` : '';
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none', overflow: 'hidden' } });
