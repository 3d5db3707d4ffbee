import { StyleSheet, View } from 'react-native';
import { isInkable } from '../../../../../core/sheet/entities';
import { isFlat } from '../../../../../core/sheet/laid-parts';
import { Button } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { keepTargetInside, shadeLayer, SHADES, takeShade, type Shade } from '../../../../session/shading';
import { colouringSlice } from '../../../../store/colouring-slice';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';

/** The layers of shadow and light, and the picture's values over the drawing, which say where these go. */
export function ShadeRows() {
  const hasFlats = useAppSelector((s) => s.sheet.stack.some(isFlat));
  return (
    <View style={styles.rows}>
      <View style={styles.line}>
        <ShadeButton shade="shadow" disabled={!hasFlats} />
        <ShadeButton shade="light" disabled={!hasFlats} />
      </View>
      <Words size={13} quiet>
        {hasFlats
          ? 'A layer over the flats that shows only on them: pour, paint or hatch on it.'
          : 'Pour some colour first: shadow and light lie on that.'}
      </Words>
      <ToneRow />
    </View>
  );
}

function ShadeButton({ shade, disabled }: { shade: Shade; disabled: boolean }) {
  const dispatch = useAppDispatch();
  const { session } = useOpenSheet();
  const isTarget = useAppSelector((s) => {
    const layer = shadeLayer(s.sheet.stack, shade);
    return layer !== undefined && layer.id === s.sheet.settings?.target;
  });
  const { name, colour } = SHADES[shade];
  const take = async () => {
    if (await takeShade(session, shade)) dispatch(colouringSlice.actions.set({ colour, picking: null }));
  };
  return (
    <Button
      label={name}
      aria-label={`${name}: colour lands on the layer for it`}
      chosen={isTarget}
      disabled={disabled}
      style={styles.half}
      onPress={() => void take()}
    />
  );
}

const VALUES = [0, 3, 4, 5].map((count) => ({ value: String(count), label: count ? `${count} tones` : 'Off' }));

/** The picture in a few flat values over the drawing, while Colour is open. */
function ToneRow() {
  const dispatch = useAppDispatch();
  const tones = useAppSelector((s) => s.sheet.looking.tones ?? 0);
  const hasPicture = useAppSelector((s) => s.sheet.stack.some((layer) => layer.kind === 'reference' && !layer.beside));
  if (!hasPicture) return null;
  return (
    <>
      <Words size={14}>The picture’s tones over the drawing</Words>
      <Choice
        label="The picture’s tones over the drawing"
        options={VALUES}
        value={String(tones)}
        onChange={(count) => dispatch(sheetSlice.actions.look({ tones: Number(count) || undefined }))}
      />
    </>
  );
}

/** What is painted shows only on the colour beneath it. */
export function KeepInsideRow() {
  const { session } = useOpenSheet();
  const target = useAppSelector((s) => s.sheet.stack.find((layer) => layer.id === s.sheet.settings?.target));
  const isAnyColour = useAppSelector((s) => s.sheet.stack.some(isFlat));
  if (!isInkable(target) || !isAnyColour) return null;
  return (
    <Toggle
      label="Keep inside the colour below"
      on={target.inside === true}
      onChange={(on) => void keepTargetInside(session, on)}
    />
  );
}

const styles = StyleSheet.create({
  rows: { gap: 8 },
  line: { flexDirection: 'row', gap: 8 },
  half: { flex: 1 },
});
