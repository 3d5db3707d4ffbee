import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { pxToMm } from '../../../../../core/sheet/paper';
import { Button } from '../../../../components/button';
import { Section } from '../../../../components/section';
import { Slider } from '../../../../components/slider';
import { Heading, Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { setSetting } from '../../../../session/stack-actions';
import { BLACK, INK_COLOURS, isErasing, penSlice, WHITE } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useTheme } from '../../../../theme/theme-context';
import { colourEditor, editTray, eraserRows, keptPenRows, penSettingRows } from '../later-parts';
import { ColourChips } from './colour-chips';
import { eraserSizes } from '../../../../session/hand-tool';
import { FormRows } from './form-rows';
import { useLayoutKind } from '../../frame/layout-kind';
import { LEAST_TYPED_PX, LINE_WIDTHS_MM, positionOfSize, sizeAtPosition } from '../../../../../core/stroke/line-widths';
import { NibChips } from '../../../../components/nib-chips';
import { PenChoice } from './pen-choice';
import { nameInUse } from './pen-names';
import { PenPreview } from './pen-preview';
import { StackPanel } from '../../stack/stack-panel';
import { SteadyChip } from './steady-chip';
import { TargetChip } from '../../stack/target-chip';
import { Tray } from '../../frame/tray';
import { TrayButton } from '../../frame/tray-button';
import { useBackCloses } from '../../frame/use-back-closes';
import { TypedSize } from './typed-size';

/** The tray of Ink: for new lines, or for those that are there. */
export function InkTray() {
  return useAppSelector((s) => s.sheet.editing) ? <editTray.Part /> : <DrawTray />;
}

/** Where ink lands, nibs, colours, the pen; opened, all of the pen and the nibs. */
function DrawTray() {
  const kind = useLayoutKind();
  const pen = useAppSelector((s) => s.pen);
  const [open, setOpen] = useState<'pen' | 'stack'>();
  useBackCloses(kind === 'phone' && open !== undefined, () => setOpen(undefined));
  const nibs = <Nibs />;
  const colours = <ColourChips colours={[BLACK, WHITE, pen.lastColour]} />;
  const flip = (what: 'pen' | 'stack') => setOpen(open === what ? undefined : what);
  if (kind !== 'phone')
    return (
      <Tray
        open
        bar={
          <>
            <Heading>{nameInUse(pen)}</Heading>
            {!isErasing(pen) && <PreviewInSight />}
            {kind === 'wide' && nibs}
          </>
        }
        rest={
          <>
            <PenDetails />
            {kind === 'side' && <StackPanel />}
          </>
        }
      />
    );
  return (
    <Tray
      open={open !== undefined}
      bar={
        <>
          <View style={styles.line}>
            <TargetChip expanded={open === 'stack'} onPress={() => flip('stack')} />
            <SteadyChip />
            <PenButton expanded={open === 'pen'} onPress={() => flip('pen')} />
          </View>
          <View style={[styles.line, styles.spread]}>
            {nibs}
            {colours}
          </View>
        </>
      }
      rest={open === 'stack' ? <StackPanel /> : <PenDetails />}
    />
  );
}

function PenButton({ expanded, onPress }: { expanded: boolean; onPress(): void }) {
  const name = useAppSelector((s) => nameInUse(s.pen));
  const label = `${name}. ${expanded ? 'Close' : 'Open'} its settings`;
  return <TrayButton text={name} {...{ label, expanded, onPress }} />;
}

/** The sizes to take: nibs, or the eraser's. */
export function Nibs({ wrap }: { wrap?: boolean }) {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const nibs = useAppSelector((s) => s.sheet.settings?.nibs ?? [1, 2, 3, 4]);
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  return isErasing(pen) ? (
    <NibChips
      name="Eraser"
      sizes={eraserSizes(pen.eraser, ppi)}
      chosen={pen.eraser.chosen}
      onTake={(chosen) => dispatch(penSlice.actions.setEraser({ chosen }))}
      wrap={wrap}
    />
  ) : (
    <NibChips
      name="Nib"
      sizes={nibs}
      chosen={pen.nib}
      onTake={(i) => dispatch(penSlice.actions.takeNib(i))}
      wrap={wrap}
    />
  );
}

/** The preview stays in sight over the settings: it shows what they do. */
function PreviewInSight() {
  const theme = useTheme();
  return (
    <View style={[styles.inSight, { backgroundColor: theme.card }]}>
      <PenPreview />
    </View>
  );
}

function PenDetails() {
  const kind = useLayoutKind();
  const erasing = useAppSelector((s) => isErasing(s.pen));
  const swatches = useAppSelector((s) => s.sheet.settings?.swatches);
  const colours = [...new Set([...INK_COLOURS, ...(swatches ?? []).map(({ colour }) => colour)])];
  if (erasing)
    return (
      <>
        <eraserRows.Part />
        <PenChoice />
      </>
    );
  return (
    <>
      {kind === 'phone' && <PreviewInSight />}
      <PenChoice />
      <FormRows />
      <ColourChips colours={colours} wrap />
      <OwnColour />
      <NibDetails />
      <penSettingRows.Part />
      <keptPenRows.Part />
    </>
  );
}

/** A colour that stands among no others. */
function OwnColour() {
  const dispatch = useAppDispatch();
  const colour = useAppSelector((s) => s.pen.colour);
  return (
    <Section title="My colour" note={colour}>
      <colourEditor.Part colour={colour} onTake={(taken) => dispatch(penSlice.actions.takeColour(taken))} />
    </Section>
  );
}

/** Changes the nib that is in use: by slider, by px, or from the ladder of line widths. */
function NibDetails() {
  const { session } = useOpenSheet();
  const { nib } = useAppSelector((s) => s.pen);
  const nibs = useAppSelector((s) => s.sheet.settings?.nibs);
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  const [draft, setDraft] = useState<number>();
  if (!nibs) return null;
  const size = draft ?? nibs[nib];
  const pin = (px: number) => {
    setDraft(undefined);
    const next = nibs.map((n, i) => (i === nib ? px : n)) as typeof nibs;
    void setSetting(session, 'nibs', next, `Nib ${nib + 1}: ${px} px`);
  };
  return (
    <>
      <View style={[styles.line, styles.spread]}>
        <Words size={14}>{`Nib ${nib + 1}`}</Words>
        <Words size={14}>{`${size} px · ${pxToMm(size, ppi).toFixed(2)} mm`}</Words>
      </View>
      <Slider
        label={`Size of nib ${nib + 1}`}
        spoken={`${size} px`}
        value={positionOfSize(size)}
        onChange={(position) => setDraft(sizeAtPosition(position))}
        onDone={(position) => pin(sizeAtPosition(position))}
      />
      <TypedSize key={nib} label={`Nib ${nib + 1}, px`} px={nibs[nib]} onSet={pin} />
      <View style={styles.ladder} role="group" aria-label="Line widths in mm (ISO 128-2)">
        {LINE_WIDTHS_MM.map((mm) => (
          <Button
            key={mm}
            label={`${mm}`}
            aria-label={`${mm} mm`}
            style={styles.rung}
            onPress={() => pin(Math.max(LEAST_TYPED_PX, Math.round((mm / 25.4) * ppi * 10) / 10))}
          />
        ))}
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  spread: { justifyContent: 'space-between' },
  inSight: { position: 'sticky', top: 0, zIndex: 1 } as object,
  ladder: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  rung: { paddingHorizontal: 6, minWidth: 48 },
});
