import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { Developing } from '../../../../canvas/picture-store';
import { Button } from '../../../../components/button';
import { ProgressCard } from '../../../../components/picture-progress';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { usePicture } from './use-pictures';

/** What takes no longer says nothing of itself. */
const TOLD_AFTER_MS = 400;

/** A picture that takes long to be worked out: how far it is, a way to stop, and to finish it after all. */
export function DevelopingCard() {
  const theme = useTheme();
  const pictures = useOpenSheet().session.stage?.pictures;
  const recipe = usePicture()?.recipe;
  const [work, setWork] = useState<Developing>();
  const [stoppedAt, setStoppedAt] = useState<unknown>();
  useEffect(() => {
    if (!pictures) return;
    let began: number | undefined;
    return pictures.watchDeveloping((now) => {
      if (!now) began = undefined;
      else began ??= performance.now();
      setWork(began !== undefined && performance.now() - began > TOLD_AFTER_MS ? now : undefined);
    });
  }, [pictures]);
  const card = (part: React.ReactNode) => <View style={styles.place}>{part}</View>;
  if (work)
    return card(
      <ProgressCard
        text={`Working the picture out, ${Math.round(work.part * 100)} %`}
        part={work.part}
        onStop={() => {
          work.stop();
          setStoppedAt(recipe);
        }}
      />,
    );
  if (stoppedAt === undefined || stoppedAt !== recipe) return null;
  const finish = () => {
    pictures?.finish();
    setStoppedAt(undefined);
  };
  return card(
    <View style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.rule }]} role="status">
      <Words style={styles.words}>Stopped: shown coarsely. What was done is kept.</Words>
      <Button label="Finish it" onPress={finish} />
    </View>,
  );
}

const styles = StyleSheet.create({
  place: { position: 'absolute', top: 64, left: 12, right: 12, alignItems: 'center', pointerEvents: 'box-none' },
  card: { flexDirection: 'row', alignItems: 'center', gap: 12, borderWidth: 1, borderRadius: RADIUS, padding: 10 },
  words: { flexShrink: 1 },
});
