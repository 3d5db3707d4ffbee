import { StyleSheet, View } from 'react-native';
import { isPicture } from '../../../../../core/sheet/entities';
import { lengthInPx, pxToMm } from '../../../../../core/sheet/paper';
import { NibChips } from '../../../../components/nib-chips';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { colouringSlice } from '../../../../store/colouring-slice';
import { penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { DraftRow } from '../../frame/setting-row';
import { ColourEditor } from '../../palette/colour-editor';
import { PaletteRows } from '../../palette/palette-rows';
import { ContourRows } from './contour-rows';
import { HatchDialRows } from './hatch-rows';
import { LabelDetails } from './label-details';
import { KeepInsideRow, ShadeRows } from './shade-rows';
import { SwatchRows } from './swatch-rows';
import { usePouring } from './use-pouring';

const MOST_GAP_MM = 3;

/** All that is set of colour: how it is poured or painted, the colour itself, the sheet's swatches. */
export function ColourDetails() {
  const dispatch = useAppDispatch();
  const { way, colour } = useAppSelector((s) => s.colouring);
  return (
    <>
      {way === 'hatch' && <HatchDialRows />}
      {way === 'text' && <LabelDetails />}
      {(way === 'brush' || way === 'hatch') && <BrushRows />}
      {(way === 'pour' || way === 'lasso') && <PourRows />}
      <ColourEditor colour={colour} onTake={(taken) => dispatch(colouringSlice.actions.set({ colour: taken }))} />
      <Section title="Shade">
        <ShadeRows />
      </Section>
      <Section title="Contour">
        <ContourRows />
      </Section>
      <PictureColours />
      <Section title="Swatches of this sheet">
        <SwatchRows />
      </Section>
    </>
  );
}

/** The colours of the picture under the ink, as they are without hush and tone. */
function PictureColours() {
  const dispatch = useAppDispatch();
  const colour = useAppSelector((s) => s.colouring.colour);
  const picture = useAppSelector((s) => s.sheet.stack.findLast((layer) => layer.kind === 'reference' && layer.visible));
  if (!isPicture(picture)) return null;
  return (
    <Section title="Colours of the picture">
      <PaletteRows
        picture={picture}
        taken={colour}
        onTake={(taken) => dispatch(colouringSlice.actions.set({ colour: taken, picking: null }))}
      />
    </Section>
  );
}

function PourRows() {
  const dispatch = useAppDispatch();
  const { session } = useOpenSheet();
  const pouring = usePouring();
  const { alike, tied } = useAppSelector((s) => s.colouring);
  const gapPx = useWatched(pouring.gapPx);
  const { ppi } = session.paper;
  return (
    <>
      <Toggle
        label="Every shape like it"
        on={alike}
        onChange={(on) => dispatch(colouringSlice.actions.set({ alike: on }))}
      />
      <Words size={13} quiet>
        On a colour: all of that colour on the layer. Without one: all shapes of about that size.
      </Words>
      <Toggle
        label="Tied: follows when its lines change"
        on={tied}
        onChange={(on) => dispatch(colouringSlice.actions.set({ tied: on }))}
      />
      <DraftRow
        label="Gaps up to"
        name="Gaps up to this width are closed, px"
        words={(px) => `${px} px · ${pxToMm(px, ppi).toFixed(1)} mm`}
        value={gapPx}
        min={0}
        max={Math.max(40, Math.round(lengthInPx(MOST_GAP_MM, ppi)))}
        step={1}
        onShow={() => undefined}
        onKeep={(px) => {
          pouring.gapPx.set(px);
          pouring.lookSoon();
        }}
      />
    </>
  );
}

/** Colour is painted with the pen of Ink. */
function BrushRows() {
  const dispatch = useAppDispatch();
  const nib = useAppSelector((s) => s.pen.nib);
  const nibs = useAppSelector((s) => s.sheet.settings?.nibs ?? [1, 2, 3, 4]);
  return (
    <View style={styles.rows}>
      <Words size={14}>With the pen that is chosen on Ink</Words>
      <KeepInsideRow />
      <NibChips name="Nib" sizes={nibs} chosen={nib} onTake={(i) => dispatch(penSlice.actions.takeNib(i))} wrap />
    </View>
  );
}

const styles = StyleSheet.create({ rows: { gap: 6 } });
