import { wordsOf } from '../raster/pixels';
import { deflating, type Deflating } from './deflating';

/** What a PNG file says besides its pixels. */
export interface PngHead {
  width: number;
  height: number;
  /** Resolution, written as pHYs in pixels per metre. */
  ppi?: number;
  /** Colour and alpha (4 bytes a pixel), or opaque colour (3 bytes a pixel). */
  channels: 3 | 4;
}

const SIGNATURE = Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10);
const METRES_PER_INCH = 0.0254;

/**
 * Writes a PNG row by row, so that a picture of any size needs only one strip in memory.
 * 8 bits a channel, not interlaced, sRGB; colour not multiplied by alpha.
 * @see W3C PNG (third edition): chunks IHDR, sRGB, pHYs, IDAT, IEND; filters of section 9.
 */
export class PngWriter {
  private previous: Int32Array;
  private rowsLeft: number;
  /** Rows that are as those above them, filtered. */
  private same = new Uint8Array();

  /** @throws {RangeError} a side that is not 1 to 2^31 - 1. */
  constructor(
    private readonly head: PngHead,
    private readonly zlib: Deflating = deflating(),
  ) {
    for (const side of [head.width, head.height])
      if (!Number.isInteger(side) || side < 1 || side > 2 ** 31 - 1)
        throw new RangeError(`a PNG side is 1 to 2^31 - 1, not ${side}`);
    this.previous = new Int32Array(head.width);
    this.rowsLeft = head.height;
  }

  /**
   * Adds whole rows, top first: RGBA, of which a picture of three channels leaves alpha out. `rows` is not modified.
   * @returns what to wait for before more comes, if anything.
   * @throws {RangeError} a part of a row, or more rows than the picture has.
   */
  write(rows: Uint8ClampedArray<ArrayBuffer>): Promise<unknown> | undefined {
    const { width, channels } = this.head;
    const count = rows.length / (4 * width);
    if (!Number.isInteger(count) || count > this.rowsLeft)
      throw new RangeError(`${count} rows for the ${this.rowsLeft} that are left`);
    const words = wordsOf(rows);
    const stride = width * channels + 1;
    const out = new Uint8Array(count * stride);
    let above = this.previous;
    for (let j = 0; j < count; j++) {
      const row = words.subarray(j * width, (j + 1) * width);
      filterRow(row, above, channels, out.subarray(j * stride, (j + 1) * stride));
      above = row;
    }
    this.previous = above.slice();
    this.rowsLeft -= count;
    return this.zlib.push(out);
  }

  /** Adds rows that are as the last one; all 0 where there is none. Returns and throws as {@link write}. */
  repeat(count: number): Promise<unknown> | undefined {
    if (count > this.rowsLeft) throw new RangeError(`${count} rows for the ${this.rowsLeft} that are left`);
    const stride = this.head.width * this.head.channels + 1;
    if (this.same.length !== count * stride) {
      this.same = new Uint8Array(count * stride);
      for (let j = 0; j < count; j++) this.same[j * stride] = UP;
    }
    this.rowsLeft -= count;
    return this.zlib.push(this.same);
  }

  /** The parts of the finished file. Yields what to wait for. @throws {RangeError} rows are missing. */
  *finish(): Generator<Promise<unknown>, Uint8Array[]> {
    if (this.rowsLeft) throw new RangeError(`${this.rowsLeft} rows are missing`);
    const ended = this.zlib.end();
    let packed: Uint8Array[] = [];
    if (ended instanceof Promise) yield ended.then((parts) => (packed = parts));
    else packed = ended;
    const { head } = this;
    return [
      SIGNATURE,
      chunk('IHDR', header(head)),
      chunk('sRGB', Uint8Array.of(0)),
      ...(head.ppi ? [chunk('pHYs', physical(head.ppi))] : []),
      ...packed.map((data) => chunk('IDAT', data)),
      chunk('IEND', new Uint8Array()),
    ];
  }
}

function header({ width, height, channels }: PngHead): Uint8Array {
  const data = new Uint8Array(13);
  const view = new DataView(data.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  data[8] = 8;
  data[9] = channels === 4 ? 6 : 2;
  return data;
}

function physical(ppi: number): Uint8Array {
  const data = new Uint8Array(9);
  const view = new DataView(data.buffer);
  const perMetre = Math.round(ppi / METRES_PER_INCH);
  view.setUint32(0, perMetre);
  view.setUint32(4, perMetre);
  data[8] = 1;
  return data;
}

const [NONE, SUB, UP] = [0, 1, 2];

/**
 * Writes the filter type and the filtered row: none, sub or up, whichever has the least sum (section 12.7). Most pixels of a
 * drawing are as those beside and above them, and cost next to nothing.
 * @param row pixels as words, and `above` those of the row above. @param out all 0.
 */
function filterRow(row: Int32Array, above: Int32Array, channels: number, out: Uint8Array): void {
  const type = leastSum(row, above, channels);
  out[0] = type;
  for (let x = 0; x < row.length; x++) {
    const base = type === UP ? above[x] : type === SUB && x > 0 ? row[x - 1] : 0;
    if (row[x] !== base) putDifference(row[x], base, channels, out, 1 + x * channels);
  }
}

function leastSum(row: Int32Array, above: Int32Array, channels: number): number {
  let [none, sub, up, left] = [0, 0, 0, 0];
  let [plain, ofPlain] = [0, 0];
  for (let x = 0; x < row.length; x++) {
    const here = row[x];
    const over = above[x];
    if (here === left && here === over) {
      if (here !== plain) [plain, ofPlain] = [here, differenceOf(here, 0, channels)];
      none += ofPlain;
      continue;
    }
    none += differenceOf(here, 0, channels);
    sub += differenceOf(here, left, channels);
    up += differenceOf(here, over, channels);
    left = here;
  }
  if (up <= sub && up <= none) return UP;
  return sub <= none ? SUB : NONE;
}

function differenceOf(a: number, b: number, channels: number): number {
  let sum = 0;
  for (let shift = 0; shift < 8 * channels; shift += 8) sum += magnitude(((a >>> shift) - (b >>> shift)) & 255);
  return sum;
}

/** Words hold red in their lowest byte. */
function putDifference(a: number, b: number, channels: number, out: Uint8Array, at: number): void {
  for (let c = 0; c < channels; c++) out[at + c] = (a >>> (8 * c)) - (b >>> (8 * c));
}

const magnitude = (byte: number): number => (byte < 128 ? byte : 256 - byte);

/** A chunk: its length, type, data and CRC. @see W3C PNG (third edition), 5.3 */
export function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i);
  out.set(data, 8);
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)));
  return out;
}

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

/** The CRC of a chunk's type and data. @see W3C PNG (third edition), annex D. */
function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = CRC_TABLE[(c ^ byte) & 255] ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}
