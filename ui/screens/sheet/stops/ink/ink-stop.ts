import PenLine from 'lucide-react-native/icons/pen-line';
import type { Bending } from '../../../../session/bending';
import { isErasing, type PenState } from '../../../../store/pen-slice';
import type { Stop } from '../stop';
import { EditButton } from './edit/edit-button';
import { BendGestures } from './edit/bend-gestures';
import { editKeys } from './edit/edit-keys';
import { PickGestures } from './edit/pick-gestures';
import { EditOverPaper } from './edit/edit-over-paper';
import { WayGestures } from './edit/way-gestures';
import { handTool } from '../../../../session/hand-tool';
import { KEY_NAMES } from '../../key-names';
import { inkKeys } from './ink-keys';
import { InkStrip } from './ink-strip';
import { InkTray } from './ink-tray';

/** What a touch does with a line that was just placed, and is not done yet. */
function placing(bending: Bending, pen: PenState, place: { x: number; y: number } | undefined) {
  if (pen.form === 'points' && place && bending.nodes)
    return new BendGestures(bending, { beside: pen.pointKind, tapped: 'ends' });
  if (pen.form === 'bend' && place && bending.reaches(place))
    return new BendGestures(bending, { beside: 'take', tapped: 'takes-away' });
  return undefined;
}

export const INK: Stop = {
  route: 'ink',
  name: 'Ink',
  icon: PenLine,
  key: '2',
  Tray: InkTray,
  Strip: InkStrip,
  tool: ({ pen }, settings, ppi, eraserEnd) => handTool(pen, settings, ppi, eraserEnd),
  Float: EditButton,
  OverPaper: EditOverPaper,
  gestures: ({ session, picking, bending, wayEdits, store }, place) => {
    const { sheet, pen } = store.getState();
    if (isErasing(pen)) return undefined;
    if (!sheet.editing) return placing(bending, pen, place);
    if (sheet.editMode === 'bend') return new BendGestures(bending, { beside: 'take', tapped: 'takes-away' });
    if (sheet.editMode === 'points') return new BendGestures(bending, { beside: 'take', tapped: 'chooses' });
    if (sheet.editMode !== 'pick') return new WayGestures(wayEdits[sheet.editMode]);
    return new PickGestures(session, picking, () => store.getState().pen);
  },
  keys: (at) => ({ ...inkKeys(at), ...editKeys(at) }),
  keyLines: [
    { keys: KEY_NAMES.eraser, does: 'Eraser: tapped keeps it, held borrows it' },
    { keys: 'Shift, held', does: 'Draw a straight line; with Ctrl, Cmd or Alt too, in steps of 15 degrees' },
    { keys: KEY_NAMES.edit, does: 'Edit lines: pick, move and change those that are there' },
    { keys: 'W', does: 'Edit lines: the next way, of picking, points, bending, snipping and mending' },
    {
      keys: KEY_NAMES.delete,
      does: 'Edit lines: delete what is picked, or the chosen point; arrows move it, with Shift by 10 px; Escape picks nothing',
    },
    {
      keys: [KEY_NAMES.copy, KEY_NAMES.cut, KEY_NAMES.paste, KEY_NAMES.duplicate, 'Ctrl A'].join(', '),
      does: 'Edit lines: copy, cut, paste (from any window), duplicate, pick all of the layer',
    },
    {
      keys: 'Shift or Alt, held',
      does: 'Edit lines: while a corner of the frame is dragged, width and height go apart; it is scaled about its middle',
    },
    { keys: 'N', does: 'Choose the next point of the line in the hand; Enter or Escape is done with it' },
    { keys: 'A S D F', does: 'Take the first to the fourth nib' },
  ],
};
