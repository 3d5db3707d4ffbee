import { emptyBox, union, type Box } from '../geometry/box';
import { crosses, isWithin, loopBox, type Loop } from '../geometry/loop';
import type { Matrix } from '../geometry/matrix';
import { decodeSamples } from '../stroke/codec';
import type { Spine } from '../stroke/spine';
import type { Erasure, Stroke } from './entities';
import type { InkStore, Pause, StrokeRecord } from './ink-store';

/** Records whose samples are asked for at once. */
const PART = 256;

/**
 * The standing lines of layers that lie within a loop, with more than half of their length. Lines whose box the loop does not
 * cross are told by their box alone: nothing of them has to be read.
 */
export function* linesIn(ink: InkStore, layerIds: readonly string[], loop: Loop): Generator<Pause, string[]> {
  const picked: string[] = [];
  for (const layerId of layerIds) {
    const crossed: StrokeRecord[] = [];
    for (const record of ink.find(layerId, loopBox(loop))) {
      const { box } = record;
      if (crosses(loop, box)) crossed.push(record);
      else if (isWithin(loop, (box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2)) picked.push(record.stroke.id);
    }
    for (let from = 0; from < crossed.length; from += PART)
      for (const record of yield* ink.readable(crossed, from, from + PART))
        if (partWithin(ink.drawable(record, 0, 'exact').spine, loop) > 0.5) picked.push(record.stroke.id);
  }
  return picked;
}

/** The part of a line's length whose places lie within a loop, 0 to 1. */
function partWithin({ data, count }: Spine, loop: Loop): number {
  if (count === 1) return isWithin(loop, data[0], data[1]) ? 1 : 0;
  let [inside, whole] = [0, 0];
  for (let a = 0; a + 3 < 3 * count; a += 3) {
    const [x, y, dx, dy] = [data[a], data[a + 1], data[a + 3] - data[a], data[a + 4] - data[a + 1]];
    const length = Math.sqrt(dx * dx + dy * dy);
    const pieces = Math.min(64, Math.max(1, Math.ceil(length / PIECE_PX)));
    whole += length;
    for (let n = 0; n < pieces; n++) {
      const u = (n + 0.5) / pieces;
      if (isWithin(loop, x + u * dx, y + u * dy)) inside += length / pieces;
    }
  }
  return whole > 0 ? inside / whole : 0;
}

/** A straight part of a line is looked at this often, px. */
const PIECE_PX = 8;

/** What is shown of picked lines: where they lie, and of the first ones their way `[x, y, r, ...]`, paper px. */
export interface PickedShape {
  box: Box;
  lines: Float32Array[];
  /** Of those, the ids of lines that a device without pressure drew. */
  unpressed: string[];
}

/** @param level of the tiles that the screen shows. @param most of how many lines the way is wanted. */
export function* shapeOf(
  ink: InkStore,
  ids: readonly string[],
  level: number,
  most: number,
): Generator<Pause, PickedShape> {
  const records = ink.standing(ids);
  const lines: Float32Array[] = [];
  const unpressed: string[] = [];
  const shown = records.slice(0, most);
  let box = emptyBox();
  for (let from = 0; from < shown.length; from += PART)
    for (const record of yield* ink.readable(shown, from, from + PART)) {
      const { data, count } = ink.drawable(record, level).spine;
      if (!hasPressure(record.bytes!)) unpressed.push(record.stroke.id);
      lines.push(Float32Array.from(data.subarray(0, 3 * count)));
    }
  for (const record of records) box = union(box, record.box);
  return { box, lines, unpressed };
}

/** A device without pressure tells the same all along (W3C Pointer Events, "pressure"). */
function hasPressure(bytes: Uint8Array): boolean {
  const { pressure, count } = decodeSamples(bytes);
  for (let i = 1; i + 1 < count; i++) if (pressure[i] !== pressure[0]) return true;
  return false;
}

/** A line with all that makes it, to be put down again somewhere. */
export interface CopiedLine {
  stroke: Stroke;
  bytes: Uint8Array;
  /** What erases it: `then` is where the line lay when it was erased. */
  erasures: { erasure: Erasure; bytes: Uint8Array; then: Matrix }[];
}

/** Copies of standing lines, first drawn first; those that cannot be read are left out. */
export function* copiesOf(ink: InkStore, ids: readonly string[]): Generator<Pause, CopiedLine[]> {
  const records = ink.standing(ids);
  const copies: CopiedLine[] = [];
  for (let from = 0; from < records.length; from += PART)
    for (const record of yield* ink.readable(records, from, from + PART))
      copies.push({ stroke: record.stroke, bytes: record.bytes!, erasures: ink.erasuresOn(record.stroke.id) });
  return copies;
}
