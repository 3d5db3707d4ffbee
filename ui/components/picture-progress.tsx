import { StyleSheet, View } from 'react-native';
import type { PictureProgress } from '../session/bring-picture';
import { RADIUS } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Button } from './button';
import { Words } from './text';

/** How far a picture, or a file being made, has come, with a way to stop it. */
export function ProgressCard({ text, part, onStop }: { text: string; part: number | undefined; onStop(): void }) {
  const theme = useTheme();
  return (
    <View style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.rule }]} role="status">
      <View style={styles.words}>
        <Words>{text}</Words>
        <View
          role="progressbar"
          aria-label={text}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={part === undefined ? undefined : Math.round(part * 100)}
          style={[styles.track, { backgroundColor: theme.rule }]}
        >
          <View style={[styles.bar, { backgroundColor: theme.accent, width: `${Math.round((part ?? 1) * 100)}%` }]} />
        </View>
      </View>
      <Button label="Stop" onPress={onStop} />
    </View>
  );
}

export function PictureProgressCard({
  progress,
  onStop,
}: {
  progress: PictureProgress & { nth?: number; of?: number };
  onStop(): void;
}) {
  const sending = progress.stage === 'sending';
  const { nth, of = 1 } = progress;
  const what = of > 1 ? `picture ${nth} of ${of}` : 'the picture';
  return (
    <ProgressCard
      text={sending ? `Bringing ${what} in, ${Math.round(progress.part * 100)} %` : `Preparing ${what}`}
      part={sending ? progress.part : undefined}
      onStop={onStop}
    />
  );
}

const styles = StyleSheet.create({
  card: { flexDirection: 'row', alignItems: 'center', gap: 12, borderWidth: 1, borderRadius: RADIUS, padding: 10 },
  words: { flex: 1, gap: 6 },
  track: { height: 6, borderRadius: 3, overflow: 'hidden' },
  bar: { height: 6 },
});
