import { withinTurn } from '../geometry/degrees';
import { compose, invert, type Matrix } from '../geometry/matrix';
import type { PictureRef, Placement } from './entities';
import type { PaperSize } from './paper';

export const MAX_PICTURE_SCALE = 100;

/** The placement that fits a picture into the paper, in proportion, centred, upright. */
export function fittedPlacement(picture: Omit<PictureRef, 'hash'>, paper: Omit<PaperSize, 'ppi'>): Placement {
  return {
    cx: paper.widthPx / 2,
    cy: paper.heightPx / 2,
    scale: Math.min(paper.widthPx / picture.width, paper.heightPx / picture.height),
    turnDeg: 0,
    mirrored: false,
  };
}

/** The placement that covers the paper with a picture, in proportion, centred, upright. */
export function filledPlacement(picture: Omit<PictureRef, 'hash'>, paper: Omit<PaperSize, 'ppi'>): Placement {
  const scale = Math.max(paper.widthPx / picture.width, paper.heightPx / picture.height);
  return { ...fittedPlacement(picture, paper), scale };
}

/** What laying a picture anew moves, paper px to paper px. */
export const placementMove = (before: Placement, after: Placement, picture: Omit<PictureRef, 'hash'>): Matrix =>
  compose(placementMatrix(after, picture), invert(placementMatrix(before, picture)));

/** From picture px (origin at its top left corner) to paper px. */
export function placementMatrix(p: Placement, picture: Omit<PictureRef, 'hash'>): Matrix {
  const angle = (p.turnDeg * Math.PI) / 180;
  const c = Math.cos(angle) * p.scale;
  const s = Math.sin(angle) * p.scale;
  const flip = p.mirrored ? -1 : 1;
  return compose([c * flip, s * flip, -s, c, p.cx, p.cy], [1, 0, 0, 1, -picture.width / 2, -picture.height / 2]);
}

/**
 * The placement after a two-finger (or handle) movement of the paper plane: the centre follows the
 * movement, scale and turn add up. The scale stays within 1/100 and 100 times the picture's own size.
 * @param turnDeg clockwise; @param factor > 0; the movement maps (fromX, fromY) to (toX, toY).
 */
export function movePlacement(
  p: Placement,
  from: readonly [number, number],
  to: readonly [number, number],
  factor: number,
  turnDeg: number,
): Placement {
  const scale = Math.min(MAX_PICTURE_SCALE, Math.max(1 / MAX_PICTURE_SCALE, p.scale * factor));
  const growth = scale / p.scale;
  const angle = (turnDeg * Math.PI) / 180;
  const dx = p.cx - from[0];
  const dy = p.cy - from[1];
  return {
    ...p,
    cx: to[0] + growth * (Math.cos(angle) * dx - Math.sin(angle) * dy),
    cy: to[1] + growth * (Math.sin(angle) * dx + Math.cos(angle) * dy),
    scale,
    turnDeg: withinTurn(p.turnDeg + turnDeg),
  };
}
