import { apply, lengthScale, type Matrix } from '../geometry/matrix';
import { OWN, type Spine } from './spine';

/** Moves a spine by a similarity, in place; a flat nib turns with it. */
export function moveSpine(spine: Spine, matrix: Matrix): void {
  const factor = lengthScale(matrix);
  const { footprint, own } = spine;
  const turned = (x: number, y: number) => [
    (matrix[0] * x + matrix[2] * y) / factor,
    (matrix[1] * x + matrix[3] * y) / factor,
  ];
  if (footprint && footprint.flat < 1) {
    const [ex, ey] = turned(footprint.ex, footprint.ey);
    spine.footprint = { ...footprint, ex, ey };
    for (let at = 1; own && at < OWN * spine.count; at += OWN) [own[at], own[at + 1]] = turned(own[at], own[at + 1]);
  }
  for (let i = 0; i < 3 * spine.count; i += 3) {
    const [x, y] = apply(matrix, spine.data[i], spine.data[i + 1]);
    spine.data[i] = x;
    spine.data[i + 1] = y;
    spine.data[i + 2] *= factor;
  }
}

/** Makes a line nowhere thinner than a radius. @param least paper px; 0: it stays. Modifies `spine`. */
export function widenSpine({ data, count }: Spine, least: number): void {
  if (least === 0) return;
  for (let at = 2; at < 3 * count; at += 3) if (data[at] < least) data[at] = least;
}
