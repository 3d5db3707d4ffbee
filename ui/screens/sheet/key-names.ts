/** Keys that buttons do the same as, as they are told: where a mouse rests over the button, and on the page of keys. */
export const KEY_NAMES = {
  undo: 'Ctrl Z',
  redo: 'Shift Ctrl Z',
  eraser: 'X',
  edit: 'E',
  delete: 'Delete',
  copy: 'Ctrl C',
  cut: 'Ctrl X',
  paste: 'Ctrl V',
  duplicate: 'Ctrl D',
} as const;
