import type { Box } from '../geometry/box';
import { lengthScale, type Matrix } from '../geometry/matrix';
import type { Rgb } from '../raster/pixels';
import type { Pen } from '../stroke/pen';
import type { Spine } from '../stroke/spine';
import type { SampleRange } from '../stroke/spine-maker';
import type { Erasure, Stroke } from './entities';

export interface Mark {
  /** Undefined until they are brought. */
  bytes: Uint8Array | undefined;
  pen: Pen;
  engine: number;
  stands?: SampleRange;
  matrix: Matrix | undefined;
  /** Where it lies, and where before its matrix, paper px. */
  box: Box;
  ownBox: Box;
  spine: Spine | undefined;
  spineLevel: number;
}

export interface StrokeRecord extends Mark {
  stroke: Stroke;
  colour: Rgb;
  /** Place in the order of all; of two equal ones the stroke's own order decides. */
  rank: number;
  /** Looked for one by one: what the index of own strokes holds of it, if anything, is out of date. */
  isLoose: boolean;
}

export interface ErasureRecord extends Mark {
  erasure: Erasure;
}

/**
 * Colour goes on beyond its border at least so far, px of the level that it is drawn at: two that share a line leave nothing
 * between them, hidden or thinner than a pixel as the line may be.
 */
const POUR_RADIUS = 0.5;

export const leastRadiusOf = (mark: Mark | StrokeRecord): number =>
  'stroke' in mark && mark.stroke.pour ? POUR_RADIUS : 0;

/** Whether a matrix leaves something of a stroke that can be drawn. */
export function isUsable(m: Matrix): boolean {
  const factor = lengthScale(m);
  return m.every(Number.isFinite) && factor > 1e-6 && factor < 1e6;
}

/** How far a spine may lie off before its matrix: ink that was scaled up shows its facets scaled up. @param most on the paper, px. */
export const facetsOf = ({ matrix }: Mark, most: number): number =>
  most / Math.max(1, matrix ? lengthScale(matrix) : 1);
