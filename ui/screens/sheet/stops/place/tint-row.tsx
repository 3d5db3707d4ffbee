import { StyleSheet, View } from 'react-native';
import { stepOf } from '../../../../../core/picture/recipe-steps';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { ColourRow } from '../../../../components/colour-row';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';

const TINTS = ['#6fa8dc', '#e08a8a', '#8fbf8f', '#c9a2d8', '#9aa0a6'];

/** What black becomes: pale lines are easy to ink over. */
export function TintRow({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const tint = stepOf(picture.recipe ?? [], 'tint');
  return (
    <>
      <Words size={14}>Tint, so that black becomes this colour</Words>
      <View style={styles.line}>
        <View style={styles.colours}>
          <ColourRow
            label="Tint of the picture"
            colours={TINTS}
            taken={tint?.on ? tint.colour : undefined}
            wrap
            onTake={(colour) => void toning.set(picture, 'tint', { colour, amount: 1 }, 'Tint')}
          />
        </View>
        {tint?.on && <Button label="No tint" onPress={() => void toning.set(picture, 'tint', undefined, 'No tint')} />}
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  colours: { flexShrink: 1, minWidth: 0 },
});
