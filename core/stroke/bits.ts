/** Longest unary run in Rice code; a longer one is escaped and followed by 36 plain bits. */
const ESCAPE = 24;
const ESCAPED_BITS = 36;

/** Writes whole numbers of any width, most significant bit first, into growing bytes. */
export class BitWriter {
  private buffer = new Uint8Array(256);
  private at = 0;
  private pending = 0;
  private filled = 0;

  /** `width` bits of `value` (0 to 36 bits; value >= 0). */
  bits(value: number, width: number): void {
    for (let left = width; left > 0;) {
      const take = Math.min(8 - this.filled, left);
      const chunk = Math.floor(value / 2 ** (left - take)) % 2 ** take;
      this.pending = (this.pending << take) | chunk;
      this.filled += take;
      left -= take;
      if (this.filled === 8) this.flush();
    }
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

  private flush(): void {
    if (this.at === this.buffer.length) {
      const bigger = new Uint8Array(this.buffer.length * 2);
      bigger.set(this.buffer);
      this.buffer = bigger;
    }
    this.buffer[this.at++] = this.pending;
    this.pending = 0;
    this.filled = 0;
  }
}

/** Reads what {@link BitWriter} wrote; reading past the end throws a RangeError. */
export class BitReader {
  private bit = 0;
  private readonly end: number;

  constructor(private readonly source: Uint8Array) {
    this.end = source.length * 8;
  }

  bits(width: number): number {
    if (width <= 24) {
      const value = width === 0 ? 0 : this.window() >>> (32 - width);
      this.skip(width);
      return value;
    }
    const high = this.bits(width - 24);
    return high * 2 ** 24 + this.bits(24);
  }

  varint(): number {
    let value = 0;
    for (let scale = 1; scale <= 2 ** 42; scale *= 128) {
      const group = this.bits(8);
      value += (group & 127) * scale;
      if (group < 128) return value;
    }
    throw new RangeError('a number in the stroke data is too long');
  }

  rice(k: number): number {
    const quotient = Math.clz32(~this.window());
    if (quotient >= ESCAPE) {
      this.skip(ESCAPE);
      return this.bits(ESCAPED_BITS);
    }
    this.skip(quotient + 1);
    return quotient * (1 << k) + this.bits(k);
  }

  /** The next 32 bits as a signed word, zeros past the end. */
  private window(): number {
    const { source, bit } = this;
    const at = bit >> 3;
    const shift = bit & 7;
    const word = (source[at] << 24) | (source[at + 1] << 16) | (source[at + 2] << 8) | source[at + 3];
    return shift === 0 ? word : (word << shift) | (source[at + 4] >>> (8 - shift));
  }

  private skip(width: number): void {
    this.bit += width;
    if (this.bit > this.end) throw new RangeError('stroke data is cut short');
  }
}
