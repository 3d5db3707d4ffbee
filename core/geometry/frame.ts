import { apply, IDENTITY, type Matrix } from './matrix';

/**
 * Where what lay on the paper when the sheet was new lies now, and how large it has become: (x, y) of then is
 * (scale * x + dx, scale * y + dy). Places are of a frame: a step names the one that it was made on, so that ink which was
 * drawn while another device cropped the paper lands where it was drawn.
 */
export type Frame = [scale: number, dx: number, dy: number];

export const FIRST_FRAME: Frame = [1, 0, 0];

export const sameFrame = (a: Frame, b: Frame): boolean => a.every((v, i) => v === b[i]);

/** What carries places of one frame into another. */
export function between(from: Frame, to: Frame): Matrix {
  if (sameFrame(from, to)) return IDENTITY;
  const scale = to[0] / from[0];
  return [scale, 0, 0, scale, to[1] - scale * from[1], to[2] - scale * from[2]];
}

/** The frame that a movement of everything leads to. @param move scales and shifts, nothing else. */
export const movedFrame = ([scale, dx, dy]: Frame, move: Matrix): Frame => [scale * move[0], ...apply(move, dx, dy)];
