import { ScrollView, StyleSheet, View } from 'react-native';
import { isScaffolding } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { useWatched } from '../../../../session/watched';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { useWays } from './use-ways';

/** Ways of looking, each on and off at a touch; picture and ink are looked at apart in one way at a time. */
export function WayChips() {
  const dispatch = useAppDispatch();
  const kind = useLayoutKind();
  const ways = useWays();
  const { apart, mirrored, squint, loud } = useWatched(ways.now);
  const { peekKept } = useAppSelector((s) => s.sheet.looking);
  const hasScaffolding = useAppSelector((s) => s.sheet.stack.some(isScaffolding));
  const hasPicture = useAppSelector((s) => s.sheet.stack.some((l) => l.kind === 'reference' && !l.beside));
  const lookAt = (away: boolean, next: typeof apart) => {
    dispatch(sheetSlice.actions.look({ peekKept: away }));
    ways.change({ apart: next });
  };
  const toggleApart = (way: 'beside' | 'curtain') => lookAt(false, apart === way ? undefined : way);
  const chips = [
    { label: 'Lines only', on: peekKept, able: hasScaffolding, press: () => lookAt(!peekKept, undefined) },
    { label: 'Beside', about: 'picture and ink next to each other', on: apart === 'beside', able: hasPicture, press: () => toggleApart('beside') },
    { label: 'Curtain', about: 'picture and ink parted by a line to drag', on: apart === 'curtain', able: hasPicture, press: () => toggleApart('curtain') },
    { label: 'Mirror', on: mirrored, press: () => ways.change({ mirrored: !mirrored }) },
    { label: 'Squint', about: 'grey and blurred', on: squint, press: () => ways.change({ squint: !squint }) },
    { label: 'Loud', about: 'all ink in one bright colour', on: loud, press: () => ways.change({ loud: !loud }) },
  ]; // prettier-ignore
  const group = (
    <View role="group" aria-label="Ways of looking" style={[styles.group, kind === 'phone' && styles.row]}>
      {chips.map(({ label, about, on, able = true, press }) => (
        <Button
          key={label}
          label={label}
          aria-label={about ? `${label}: ${about}` : label}
          chosen={on}
          disabled={!able}
          onPress={press}
        />
      ))}
    </View>
  );
  if (kind !== 'phone') return group;
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.scroll}>
      {group}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  row: { flexWrap: 'nowrap' },
  scroll: { flexGrow: 0 },
});
