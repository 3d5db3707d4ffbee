import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Check from 'lucide-react-native/icons/check';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import { newPaperSize } from '../../../../../core/sheet/paper-change';
import { Button, IconButton } from '../../../../components/button';
import { ColourRow } from '../../../../components/colour-row';
import { Field } from '../../../../components/field';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { useWatched } from '../../../../session/watched';
import { describe } from '../../../drawer/new-sheet-dialog';
import { useAppSelector } from '../../../../store/store';
import { usePaperEdit } from './use-paper-edit';

const COLOURS = ['#ffffff', '#f6f1e7', '#e9e4d8', '#d9d9d9', '#9aa0a6', '#23272f', '#000000'];

/** The sheet's own paper: its edges are dragged over it, its size and colour set here. */
export function PaperRows() {
  const edit = usePaperEdit();
  const card = useAppSelector((s) => s.sheet.card);
  const colour = useAppSelector((s) => s.sheet.settings?.paperColour);
  const draft = useWatched(edit.draft);
  const scales = useWatched(edit.scales);
  useEffect(() => {
    edit.begin();
    return () => edit.drop();
    // Opened anew with another paper, it begins anew.
  }, [edit, card?.widthPx, card?.heightPx, card?.ppi]);
  if (!draft) return null;
  const size = newPaperSize(draft);
  const { problem } = edit;
  return (
    <>
      <Words role="status" size={15}>
        {describe(size)}
      </Words>
      <View style={styles.line}>
        <NumberField label="Width, px" value={size.widthPx} onSet={(px) => edit.setSize('width', px)} />
        <NumberField label="Height, px" value={size.heightPx} onSet={(px) => edit.setSize('height', px)} />
        <NumberField label="ppi" value={size.ppi} onSet={(ppi) => edit.setPpi(ppi)} />
      </View>
      <Toggle label="Scale everything on it along" on={scales} onChange={(on) => edit.setScales(on)} />
      {problem ? (
        <Words role="alert">{problem}</Words>
      ) : (
        <Words size={14} quiet>
          Drag the edges over the paper. What comes to lie outside is kept, and is there again when the paper grows.
        </Words>
      )}
      <View style={styles.line}>
        <Button
          tone="main"
          icon={Check}
          label="Change the paper"
          disabled={!edit.isChanged || problem !== undefined}
          style={styles.grow}
          onPress={() => void edit.keep()}
        />
        <IconButton label="The paper as it is" icon={RotateCcw} onPress={() => edit.begin()} />
      </View>
      <Words size={14}>Colour of the paper</Words>
      <ColourRow
        label="Colour of the paper"
        colours={colour && !COLOURS.includes(colour) ? [...COLOURS, colour] : COLOURS}
        taken={colour}
        wrap
        onTake={(taken) => void edit.setColour(taken)}
      />
    </>
  );
}

/** A whole number that is taken over when it is done. */
function NumberField({ label, value, onSet }: { label: string; value: number; onSet(value: number): void }) {
  const [typed, setTyped] = useState<string>();
  const take = () => {
    if (typed !== undefined && typed.trim()) onSet(Number(typed));
    setTyped(undefined);
  };
  return (
    <Field
      label={label}
      number="whole"
      value={typed ?? String(value)}
      style={styles.field}
      onChangeText={setTyped}
      onBlur={take}
      onSubmitEditing={take}
    />
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
  grow: { flexGrow: 1 },
  field: { flexBasis: 76, flexGrow: 1, maxWidth: 180 },
});
