import { makePen, type Pen } from '../stroke/pen';
import { LABEL_PX } from './label-size';

/**
 * What draws the letters of a label: all that they enclose. Its line is not drawn; it is as wide as lets
 * `joinedContours` be told apart at every size.
 */
export const LETTERS_PEN: Pen = { ...makePen('fineliner', LABEL_PX / 16, 0, false, 1), fill: 'alone' };

/** What draws an outline of a width around letters, in sizes of the letters: half of the line lies beneath them. */
export const outlinePen = (width: number): Pen => ({
  ...makePen('fineliner', 2 * width * LABEL_PX, 0, false, 1),
  fill: 'with',
});

/** How wide an outline is that such a pen draws, in sizes of the letters. */
export const outlineWidth = ({ sizePx }: Pen): number => sizePx / 2 / LABEL_PX;
