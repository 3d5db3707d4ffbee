import { emptyBox, type Box } from '../geometry/box';

/** The middle of a line as it lies on the paper, with its radius: what is looked at when a drawing is checked. */
export interface InkLine {
  id: string;
  layerId: string;
  /** `[x0, y0, r0, x1, ...]`, paper px; `count` triples, one at least. */
  data: Float64Array;
  count: number;
  /** Of its ink. */
  box: Box;
}

/** @param data kept, not copied. */
export function inkLine(id: string, layerId: string, data: Float64Array): InkLine {
  const box = emptyBox();
  for (let at = 0; at < data.length; at += 3) {
    const [x, y, r] = [data[at], data[at + 1], data[at + 2]];
    if (x - r < box.x0) box.x0 = x - r;
    if (y - r < box.y0) box.y0 = y - r;
    if (x + r > box.x1) box.x1 = x + r;
    if (y + r > box.y1) box.y1 = y + r;
  }
  return { id, layerId, data, count: data.length / 3, box };
}

/** `[x, y, radius]` at a place: the number of a point, and a part of the way to the next. */
export function placeOnLine({ data, count }: InkLine, place: number): [x: number, y: number, r: number] {
  const i = Math.min(Math.max(0, count - 2), Math.max(0, Math.floor(place)));
  const u = count > 1 ? place - i : 0;
  const [a, b] = [3 * i, count > 1 ? 3 * i + 3 : 3 * i];
  return [
    data[a] + u * (data[b] - data[a]),
    data[a + 1] + u * (data[b + 1] - data[a + 1]),
    data[a + 2] + u * (data[b + 2] - data[a + 2]),
  ];
}
