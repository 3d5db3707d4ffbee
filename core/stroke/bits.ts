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

  constructor(private readonly source: Uint8Array) {}

  bits(width: number): number {
    if (this.bit + width > this.source.length * 8) throw new RangeError('stroke data is cut short');
    let value = 0;
    for (let left = width; left > 0;) {
      const inByte = 8 - (this.bit & 7);
      const take = Math.min(inByte, left);
      const chunk = (this.source[this.bit >> 3] >> (inByte - take)) & ((1 << take) - 1);
      value = value * (1 << take) + chunk;
      this.bit += take;
      left -= take;
    }
    return value;
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
    let quotient = 0;
    while (quotient < ESCAPE && this.bits(1) === 1) quotient++;
    return quotient === ESCAPE ? this.bits(ESCAPED_BITS) : quotient * 2 ** k + this.bits(k);
  }
}
