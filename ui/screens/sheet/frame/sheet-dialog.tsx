import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { DrawerAct } from '../../../../contract/requests';
import { paperChanges } from '../../../../core/sheet/paper-change';
import { paperProblem, type PaperSize } from '../../../../core/sheet/paper';
import { MAX_NAME, printable } from '../../../../core/sheet/words';
import { Button } from '../../../components/button';
import { Dialog } from '../../../components/dialog';
import { Field } from '../../../components/field';
import { Words } from '../../../components/text';
import type { WaitingStep } from '../../../session/journal';
import { useOpenSheet } from '../../../session/session-context';
import { useActMutation } from '../../../store/drawer-api';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { describe } from '../../drawer/new-sheet-dialog';

/** What this sheet is: its name, its size, and what could not be kept of it. */
export function SheetDialog({ onClose }: { onClose(): void }) {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const card = useAppSelector((s) => s.sheet.card);
  const [act] = useActMutation();
  const [name, setName] = useState(card?.name ?? '');
  const [size, setSize] = useState({
    width: String(card?.widthPx ?? ''),
    height: String(card?.heightPx ?? ''),
    ppi: String(card?.ppi ?? ''),
  });
  const [problem, setProblem] = useState<string>();
  const [aside, setAside] = useState<WaitingStep[]>([]);
  useEffect(() => {
    void session.setAside().then(setAside);
  }, [session]);
  if (!card) return null;
  const paper: PaperSize = { widthPx: Number(size.width), heightPx: Number(size.height), ppi: Number(size.ppi) };
  const wrong = paperProblem(paper) ?? (printable(name).trim() ? undefined : 'A sheet needs a name.');
  const before: PaperSize = { widthPx: card.widthPx, heightPx: card.heightPx, ppi: card.ppi };
  const isResized = paper.widthPx !== before.widthPx || paper.heightPx !== before.heightPx || paper.ppi !== before.ppi;

  const tryTo = async (what: DrawerAct): Promise<boolean> => {
    const done = await act(what);
    const { message } = (done.error ?? {}) as { message?: string };
    if (done.error) setProblem(`${message ?? 'That could not be changed.'} The sheet is as it was.`);
    return !done.error;
  };
  const change = async () => {
    if (wrong) return;
    const next = printable(name).trim().slice(0, MAX_NAME);
    if (next !== card.name && !(await tryTo({ id: nanoid(), kind: 'rename', sheetId: card.id, name: next }))) return;
    dispatch(sheetSlice.actions.found({ ...card, name: next }));
    if (isResized) {
      const box = { x0: 0, y0: 0, x1: paper.widthPx, y1: paper.heightPx };
      const label = `Paper of ${paper.widthPx} x ${paper.heightPx} px`;
      await session.act(label, paperChanges(session.model, before, { box, scale: 1, ppi: paper.ppi }));
    }
    onClose();
  };
  const drop = async (step: WaitingStep) => {
    await session.dropSetAside(step);
    setAside(await session.setAside());
  };
  return (
    <Dialog title="This sheet" onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        maxLength={MAX_NAME}
        onSubmitEditing={() => void change()}
      />
      <View style={styles.row}>
        {(['width', 'height', 'ppi'] as const).map((key) => (
          <Field
            key={key}
            style={styles.words}
            label={{ width: 'Width, px', height: 'Height, px', ppi: 'ppi' }[key]}
            number="whole"
            value={size[key]}
            onChangeText={(text) => setSize({ ...size, [key]: text })}
            onSubmitEditing={() => void change()}
          />
        ))}
      </View>
      {(wrong ?? problem) ? (
        <Words role="alert">{wrong ?? problem}</Words>
      ) : (
        <Words quiet>
          {`${describe(paper)}.${isResized ? ' What is drawn stays where it is, from the upper left corner; what comes to lie outside is kept.' : ''}`}
        </Words>
      )}
      <Button tone="main" label="Change" disabled={wrong !== undefined} onPress={() => void change()} />
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
