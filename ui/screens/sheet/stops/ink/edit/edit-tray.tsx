import { useState } from 'react';
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
import { lineCount, type Picking } from '../../../../../session/picking';
import { penSlice } from '../../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';
import { useLayoutKind } from '../../../frame/layout-kind';
import { Tray } from '../../../frame/tray';
import { TrayButton } from '../../../frame/tray-button';
import { useBackCloses } from '../../../frame/use-back-closes';
import { PickRows } from './pick-rows';
import { RestyleRows } from './restyle-rows';
import { usePicking } from './use-picking';

/** Bolder and finer by this: a step of the ladder of line widths (ISO 128-2). */
const STEP = Math.SQRT2;

/** The tray of Ink while lines are edited: what is done with what is picked; opened, all that can be changed of it. */
export function EditTray() {
  const kind = useLayoutKind();
  const picking = usePicking();
  const [open, setOpen] = useState(false);
  useBackCloses(kind === 'phone' && open, () => setOpen(false));
  const rest = (
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
            <View aria-live="polite">
              <Heading>{countOf(picking)}</Heading>
            </View>
            {picking.count === 0 && <Hint />}
            <Actions picking={picking} wraps />
          </>
        }
        rest={rest}
      />
    );
  return (
    <Tray
      open={open}
      bar={
        <>
          <View style={styles.line}>
            <View style={styles.hint} aria-live="polite">
              {picking.count === 0 ? <Hint /> : <Words strong>{countOf(picking)}</Words>}
            </View>
            <AddButton />
            <TrayButton
              text="Change"
              label={`${open ? 'Close' : 'Open'} everything that can be picked and changed`}
              expanded={open}
              onPress={() => setOpen(!open)}
            />
          </View>
          <Actions picking={picking} />
        </>
      }
      rest={rest}
    />
  );
}

const countOf = ({ count }: Picking): string => (count === 0 ? 'Nothing picked' : lineCount(count));

const Hint = () => (
  <Words size={14} quiet>
    Touch a line, or draw a loop around several
  </Words>
);

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
  const act = (label: string, icon: Icon, does: () => Promise<unknown>, disabled = none) => (
    <IconButton label={label} icon={icon} disabled={disabled} onPress={() => void does()} />
  );
  const bolder = (sizeFactor: number, label: string) => (
    <Button label={label} disabled={none} onPress={() => void picking.restyle({ sizeFactor }, label)} />
  );
  const all = (
    <>
      {act('Delete', Trash, () => picking.delete())}
      {act('Copy', Copy, () => picking.copy())}
      {act('Cut', Scissors, () => picking.cut())}
      {act('Paste', ClipboardPaste, () => picking.paste(), !picking.canPaste)}
      {act('Duplicate', CopyPlus, () => picking.duplicate())}
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
      <AddButton />
    </View>
  ) : (
    <ScrollView horizontal role="toolbar" aria-label="Picked lines" contentContainerStyle={styles.row}>
      {all}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 54 },
  hint: { flexGrow: 1, flexShrink: 1 },
  row: { flexDirection: 'row', gap: 6, alignItems: 'center' },
  wraps: { flexWrap: 'wrap' },
});
