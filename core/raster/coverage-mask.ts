const NEVER = 0x7fffffff;

/**
 * A rectangle of coverage, 0 to 255 a pixel, row-major, with the part of each row that was touched.
 * Pixel (i, j) covers `x0 + i .. x0 + i + 1` by `y0 + j .. y0 + j + 1` of the level's grid; its centre
 * is at + 1/2. Masks with different origins agree bit for bit where they overlap: every
 * computation uses grid coordinates, never local ones.
 */
export class CoverageMask {
  x0 = 0;
  y0 = 0;
  width: number;
  height: number;
  readonly data: Uint8Array;
  /** Touched columns of each row, `rowFrom <= i < rowTo`; clean rows have `rowFrom > rowTo`. */
  readonly rowFrom: Int32Array;
  readonly rowTo: Int32Array;
  /** Touched rows, `top <= j < bottom`. */
  top: number;
  bottom = 0;

  /** A clean mask at the origin; `width * height` and `height` are also the most that it can hold. */
  constructor(width: number, height: number) {
    this.width = width;
    this.height = height;
    this.data = new Uint8Array(width * height);
    this.rowFrom = new Int32Array(height).fill(NEVER);
    this.rowTo = new Int32Array(height).fill(-1);
    this.top = height;
  }

  /**
   * Moves the mask, which must be clean, and gives it another shape within its memory: the smaller
   * the rectangle, the closer together its rows.
   * @throws {RangeError} more pixels or rows than the mask was made for.
   */
  placeAt(x0: number, y0: number, width = this.width, height = this.height): void {
    if (width * height > this.data.length || height > this.rowFrom.length)
      throw new RangeError(`a mask of ${this.data.length} px cannot take ${width} x ${height}`);
    this.x0 = x0;
    this.y0 = y0;
    this.width = width;
    this.height = height;
    this.top = height;
  }

  get isClean(): boolean {
    return this.top >= this.bottom;
  }

  /** Zeroes what was touched; costs only that. */
  clean(): void {
    const { data, width, rowFrom, rowTo } = this;
    for (let j = this.top; j < this.bottom; j++)
      if (rowTo[j] > rowFrom[j]) data.fill(0, j * width + rowFrom[j], j * width + rowTo[j]);
    this.forget();
  }

  /** Takes what was touched for clean again: whoever calls this has zeroed it. */
  forget(): void {
    if (this.top < this.bottom) {
      this.rowFrom.fill(NEVER, this.top, this.bottom);
      this.rowTo.fill(-1, this.top, this.bottom);
    }
    this.top = this.height;
    this.bottom = 0;
  }
}
