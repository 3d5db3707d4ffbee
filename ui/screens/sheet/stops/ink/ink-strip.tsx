import { StyleSheet, View } from 'react-native';
import { BLACK, WHITE } from '../../../../store/pen-slice';
import { useAppSelector } from '../../../../store/store';
import { EraserButton } from '../../frame/eraser-button';
import { PeekButton } from '../../frame/peek-button';
import { LayerThumb } from '../../stack/layer-thumb';
import { ColourChips } from './colour-chips';
import { Nibs } from './ink-tray';
import { SteadyChip } from './steady-chip';

/** What inking needs every minute, for the slim strip of a phone on its side. */
export function InkStrip() {
  const target = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  return (
    <>
      <EraserButton />
      <PeekButton slim />
      <View style={styles.wide}>
        <Nibs wrap />
      </View>
      <View style={styles.wide}>
        <ColourChips colours={[BLACK, WHITE]} wrap />
      </View>
      <View style={styles.cell}>{target && <LayerThumb layer={target} size={40} />}</View>
      <SteadyChip />
    </>
  );
}

const styles = StyleSheet.create({
  cell: { width: 44, height: 44, alignItems: 'center', justifyContent: 'center' },
  wide: { width: 92 },
});
