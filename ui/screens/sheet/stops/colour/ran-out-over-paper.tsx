import Locate from 'lucide-react-native/icons/locate';
import X from 'lucide-react-native/icons/x';
import { StyleSheet, View } from 'react-native';
import { useViewOf } from '../../../../canvas/use-view-of';
import { Button, IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { colouringSlice } from '../../../../store/colouring-slice';
import { useAppDispatch } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { usePouring } from './use-pouring';

const RING = 30;
const TAG = 88;

/** Where colour would run out of a shape, and what can be done about it. */
export function RanOutOverPaper() {
  const pouring = usePouring();
  const question = useWatched(pouring.runningOut.question);
  return question ? (
    <>
      <RanOutMarks />
      <RanOutCard />
    </>
  ) : null;
}

function RanOutMarks() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const { runningOut } = usePouring();
  useViewOf(stage, true);
  if (!stage) return null;
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden testID="ran-out-marks">
      {runningOut.leaks().map(({ x, y }, n) => {
        const [sx, sy] = stage.shown(x, y);
        const { width, height } = stage.size;
        if (sx < -RING || sy < -RING || sx > width + RING || sy > height + RING) return null;
        return (
          <View key={n} style={[styles.mark, { left: sx - RING / 2, top: sy - RING / 2 }]}>
            <View style={[styles.ring, { borderColor: theme.warning }]} />
            <View
              style={[
                styles.tag,
                sx > width - RING - TAG ? styles.before : styles.after,
                { backgroundColor: theme.warning },
              ]}
            >
              <Words size={12} strong style={{ color: theme.onWarning }} numberOfLines={1}>
                Ran out here
              </Words>
            </View>
          </View>
        );
      })}
    </View>
  );
}

function RanOutCard() {
  const theme = useTheme();
  const pouring = usePouring();
  const dispatch = useAppDispatch();
  const { runningOut } = pouring;
  const { way, isLoop, rest } = useWatched(runningOut.question)!;
  const pours = (does: Promise<boolean>) =>
    void does.then((isPoured) => isPoured && dispatch(colouringSlice.actions.used(way.colour)));
  return (
    <View style={styles.place}>
      <View
        role="group"
        aria-label="Colour would run out"
        style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.warning }]}
      >
        <View style={styles.line}>
          <View style={styles.words} role="status">
            <Words>{runningOut.words()}</Words>
          </View>
          <IconButton
            label="Show where it runs out"
            icon={Locate}
            boxed={false}
            onPress={() => runningOut.showNext()}
          />
          <IconButton label="Pour nothing" icon={X} boxed={false} onPress={() => pouring.letGo()} />
        </View>
        <View style={[styles.line, styles.wraps]}>
          <Button tone="main" label="Bridge and pour" onPress={() => pours(pouring.bridgeAndPour())} />
          {rest.length > 0 && (
            <Button
              label={isLoop ? 'Pour the closed ones' : 'Pour all the same'}
              onPress={() => pours(pouring.pourAllTheSame())}
            />
          )}
        </View>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none', overflow: 'hidden' },
  mark: { position: 'absolute', width: RING, height: RING },
  ring: { width: RING, height: RING, borderRadius: RING / 2, borderWidth: 2 },
  tag: { position: 'absolute', top: -12, width: TAG, alignItems: 'center', borderRadius: 4 },
  after: { left: RING - 4 },
  before: { right: RING - 4 },
  place: { position: 'absolute', top: 64, left: 12, right: 12, alignItems: 'center', pointerEvents: 'box-none' },
  card: { maxWidth: 460, gap: 8, borderWidth: 1, borderRadius: RADIUS, padding: 10 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  wraps: { flexWrap: 'wrap' },
  words: { flexShrink: 1, flexGrow: 1 },
});
