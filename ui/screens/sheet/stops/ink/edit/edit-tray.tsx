import { useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import BringToFront from 'lucide-react-native/icons/bring-to-front';
import ClipboardPaste from 'lucide-react-native/icons/clipboard-paste';
import Copy from 'lucide-react-native/icons/copy';
import CopyPlus from 'lucide-react-native/icons/copy-plus';
import Flip from 'lucide-react-native/icons/square-centerline-dashed-horizontal';
import Group from 'lucide-react-native/icons/group';
import Plus from 'lucide-react-native/icons/plus';
import RotateCw from 'lucide-react-native/icons/rotate-cw';
import Scissors from 'lucide-react-native/icons/scissors';
import SendToBack from 'lucide-react-native/icons/send-to-back';
import Trash from 'lucide-react-native/icons/trash';
import Ungroup from 'lucide-react-native/icons/ungroup';
import { Button, IconButton, type Icon } from '../../../../../components/button';
import { Heading, Words } from '../../../../../components/text';
import type { Picking } from '../../../../../session/picking';
import { penSlice } from '../../../../../store/pen-slice';
import type { EditMode } from '../../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';
import { KEY_NAMES } from '../../../key-names';
import { useLayoutKind } from '../../../frame/layout-kind';
import { Tray } from '../../../frame/tray';
import { TrayButton } from '../../../frame/tray-button';
import { useBackCloses } from '../../../frame/use-back-closes';
import { EditModes } from './edit-modes';
import { PickRows } from './pick-rows';
import { PointRows, useChosenPoint } from './point-rows';
import { RestyleRows } from './restyle-rows';
import { usePicking } from './use-picking';

/** Bolder and finer by this: a step of the ladder of line widths (ISO 128-2). */
const STEP = Math.SQRT2;

/** The tray of Ink while lines are edited: ways of changing them, and what is done with what is picked; opened, all that can be changed of it. */
export function EditTray() {
  const kind = useLayoutKind();
  const picking = usePicking();
  const mode = useAppSelector((s) => s.sheet.editMode);
  const [open, setOpen] = useState(false);
  const isPicking = mode === 'pick';
  const isOpen = open && isPicking;
  useBackCloses(kind === 'phone' && isOpen, () => setOpen(false));
  const hint = (
    <Words size={14} quiet>
      {HINTS[mode]}
    </Words>
  );
  const point = useChosenPoint();
  const beside =
    mode === 'points' && point ? (
      <PointRows point={point} />
    ) : isPicking ? (
      <NothingPicked picking={picking} hint={hint} />
    ) : (
      hint
    );
  const rest = isPicking && (
    <>
      {picking.count > 0 && <RestyleRows picking={picking} />}
      <PickRows picking={picking} />
    </>
  );
  if (kind !== 'phone')
    return (
      <Tray
        open
        bar={
          <>
            <EditModes />
            <View aria-live="polite">{isPicking && picking.count > 0 ? <Heading>{picking.words}</Heading> : hint}</View>
            {mode === 'points' && point && <PointRows point={point} />}
            {isPicking && <Actions picking={picking} wraps />}
          </>
        }
        rest={rest}
      />
    );
  return (
    <Tray
      open={isOpen}
      bar={
        <>
          <View style={styles.line}>
            <EditModes />
          </View>
          <View style={styles.line}>
            <View style={styles.hint} aria-live="polite">
              {isPicking && picking.count > 0 ? <Actions picking={picking} /> : beside}
            </View>
            {isPicking && (
              <TrayButton
                text={picking.count === 0 ? 'Change' : picking.words}
                label={`${picking.count === 0 ? 'Nothing picked' : picking.words}. ${isOpen ? 'Close' : 'Open'} everything that can be picked and changed`}
                expanded={isOpen}
                onPress={() => setOpen(!open)}
              />
            )}
          </View>
        </>
      }
      rest={rest}
    />
  );
}

const HINTS: Record<EditMode, string> = {
  pick: 'Touch a line, or draw a loop around several',
  points: 'Touch a line, then drag its points, or a side between them; touch one to change it',
  bend: 'Touch a line and pull it; touch a dot to take a bend away',
  snip: 'Touch the part of a line between two others, or draw across several parts: they go',
  mend: 'Draw a part of a line anew: begin on the line, and end on it',
};

/** What to do while nothing is picked; what was copied can be put down. */
function NothingPicked({ picking, hint }: { picking: Picking; hint: ReactNode }) {
  return (
    <View style={styles.line}>
      <View style={styles.hint}>{hint}</View>
      {picking.canPaste && <IconButton label="Paste" icon={ClipboardPaste} onPress={() => void picking.paste()} />}
    </View>
  );
}

/** What Shift does, for hands without keys. */
function AddButton() {
  const dispatch = useAppDispatch();
  const adds = useAppSelector((s) => s.pen.picksMore);
  return (
    <IconButton
      label="Add to what is picked, or take away from it"
      icon={Plus}
      chosen={adds}
      onPress={() => dispatch(penSlice.actions.setPicksMore(!adds))}
    />
  );
}

/** What is done with what is picked, at one touch. */
function Actions({ picking, wraps = false }: { picking: Picking; wraps?: boolean }) {
  const none = picking.count === 0;
  const act = (label: string, icon: Icon, does: () => Promise<unknown>, disabled = none, keys?: string) => (
    <IconButton label={label} keys={keys} icon={icon} disabled={disabled} onPress={() => void does()} />
  );
  const bolder = (sizeFactor: number, label: string) => (
    <Button label={label} disabled={none} onPress={() => void picking.restyle({ sizeFactor }, label)} />
  );
  const all = (
    <>
      <AddButton />
      {act('Delete', Trash, () => picking.delete(), none, KEY_NAMES.delete)}
      {act('Copy', Copy, () => picking.copy(), none, KEY_NAMES.copy)}
      {act('Cut', Scissors, () => picking.cut(), none, KEY_NAMES.cut)}
      {act('Paste', ClipboardPaste, () => picking.paste(), !picking.canPaste, KEY_NAMES.paste)}
      {act('Duplicate', CopyPlus, () => picking.duplicate(), none, KEY_NAMES.duplicate)}
      {act('Turn by 15 degrees', RotateCw, () => picking.transform({ turnDeg: 15 }, 'Turn'))}
      {act('Mirror left to right', Flip, () => picking.transform({ mirrors: true }, 'Mirror'))}
      {bolder(STEP, 'Bolder')}
      {bolder(1 / STEP, 'Finer')}
      {act('Group: picked together from now on', Group, () => picking.group(), picking.count < 2)}
      {act('Ungroup', Ungroup, () => picking.ungroup(), !picking.hasGroup)}
      {act('Up: over the next line', ArrowUp, () => picking.step('up'))}
      {act('Down: under the next line', ArrowDown, () => picking.step('down'))}
      {act('In front of the layer’s others', BringToFront, () => picking.restack('front'))}
      {act('Behind the layer’s others', SendToBack, () => picking.restack('back'))}
    </>
  );
  return wraps ? (
    <View role="toolbar" aria-label="Picked lines" style={[styles.row, styles.wraps]}>
      {all}
    </View>
  ) : (
    <ScrollView horizontal role="toolbar" aria-label="Picked lines" contentContainerStyle={styles.row}>
      {all}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8, minHeight: 54 },
  hint: { flexGrow: 1, flexShrink: 1 },
  row: { flexDirection: 'row', gap: 6, alignItems: 'center' },
  wraps: { flexWrap: 'wrap' },
});
