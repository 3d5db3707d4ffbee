/** Longest unary run in Rice code; a longer one is escaped and followed by 36 plain bits. */
export const ESCAPE = 24;
export const ESCAPED_BITS = 36;

/** Reads what `BitWriter` wrote; reading past the end throws a RangeError. */
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
