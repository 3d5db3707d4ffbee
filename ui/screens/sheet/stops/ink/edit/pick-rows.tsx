import { StyleSheet, View } from 'react-native';
import { isInk } from '../../../../../../core/sheet/entities';
import { Button } from '../../../../../components/button';
import { Words } from '../../../../../components/text';
import type { Picking } from '../../../../../session/picking';
import { useAppSelector } from '../../../../../store/store';

/** Ways to pick many lines at once. */
export function PickRows({ picking }: { picking: Picking }) {
  const target = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  const nib = useAppSelector((s) => s.sheet.settings?.nibs[s.pen.nib] ?? 1);
  const colour = useAppSelector((s) => s.pen.colour);
  const like = picking.strokes.find(isInk);
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
          onPress={() => picking.pickAll((s) => isInk(s) && s.pen.sizePx < nib)}
        />
        {picking.count > 0 && <Button label="Nothing" onPress={() => picking.clear()} />}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  group: { gap: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
