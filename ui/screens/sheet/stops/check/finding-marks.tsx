import { Pressable, StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { useChecking } from './use-checking';
import { useWays } from './use-ways';

const RING = 30;
/** More at once would cover the drawing: those around the one that is looked at. */
const MOST_SHOWN = 60;
const MOST_STRETCHES = 400;
const STRETCH_STEP_PX = 3;

/** The findings' numbers on the paper; touched, one is looked at. */
export function FindingMarks() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const checking = useChecking();
  const finder = useWatched(checking.finder);
  const at = useWatched(checking.at);
  useWatched(checking.found);
  useWatched(useWays().now);
  useViewOf(stage, finder !== undefined);
  if (!finder || !stage) return null;
  const { width, height } = stage.size;
  const first = Math.max(0, at - MOST_SHOWN / 2);
  const marks = checking
    .findings()
    .slice(first, first + MOST_SHOWN)
    .map((finding, n) => ({ n: first + n, finding, place: stage.shown(finding.x, finding.y) }))
    .filter(({ place: [x, y] }) => x > -RING && y > -RING && x < width + RING && y < height + RING);
  const stretches = checking
    .findings()
    .slice(0, MOST_STRETCHES)
    .flatMap(({ points }) => pathOf(points, stage))
    .join('');
  return (
    <>
      {stretches !== '' && (
        <Svg
          width="100%"
          height="100%"
          style={[StyleSheet.absoluteFill, styles.passes]}
          testID="missed-edges"
          aria-hidden
        >
          <Path d={stretches} stroke="#FFFFFF" strokeOpacity={0.7} strokeWidth={4} fill="none" />
          <Path d={stretches} stroke={theme.warning} strokeWidth={1.5} strokeDasharray="4 3" fill="none" />
        </Svg>
      )}
      <View style={[StyleSheet.absoluteFill, styles.passes]} role="list" aria-label="Findings on the paper">
        {marks.map(({ n, finding, place: [x, y] }) => {
          const isNow = n === at;
          return (
            <View key={n} role="listitem" style={[styles.mark, { left: x - TOUCH / 2, top: y - TOUCH / 2 }]}>
              <Pressable
                role="button"
                aria-label={`Finding ${n + 1}: ${finding.words}`}
                aria-pressed={isNow}
                style={styles.touch}
                onPress={() => checking.goTo(n)}
              >
                <View style={[styles.ring, { borderColor: theme.warning }, !isNow && styles.other]} />
                <View style={[styles.tag, { backgroundColor: theme.warning }]}>
                  <Words size={12} strong style={{ color: theme.onWarning }}>
                    {n + 1}
                  </Words>
                </View>
              </Pressable>
            </View>
          );
        })}
      </View>
    </>
  );
}

/** A stretch on the stage, if any of it is in sight; every few px, which is as smooth. */
function pathOf(points: Float64Array | undefined, stage: Stage): string[] {
  if (!points) return [];
  const { width, height } = stage.size;
  const step = 2 * Math.max(1, Math.round(STRETCH_STEP_PX / stage.view.scale));
  const places: string[] = [];
  let isSeen = false;
  for (let i = 0; i < points.length; i += step) {
    const [x, y] = stage.shown(points[i], points[i + 1]);
    isSeen ||= x > 0 && y > 0 && x < width && y < height;
    places.push(`${x.toFixed(1)} ${y.toFixed(1)}`);
  }
  return isSeen && places.length > 1 ? [`M${places.join('L')}`] : [];
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none', overflow: 'hidden' },
  mark: { position: 'absolute', width: TOUCH, height: TOUCH, pointerEvents: 'auto' },
  touch: { flex: 1, alignItems: 'center', justifyContent: 'center' },
  ring: { width: RING, height: RING, borderRadius: RING / 2, borderWidth: 2 },
  other: { borderStyle: 'dashed' },
  tag: {
    position: 'absolute',
    left: TOUCH - 10,
    top: -6,
    minWidth: 20,
    paddingHorizontal: 4,
    borderRadius: 4,
    alignItems: 'center',
  },
});
