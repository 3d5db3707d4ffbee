import { KEY_NAMES } from '../key-names';
import { STOPS } from '../stops/stops';
import type { KeyLine } from '../stops/stop';
import { PAGE_KEY_LINES } from './page-keys';

const listed = (words: readonly string[]) => words.join(', ');

/** The keys of the sheet's screens, for the page that lists them. The listeners are in use-keys.ts. */
export const KEYS: readonly KeyLine[] = [
  { keys: KEY_NAMES.undo, does: 'Undo (Cmd on a Mac)' },
  { keys: KEY_NAMES.redo, does: 'Redo; Ctrl Y does the same' },
  { keys: 'Ctrl S', does: 'Says whether all is saved. Other keys with Ctrl that are not listed are the browser’s' },
  { keys: listed(STOPS.map((s) => s.key)), does: `The stops: ${listed(STOPS.map((s) => s.name))}` },
  ...PAGE_KEY_LINES,
  ...STOPS.flatMap((s) => s.keyLines ?? []),
  { keys: '?', does: 'This page; Escape leaves it' },
];
