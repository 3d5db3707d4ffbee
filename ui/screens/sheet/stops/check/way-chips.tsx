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
    <Button
      key="lines"
      label="Lines only"
      chosen={peekKept}
      disabled={!hasScaffolding}
      onPress={() => lookAt(!peekKept, undefined)}
    />,
    <Button
      key="beside"
      label="Beside"
      aria-label="Beside: picture and ink next to each other"
      chosen={apart === 'beside'}
      disabled={!hasPicture}
      onPress={() => toggleApart('beside')}
    />,
    <Button
      key="curtain"
      label="Curtain"
      aria-label="Curtain: picture and ink parted by a line to drag"
      chosen={apart === 'curtain'}
      disabled={!hasPicture}
      onPress={() => toggleApart('curtain')}
    />,
    <Button key="mirror" label="Mirror" chosen={mirrored} onPress={() => ways.change({ mirrored: !mirrored })} />,
    <Button
      key="squint"
      label="Squint"
      aria-label="Squint: grey and blurred"
      chosen={squint}
      onPress={() => ways.change({ squint: !squint })}
    />,
    <Button
      key="loud"
      label="Loud"
      aria-label="Loud: all ink in one bright colour"
      chosen={loud}
      onPress={() => ways.change({ loud: !loud })}
    />,
  ];
  const group = (
    <View role="group" aria-label="Ways of looking" style={[styles.group, kind === 'phone' && styles.row]}>
      {chips}
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
