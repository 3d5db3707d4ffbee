import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Redo2 from 'lucide-react-native/icons/redo-2';
import Undo2 from 'lucide-react-native/icons/undo-2';
import { IconButton } from '../../../components/button';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { KEY_NAMES } from '../key-names';
import { watchStepDrag, type StepDrag } from './step-drag';

const NAMED = 6;

/** Undo or redo: a tap takes one step, dragging along it goes through the steps by name. */
export function StepButton({ side }: { side: 'undo' | 'redo' }) {
  const { session } = useOpenSheet();
  const { count, label } = useAppSelector((s) => s.sheet[side]);
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const button = useRef<View>(null);
  const [drag, setDrag] = useState<StepDrag>();
  const word = side === 'undo' ? 'Undo' : 'Redo';

  useEffect(
    () =>
      watchStepDrag(button.current as unknown as HTMLElement, {
        available: () => session.history[side].length,
        show: setDrag,
        take: (steps) => {
          for (let i = 0; i < steps; i++) void session[side]();
        },
      }),
    [session, side],
  );

  return (
    <View>
      {drag && <StepList side={side} drag={drag} atRight={left} />}
      <View ref={button} style={styles.touch}>
        <IconButton
          label={label ? `${word}: ${label}` : word}
          keys={KEY_NAMES[side]}
          icon={side === 'undo' ? Undo2 : Redo2}
          disabled={count === 0}
          onPress={() => void session[side]()}
        />
      </View>
    </View>
  );
}

/** The steps that letting go would take, by name. */
function StepList({ side, drag, atRight }: { side: 'undo' | 'redo'; drag: StepDrag; atRight: boolean }) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const steps = drag.kind === 'steps' ? drag.steps : 0;
  const names = session.stepNames(side, Math.max(steps, 1));
  const word = side === 'undo' ? 'Undo' : 'Redo';
  const title = steps === 0 ? 'Nothing: let go' : `${word} ${steps} ${steps === 1 ? 'step' : 'steps'}`;
  return (
    <View
      role="status"
      style={[
        styles.list,
        atRight ? styles.atRight : styles.atLeft,
        { backgroundColor: theme.raised, borderColor: theme.rule },
      ]}
    >
      <Words strong size={14}>
        {title}
      </Words>
      {steps > 0 &&
        names.slice(-NAMED).map((name, i) => (
          <Words key={i} size={14} quiet numberOfLines={1}>
            {name}
          </Words>
        ))}
    </View>
  );
}

const styles = StyleSheet.create({
  touch: { touchAction: 'none' } as object,
  list: { position: 'absolute', bottom: 52, width: 200, padding: 10, gap: 2, borderWidth: 1, borderRadius: RADIUS },
  atLeft: { left: 0 },
  atRight: { right: 0 },
});
