import { ScrollView, StyleSheet, View } from 'react-native';
import Pipette from 'lucide-react-native/icons/pipette';
import { IconButton } from '../../../../components/button';
import { ColourRow } from '../../../../components/colour-row';
import { useLayoutKind } from '../../frame/layout-kind';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { colouringSlice } from '../../../../store/colouring-slice';

/** The colour in the hand, the last ones, then the sheet's swatches; and what takes one from the picture. */
export function ColoursInReach() {
  const dispatch = useAppDispatch();
  const { colour, recents, picking } = useAppSelector((s) => s.colouring);
  const swatches = useAppSelector((s) => s.sheet.settings?.swatches) ?? [];
  const colours = [...new Set([...(recents.includes(colour) ? [] : [colour]), ...recents, ...swatches.map((s) => s.colour)])]; // prettier-ignore
  const isNarrow = useLayoutKind() === 'phone';
  const row = (
    <ColourRow
      label="Colour"
      colours={colours}
      names={Object.fromEntries(swatches.flatMap((s) => (s.name ? [[s.colour, s.name]] : [])))}
      taken={colour}
      wrap={!isNarrow}
      onTake={(taken) => dispatch(colouringSlice.actions.set({ colour: taken, picking: null }))}
    />
  );
  return (
    <View style={styles.line}>
      <IconButton
        label="Take a colour from the picture"
        icon={Pipette}
        chosen={picking !== null}
        onPress={() => dispatch(colouringSlice.actions.set({ picking: picking ? null : 'picture' }))}
      />
      {isNarrow ? (
        <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.scroll}>
          {row}
        </ScrollView>
      ) : (
        <View style={styles.scroll}>{row}</View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'flex-start', gap: 6 },
  scroll: { flexGrow: 0, flexShrink: 1, minWidth: 0 },
});
