/** The keys of the sheet's screens, for the page that lists them. The listeners are in use-keys.ts. */
export const KEYS: readonly { keys: string; does: string }[] = [
  { keys: 'Ctrl Z', does: 'Undo (Cmd on a Mac)' },
  { keys: 'Shift Ctrl Z', does: 'Redo; Ctrl Y does the same' },
  { keys: '1, 2, 6', does: 'The stops: Place, Ink, Send' },
  { keys: 'H, held', does: 'Peek: picture and roughs away' },
  { keys: 'O, held', does: 'Over: the picture on top, full' },
  { keys: 'Space, held', does: 'Drag to move the page' },
  { keys: 'Arrows', does: 'Move the page (on Place with "Move picture" on: the picture)' },
  { keys: '+ and -', does: 'Zoom in and out' },
  { keys: '0', does: 'Fit the page' },
  { keys: ', and .', does: 'Turn the page left and right (or the picture, by a degree); M levels the page' },
  { keys: 'X', does: 'Eraser: tapped keeps it, held borrows it' },
  { keys: 'A S D F', does: 'Take the first to the fourth nib' },
  { keys: '?', does: 'This page; Escape leaves it' },
];
