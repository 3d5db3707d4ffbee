import { StyleSheet, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { IconButton } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { SAMPLE_SIZES } from '../../../../session/colour-picker';
import { useWatched } from '../../../../session/watched';
import { colouringSlice } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { usePouring } from './use-pouring';

/** While a colour is taken: of what, and how large the sample is. */
export function PickRow() {
  const dispatch = useAppDispatch();
  const { picker } = usePouring();
  const picking = useAppSelector((s) => s.colouring.picking) ?? 'picture';
  const size = useWatched(picker.size);
  return (
    <View style={styles.line}>
      <IconButton
        label="Take no colour"
        icon={X}
        onPress={() => dispatch(colouringSlice.actions.set({ picking: null }))}
      />
      <Choice
        label="Take the colour of"
        scrolls
        options={[
          { value: 'picture', label: 'Picture' },
          { value: 'sheet', label: 'Drawing' },
        ]}
        value={picking}
        onChange={(value) => dispatch(colouringSlice.actions.set({ picking: value }))}
      />
      <Choice
        label="Size of the sample"
        scrolls
        options={SAMPLE_SIZES.map((px) => ({ value: String(px), label: px === 1 ? '1 px' : String(px) }))}
        value={String(size)}
        onChange={(value) => picker.size.set(Number(value))}
      />
    </View>
  );
}

const styles = StyleSheet.create({ line: { flexDirection: 'row', alignItems: 'center', gap: 6 } });
