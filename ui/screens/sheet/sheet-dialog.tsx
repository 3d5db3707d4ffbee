import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { pxToMm } from '../../../core/sheet/paper';
import { MAX_NAME, printable } from '../../../core/sheet/words';
import { Button } from '../../components/button';
import { Dialog } from '../../components/dialog';
import { Field } from '../../components/field';
import { Words } from '../../components/text';
import type { WaitingStep } from '../../sheet/journal';
import { useOpenSheet } from '../../sheet/session-context';
import { useActMutation } from '../../store/drawer-api';
import { sheetSlice } from '../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';

/** What this sheet is: its name, its size, and what could not be kept of it. */
export function SheetDialog({ onClose }: { onClose(): void }) {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const card = useAppSelector((s) => s.sheet.card);
  const [act] = useActMutation();
  const [name, setName] = useState(card?.name ?? '');
  const [problem, setProblem] = useState<string>();
  const [aside, setAside] = useState<WaitingStep[]>([]);
  useEffect(() => {
    void session.setAside().then(setAside);
  }, [session]);
  if (!card) return null;
  const rename = async () => {
    const next = printable(name).trim().slice(0, MAX_NAME);
    if (!next) return setProblem('A sheet needs a name.');
    const done = await act({ id: nanoid(), kind: 'rename', sheetId: card.id, name: next });
    if (done.error) {
      const { message } = done.error as { message?: string };
      return setProblem(`${message ?? 'The name could not be changed.'} The old one stands.`);
    }
    dispatch(sheetSlice.actions.found({ ...card, name: next }));
    onClose();
  };
  const drop = async (step: WaitingStep) => {
    await session.dropSetAside(step);
    setAside(await session.setAside());
  };
  const mm = (px: number) => pxToMm(px, card.ppi).toFixed(0);
  return (
    <Dialog title="This sheet" onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        problem={problem}
        maxLength={MAX_NAME}
        onSubmitEditing={() => void rename()}
      />
      <Words quiet>
        {`${card.widthPx}\u00a0×\u00a0${card.heightPx}\u00a0px, ${mm(card.widthPx)}\u00a0×\u00a0${mm(card.heightPx)}\u00a0mm at ${card.ppi}\u00a0ppi`}
      </Words>
      <Button tone="main" label="Rename" onPress={() => void rename()} />
      {aside.length > 0 && (
        <View style={styles.aside}>
          <Words strong>Set aside on this device</Words>
          <Words quiet>The server did not take these steps. They are not in the drawing.</Words>
          {aside.map((waiting) => (
            <View key={waiting.n} style={styles.row}>
              <Words style={styles.words}>{`${waiting.step.label}: ${waiting.setAside ?? ''}`}</Words>
              <Button label="Drop" aria-label={`Drop ${waiting.step.label}`} onPress={() => void drop(waiting)} />
            </View>
          ))}
        </View>
      )}
    </Dialog>
  );
}

const styles = StyleSheet.create({
  aside: { gap: 8 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  words: { flex: 1 },
});
