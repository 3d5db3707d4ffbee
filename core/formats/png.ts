import { Deflate } from 'pako';

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
  private readonly chunks: Uint8Array[] = [];
  private readonly zlib = new Deflate({ level: 6 });
  private previous: Uint8Array;
  private rowsLeft: number;

  /** @throws {RangeError} a side that is not 1 to 2^31 - 1. */
  constructor(private readonly head: PngHead) {
    for (const side of [head.width, head.height])
      if (!Number.isInteger(side) || side < 1 || side > 2 ** 31 - 1)
        throw new RangeError(`a PNG side is 1 to 2^31 - 1, not ${side}`);
    this.previous = new Uint8Array(head.width * head.channels);
    this.rowsLeft = head.height;
    this.zlib.onData = (data: Uint8Array) => {
      if (data.length) this.chunks.push(chunk('IDAT', data));
    };
    this.chunks.push(SIGNATURE, chunk('IHDR', header(head)), chunk('sRGB', Uint8Array.of(0)));
    if (head.ppi) this.chunks.push(chunk('pHYs', physical(head.ppi)));
  }

  /**
   * Adds whole rows, top first. `rows` is not modified.
   * @throws {RangeError} a part of a row, or more rows than the picture has.
   */
  write(rows: Uint8Array | Uint8ClampedArray): void {
    const stride = this.head.width * this.head.channels;
    const count = rows.length / stride;
    if (!Number.isInteger(count) || count > this.rowsLeft)
      throw new RangeError(`${count} rows for the ${this.rowsLeft} that are left`);
    const out = new Uint8Array(count * (stride + 1));
    for (let j = 0; j < count; j++) {
      const row = new Uint8Array(rows.buffer, rows.byteOffset + j * stride, stride);
      filterRow(row, this.previous, this.head.channels, out.subarray(j * (stride + 1), (j + 1) * (stride + 1)));
      this.previous = row.slice();
    }
    this.rowsLeft -= count;
    this.zlib.push(out, this.rowsLeft === 0);
  }

  /** The parts of the finished file. @throws {RangeError} rows are missing. */
  finish(): Uint8Array[] {
    if (this.rowsLeft) throw new RangeError(`${this.rowsLeft} rows are missing`);
    this.chunks.push(chunk('IEND', new Uint8Array()));
    return this.chunks;
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

/** Writes the filter type and the filtered row: none, sub or up, whichever has the least sum (section 12.7). */
function filterRow(row: Uint8Array, above: Uint8Array, bpp: number, out: Uint8Array): void {
  let none = 0;
  let sub = 0;
  let up = 0;
  for (let i = 0; i < row.length; i++) {
    const v = row[i];
    none += magnitude(v);
    sub += magnitude((v - (i < bpp ? 0 : row[i - bpp])) & 255);
    up += magnitude((v - above[i]) & 255);
  }
  const type = up <= sub && up <= none ? 2 : sub <= none ? 1 : 0;
  out[0] = type;
  for (let i = 0; i < row.length; i++) {
    const from = type === 2 ? above[i] : type === 1 && i >= bpp ? row[i - bpp] : 0;
    out[i + 1] = row[i] - from;
  }
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
