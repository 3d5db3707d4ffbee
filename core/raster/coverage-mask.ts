/**
 * A rectangle of coverage, 0 to 255 a pixel, row-major, with the part of each row that was touched.
 * Pixel (i, j) covers `x0 + i .. x0 + i + 1` by `y0 + j .. y0 + j + 1` of the level's grid; its centre
 * is at + 1/2. Masks with different origins agree bit for bit where they overlap: every
 * computation uses grid coordinates, never local ones.
 */
export class CoverageMask {
  x0 = 0;
  y0 = 0;
  readonly data: Uint8Array;
  /** Touched columns of each row, `rowFrom <= i < rowTo`; clean rows have `rowFrom > rowTo`. */
  readonly rowFrom: Int32Array;
  readonly rowTo: Int32Array;
  /** Touched rows, `top <= j < bottom`. */
  top: number;
  bottom = 0;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Uint8Array(width * height);
    this.rowFrom = new Int32Array(height).fill(width);
    this.rowTo = new Int32Array(height).fill(-1);
    this.top = height;
  }

  /** Moves the origin; the mask must be clean. */
  placeAt(x0: number, y0: number): void {
    this.x0 = x0;
    this.y0 = y0;
  }

  get isClean(): boolean {
    return this.top >= this.bottom;
  }

  /** Zeroes what was touched; costs only that. */
  clean(): void {
    const { data, width, rowFrom, rowTo } = this;
    for (let j = this.top; j < this.bottom; j++) {
      if (rowTo[j] > rowFrom[j]) data.fill(0, j * width + rowFrom[j], j * width + rowTo[j]);
      rowFrom[j] = width;
      rowTo[j] = -1;
    }
    this.top = this.height;
    this.bottom = 0;
  }
}
