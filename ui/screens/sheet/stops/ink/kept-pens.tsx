import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { nanoid } from 'nanoid';
import { cutText } from '../../../../../core/sheet/words';
import { Button } from '../../../../components/button';
import { NameDialog } from '../../../../components/name-dialog';
import { download, pickText } from '../../../../session/pick-file';
import { MOST_PENS, type KeptPen } from '../../../../store/kept-pen';
import { pensFile, readPensFile } from '../../../../store/pens-file';
import { noticeSlice } from '../../../../store/notice-slice';
import { isChanged, penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector, type AppDispatch, type AppThunk } from '../../../../store/store';
import { keepWay } from '../../../../store/ways-back';
import { nameInHand, PEN_NAMES } from './pen-names';

const { keepPen, keepChanges, renamePen, movePen, deletePen, addPens, resetPen } = penSlice.actions;

/** What can be done with the pen in the hand as a whole: kept under a name, named anew, put in order, deleted; and files. */
export function KeptPenRows() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const [naming, setNaming] = useState<'keep' | 'rename'>();
  const kept = pen.pens.find(({ id }) => id === pen.keptId);
  const changed = isChanged(pen);
  const at = kept ? pen.pens.indexOf(kept) : -1;
  const isFull = pen.pens.length >= MOST_PENS;
  return (
    <View role="group" aria-label="This pen" style={styles.row}>
      {changed && kept && <Button label="Keep the changes" onPress={() => dispatch(keepChanges())} />}
      {changed && (
        <Button
          label={kept ? `${cutText(kept.name, 24)} as it was kept` : `${PEN_NAMES[pen.kind]} as it came`}
          onPress={() => dispatch(resetPen())}
        />
      )}
      <Button
        label={isFull ? `${MOST_PENS} pens are kept, which is all there is room for` : 'Keep as a new pen'}
        disabled={isFull}
        onPress={() => setNaming('keep')}
      />
      {kept && (
        <>
          <Button label="Rename" onPress={() => setNaming('rename')} />
          <Button label="Earlier" disabled={at === 0} onPress={() => dispatch(movePen({ id: kept.id, by: -1 }))} />
          <Button
            label="Later"
            disabled={at === pen.pens.length - 1}
            onPress={() => dispatch(movePen({ id: kept.id, by: 1 }))}
          />
          <Button label="Delete this pen" onPress={() => deleteWithWayBack(dispatch, kept, at)} />
        </>
      )}
      {pen.pens.length > 0 && (
        <Button
          label="Your pens to a file"
          onPress={() => download('pens.json', [pensFile(pen.pens)], 'application/json')}
        />
      )}
      <Button label="Pens from a file" onPress={() => void dispatch(addFromFile())} />
      {naming && (
        <NameDialog
          title={naming === 'keep' ? 'Keep as a new pen' : 'Rename this pen'}
          first={naming === 'keep' && !kept ? `My ${PEN_NAMES[pen.kind].toLowerCase()}` : nameInHand(pen)}
          problem="A pen needs a name."
          onName={(name) => dispatch(naming === 'keep' || !kept ? keepPen(name) : renamePen({ id: kept.id, name }))}
          onClose={() => setNaming(undefined)}
        />
      )}
    </View>
  );
}

function deleteWithWayBack(dispatch: AppDispatch, pen: KeptPen, at: number): void {
  dispatch(deletePen(pen.id));
  const does = keepWay(() => dispatch(addPens({ pens: [pen], at })));
  dispatch(noticeSlice.actions.add({ text: `${pen.name} is deleted.`, action: { label: 'Bring it back', does } }));
}

/** What a chosen file holds is added to the artist's pens; what could not be is said. */
const addFromFile = (): AppThunk => async (dispatch, getState) => {
  const text = await pickText('.json,application/json');
  if (text === undefined) return;
  const read = readPensFile(text, nanoid);
  if (!read || read.pens.length === 0) {
    const why = read?.left ? 'None of the pens in this file can be read' : 'This file holds no pens';
    dispatch(
      noticeSlice.actions.add({ text: `${why}, so nothing was added. Your pens are as they were.`, tone: 'warning' }),
    );
    return;
  }
  const { pens } = getState().pen;
  dispatch(addPens({ pens: read.pens }));
  const added = getState().pen.pens.length - pens.length;
  const lost = read.pens.length - added;
  const parts = [`${counted(added)} added.`];
  if (lost > 0) parts.push(`There was no room for ${counted(lost)}: ${MOST_PENS} can be kept.`);
  if (read.left > 0) parts.push(`${counted(read.left)} could not be read.`);
  dispatch(noticeSlice.actions.add({ text: parts.join(' '), tone: lost + read.left > 0 ? 'warning' : 'plain' }));
};

const counted = (n: number): string => (n === 1 ? '1 pen' : `${n} pens`);

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 } });
