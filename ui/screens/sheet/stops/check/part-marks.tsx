import { StyleSheet } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useTheme } from '../../../../theme/theme-context';
import { useChecking } from './use-checking';
import { useWays } from './use-ways';

/** The part of the picture that is meant, while ink is held against it. */
export function PartMarks() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const checking = useChecking();
  const part = useWatched(checking.part);
  const finder = useWatched(checking.finder);
  useWatched(useWays().now);
  const isShown = part !== undefined && (finder === 'missed' || finder === 'off');
  useViewOf(stage, isShown);
  if (!stage || !isShown) return null;
  return (
    <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} testID="meant-part" aria-hidden>
      {part.loops.map(
        (loop, i) =>
        <Path key={i} d={`${wayPath(loop, stage)}Z`} fill="none" stroke={theme.accent} strokeWidth={1.5} strokeDasharray="6 5" />, // prettier-ignore
      )}
      {part.ways.map(({ xy, radiusPx }, i) => (
        <Path
          key={i}
          d={`${wayPath(xy, stage)}h0`}
          fill="none"
          stroke={theme.accent}
          strokeOpacity={0.14}
          strokeWidth={2 * radiusPx * stage.view.scale}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
    </Svg>
  );
}

function wayPath(xy: Float64Array, stage: Stage): string {
  const places: string[] = [];
  for (let i = 0; i < xy.length; i += 2)
    places.push(
      stage
        .shown(xy[i], xy[i + 1])
        .map((v) => v.toFixed(1))
        .join(' '),
    );
  return `M${places.join('L')}`;
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none', overflow: 'hidden' } });
