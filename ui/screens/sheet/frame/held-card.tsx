import { StyleSheet, View } from 'react-native';
import { isInkable } from '../../../../core/sheet/entities';
import { Button } from '../../../components/button';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { landing } from '../../../session/inking';
import { useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';

/** Ink that found no layer stays on the paper, pale; this says why, and offers the ways out. */
export function HeldCard() {
  const theme = useTheme();
  const { session, inking } = useOpenSheet();
  const held = useAppSelector((s) => s.sheet.held);
  const target = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  if (!held.length) return null;
  const { obstacle } = landing(session);
  const name = target?.name ?? '';
  const what = held.length === 1 ? 'This line is' : `These ${held.length} lines are`;
  const reason = !isInkable(target)
    ? `${what} kept: there is no layer for ink.`
    : obstacle === 'locked'
      ? `${what} kept: ${name} is locked.`
      : obstacle === 'hidden'
        ? `${what} kept: ${name} is hidden.`
        : `${what} kept.`;
  const open = obstacle === 'locked' ? `Unlock ${name}` : obstacle === 'hidden' ? `Show ${name}` : `Put on ${name}`;
  return (
    <View role="alert" style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.warning }]}>
      <Words>{reason}</Words>
      <View style={styles.ways}>
        {isInkable(target) && <Button tone="main" label={open} onPress={() => void inking.openTarget()} />}
        <Button
          label={held.length === 1 ? 'New layer for it' : 'New layer for them'}
          onPress={() => void inking.newLayerForHeld()}
        />
        <Button label={held.length === 1 ? 'Drop it' : 'Drop them'} onPress={() => void inking.dropHeld()} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  card: { margin: 10, padding: 12, gap: 10, borderWidth: 1, borderRadius: RADIUS, maxWidth: 460, alignSelf: 'center' },
  ways: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
