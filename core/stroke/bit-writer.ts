import { ESCAPE, ESCAPED_BITS } from './bits';

/** With what is left of the byte before, so many bits stay within what is shifted. */
const MOST_AT_ONCE = 24;

/** Writes whole numbers of any width, most significant bit first, into growing bytes. */
export class BitWriter {
  private buffer = new Uint8Array(256);
  private at = 0;
  private pending = 0;
  private filled = 0;

  /** `width` bits of `value` (0 to 36 bits; value >= 0). */
  bits(value: number, width: number): void {
    if (width > MOST_AT_ONCE) {
      this.bits(Math.floor(value / 2 ** MOST_AT_ONCE), width - MOST_AT_ONCE);
      this.bits(value % 2 ** MOST_AT_ONCE, MOST_AT_ONCE);
      return;
    }
    this.pending = (this.pending << width) | (value & (2 ** width - 1));
    this.filled += width;
    while (this.filled >= 8) {
      this.filled -= 8;
      this.push(this.pending >>> this.filled);
    }
    this.pending &= (1 << this.filled) - 1;
  }

  /** A whole number >= 0 in groups of 7 bits, least first, a leading 1 on all but the last. */
  varint(value: number): void {
    let rest = value;
    while (rest >= 128) {
      this.bits(128 | (rest % 128), 8);
      rest = Math.floor(rest / 128);
    }
    this.bits(rest, 8);
  }

  /** A whole number >= 0 in Rice code with parameter `k`. */
  rice(value: number, k: number): void {
    const quotient = Math.floor(value / 2 ** k);
    if (quotient >= ESCAPE) {
      this.bits(2 ** ESCAPE - 1, ESCAPE);
      this.bits(value, ESCAPED_BITS);
      return;
    }
    this.bits(2 ** (quotient + 1) - 2, quotient + 1);
    this.bits(value % 2 ** k, k);
  }

  /** Everything written, the last byte filled up with zeros. */
  bytes(): Uint8Array {
    const tail = this.filled ? 1 : 0;
    const out = new Uint8Array(this.at + tail);
    out.set(this.buffer.subarray(0, this.at));
    if (tail) out[this.at] = (this.pending << (8 - this.filled)) & 255;
    return out;
  }

  private push(byte: number): void {
    if (this.at === this.buffer.length) {
      const bigger = new Uint8Array(this.buffer.length * 2);
      bigger.set(this.buffer);
      this.buffer = bigger;
    }
    this.buffer[this.at++] = byte;
  }
}
