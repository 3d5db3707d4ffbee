import { StyleSheet, View } from 'react-native';
import { isInk } from '../../../../../../core/sheet/entities';
import { Button } from '../../../../../components/button';
import { Choice } from '../../../../../components/choice';
import { Words } from '../../../../../components/text';
import { sizeOnPaper, type Picking } from '../../../../../session/picking';
import { penSlice, type LoopTakes } from '../../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';

const LOOP_TAKES: { value: LoopTakes; label: string }[] = [
  { value: 'lines', label: 'Lines' },
  { value: 'colour', label: 'Colour' },
  { value: 'both', label: 'Both' },
];

/** Ways to pick many lines at once. */
export function PickRows({ picking }: { picking: Picking }) {
  const target = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  const nib = useAppSelector((s) => s.sheet.settings?.nibs[s.pen.nib] ?? 1);
  const colour = useAppSelector((s) => s.pen.colour);
  const like = picking.strokes.find(isInk);
  const takes = useAppSelector((s) => s.pen.loopTakes);
  const dispatch = useAppDispatch();
  return (
    <View style={styles.group}>
      <Words size={14}>Pick</Words>
      <View style={styles.row}>
        <Button
          label={target ? `All on ${target.name}` : 'All on a layer'}
          disabled={!target}
          onPress={() => picking.pickAll((s) => s.layerId === target!.id)}
        />
        <Button
          label={like ? 'All of its colour' : 'All of the pen’s colour'}
          onPress={() => picking.pickAll((s) => isInk(s) && s.colour === (like?.colour ?? colour))}
        />
        <Button
          label={`All thinner than ${nib} px`}
          onPress={() => picking.pickAll((s) => isInk(s) && !s.pour && sizeOnPaper(s) < nib)}
        />
        {picking.count > 0 && <Button label="Nothing" onPress={() => picking.clear()} />}
      </View>
      <Words size={14}>A loop takes</Words>
      <Choice
        label="What a loop takes"
        options={LOOP_TAKES}
        value={takes}
        onChange={(one) => dispatch(penSlice.actions.setLoopTakes(one))}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  group: { gap: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
