import type { Erasure, Stroke } from '../core/sheet/entities';
import type { Matrix } from '../core/geometry/matrix';
import type { Pen } from '../core/stroke/pen';
import { decodeFrame, type Parts } from './frame';

/**
 * `GET /api/sheets/:id/strokes`: the body of a frame with all ink of a sheet, tombstones included. Of many strokes most
 * is the same: layers, colours, pens and matrices are listed once, and named by their number in the rows. Not walked
 * on the page beyond what follows here: it is large and comes from our own tables.
 *
 * Parts: `ids` and `orders`, a line each; `rows`, {@link ROW_BYTES} each; `samples`, one stroke's after the other's; and
 * the samples of each erasure as `erasure:ID`.
 */
interface InkBody {
  seq: number;
  layers: string[];
  colours: string[];
  pens: Pen[];
  matrices: Matrix[];
  erasures: Erasure[];
}

/** layer, colour, pen, matrix, bytes of samples (32 bits each, low byte first), engine, deleted (8 each), 0 (16). */
const ROW_BYTES = 24;
const NO_SAMPLES = 0xffffffff;

/** A stroke as its table holds it: pen and matrix still in their JSON. */
export interface StrokeRow {
  id: string;
  layerId: string;
  order: string;
  colour: string;
  penJson: string;
  matrixJson: string;
  engine: number;
  /** 1 for a tombstone, otherwise 0. */
  deleted: number;
  samples: Uint8Array | null;
}

/** Texts numbered as they come, each once. */
class Numbered {
  readonly texts: string[] = [];
  private readonly numbers = new Map<string, number>();

  of(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.texts.length;
      this.numbers.set(text, number);
      this.texts.push(text);
    }
    return number;
  }
}

/** Packs a sheet's ink for the wire; `encodeFrame` makes one body of what it returns. O(rows). */
export function packInk(
  seq: number,
  rows: readonly StrokeRow[],
  erasures: readonly { erasure: Erasure; samples: Uint8Array | null }[],
): { body: InkBody; parts: Parts } {
  const [layers, colours, pens, matrices] = [new Numbered(), new Numbered(), new Numbered(), new Numbered()];
  const packed = new DataView(new ArrayBuffer(ROW_BYTES * rows.length));
  const samples = new Uint8Array(rows.reduce((sum, row) => sum + (row.samples?.length ?? 0), 0));
  let filled = 0;
  rows.forEach((row, i) => {
    const at = ROW_BYTES * i;
    packed.setUint32(at, layers.of(row.layerId), true);
    packed.setUint32(at + 4, colours.of(row.colour), true);
    packed.setUint32(at + 8, pens.of(row.penJson), true);
    packed.setUint32(at + 12, matrices.of(row.matrixJson), true);
    packed.setUint32(at + 16, row.samples?.length ?? NO_SAMPLES, true);
    packed.setUint8(at + 20, row.engine);
    packed.setUint8(at + 21, row.deleted);
    if (row.samples) samples.set(row.samples, filled);
    filled += row.samples?.length ?? 0;
  });
  const lines = (of: 'id' | 'order') => new TextEncoder().encode(rows.map((row) => row[of]).join('\n'));
  const parts: Parts = new Map([
    ['ids', lines('id')],
    ['orders', lines('order')],
    ['rows', new Uint8Array(packed.buffer)],
    ['samples', samples],
  ]);
  for (const { erasure, samples: own } of erasures) if (own) parts.set(`erasure:${erasure.id}`, own);
  const body = {
    seq,
    layers: layers.texts,
    colours: colours.texts,
    pens: pens.texts.map((text) => JSON.parse(text) as Pen),
    matrices: matrices.texts.map((text) => JSON.parse(text) as Matrix),
    erasures: erasures.map(({ erasure }) => erasure),
  };
  return { body, parts };
}

export interface ReadInk {
  seq: number;
  strokes: Stroke[];
  erasures: Erasure[];
  /** Samples by the id of their stroke or erasure: views into the frame. */
  samples: Map<string, Uint8Array>;
}

/** Reads a frame of {@link packInk}. @throws {RangeError} as `decodeFrame` and {@link unpackInk}. */
export const readInk = (frame: Uint8Array, withSamples = true): ReadInk => unpackInk(decodeFrame(frame), withSamples);

/**
 * Unpacks what {@link packInk} has packed. Strokes of one pen share it.
 * @param withSamples false where only the entities are wanted.
 * @throws {RangeError} parts that do not fit each other.
 */
export function unpackInk({ body, parts }: { body: unknown; parts: Parts }, withSamples = true): ReadInk {
  const { seq, layers, colours, pens, matrices, erasures } = body as InkBody;
  const part = (name: string) => parts.get(name) ?? new Uint8Array(0);
  const packed = part('rows');
  const count = packed.length / ROW_BYTES;
  const [ids, orders] = [linesOf(part('ids'), count), linesOf(part('orders'), count)];
  const rows = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const all = part('samples');
  const samples = new Map<string, Uint8Array>();
  const strokes: Stroke[] = [];
  let filled = 0;
  for (let i = 0; i < count; i++) {
    const at = ROW_BYTES * i;
    strokes.push({
      id: ids[i],
      deleted: rows.getUint8(at + 21) === 1,
      layerId: known(layers, rows.getUint32(at, true)),
      order: orders[i],
      colour: known(colours, rows.getUint32(at + 4, true)),
      pen: known(pens, rows.getUint32(at + 8, true)),
      matrix: known(matrices, rows.getUint32(at + 12, true)),
      engine: rows.getUint8(at + 20),
    });
    const length = rows.getUint32(at + 16, true);
    if (length === NO_SAMPLES) continue;
    if (withSamples) samples.set(ids[i], all.subarray(filled, filled + length));
    filled += length;
  }
  if (filled !== all.length) throw new RangeError('the samples of the ink do not fit its rows');
  if (withSamples)
    for (const { id } of erasures) {
      const own = parts.get(`erasure:${id}`);
      if (own) samples.set(id, own);
    }
  return { seq, strokes, erasures, samples };
}

function linesOf(bytes: Uint8Array, count: number): string[] {
  const lines = count === 0 ? [] : new TextDecoder().decode(bytes).split('\n');
  if (lines.length !== count) throw new RangeError('the rows of the ink do not fit each other');
  return lines;
}

function known<T>(list: readonly T[], number: number): T {
  if (number >= list.length) throw new RangeError('the ink names what it does not list');
  return list[number];
}
