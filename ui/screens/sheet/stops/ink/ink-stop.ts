import PenLine from 'lucide-react-native/icons/pen-line';
import type { Stop } from '../stop';
import { handTool } from './hand-tool';
import { inkKeys } from './ink-keys';
import { InkStrip } from './ink-strip';
import { InkTray } from './ink-tray';

export const INK: Stop = {
  route: 'ink',
  name: 'Ink',
  icon: PenLine,
  key: '2',
  Tray: InkTray,
  Strip: InkStrip,
  tool: ({ pen }, settings, ppi, eraserEnd) => handTool(pen, settings, ppi, eraserEnd),
  keys: inkKeys,
  keyLines: [
    { keys: 'X', does: 'Eraser: tapped keeps it, held borrows it' },
    { keys: 'Shift, held', does: 'Draw a straight line; with Ctrl, Cmd or Alt too, in steps of 15 degrees' },
    { keys: 'A S D F', does: 'Take the first to the fourth nib' },
  ],
};
