import { lengthOf } from '../geometry/length';
import type { PointRow } from '../geometry/segment';

/** The middle of a line as it lies on the paper, px, with its radius: what is looked at when a drawing is checked. */
export interface InkLine extends PointRow {
  id: string;
  layerId: string;
}

/** @param data of one point at least; kept, not copied. */
export const inkLine = (id: string, layerId: string, data: Float64Array): InkLine => ({
  id,
  layerId,
  data,
  count: data.length / 3,
});

/** What a line has at a place of it, a point's number and a part of the way to the next: 0 its x, 1 its y, 2 its radius. */
export function valueOn({ data }: InkLine, place: number, what: 0 | 1 | 2): number {
  const i = Math.floor(place);
  const at = 3 * i + what;
  return place > i ? data[at] + (place - i) * (data[at + 3] - data[at]) : data[at];
}

/** Of its middle, px. */
export function lengthOfLine({ data, count }: InkLine): number {
  let sum = 0;
  for (let a = 3; a < 3 * count; a += 3) sum += lengthOf(data[a] - data[a - 3], data[a + 1] - data[a - 2]);
  return sum;
}

/** Of all lines the largest radius, px. */
export function widestRadius(lines: readonly InkLine[]): number {
  let most = 0;
  for (const { data } of lines) for (let at = 2; at < data.length; at += 3) if (data[at] > most) most = data[at];
  return most;
}
