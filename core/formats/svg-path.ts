import type { Outline } from '../stroke/outline';
import { curvedOutline } from './curved-outline';

/** Places are written in hundredths of a paper px. */
const UNITS = 100;

/**
 * An outline as SVG path data: cubic curves and straight lines, each relative to where the one before ended.
 * @see SVG 1.1, "Path data": numbers need nothing between them where a sign tells them apart.
 */
export function pathData(outline: Outline): string {
  const out = new PathText();
  for (const { x, y, pieces } of curvedOutline(outline)) {
    out.move(x, y);
    pieces.forEach((piece, n) => {
      if (piece.curve) out.curve(piece.curve);
      // The last side closes the contour by itself.
      else if (n + 1 < pieces.length) out.line(piece.x, piece.y);
    });
    out.close();
  }
  return out.text;
}

/** Writes path data from rounded place to rounded place, so that roundings do not add up. */
class PathText {
  text = '';
  private x = 0;
  private y = 0;
  private startX = 0;
  private startY = 0;
  private command = '';

  move(x: number, y: number): void {
    const [dx, dy] = this.stepTo(x, y);
    [this.startX, this.startY] = [this.x, this.y];
    this.write(this.text ? 'm' : 'M', [dx, dy]);
  }

  line(x: number, y: number): void {
    const [dx, dy] = this.stepTo(x, y);
    if (dx === 0) this.write('v', [dy]);
    else if (dy === 0) this.write('h', [dx]);
    else this.write('l', [dx, dy]);
  }

  curve([, , bx, by, cx, cy, dx, dy]: readonly number[]): void {
    const from = [this.x, this.y];
    const numbers = [bx, by, cx, cy].map((v, i) => Math.round(v * UNITS) - from[i % 2]);
    this.write('c', [...numbers, ...this.stepTo(dx, dy)]);
  }

  close(): void {
    this.text += 'z';
    this.command = 'z';
    [this.x, this.y] = [this.startX, this.startY];
  }

  private stepTo(x: number, y: number): [number, number] {
    const before = [this.x, this.y];
    [this.x, this.y] = [Math.round(x * UNITS), Math.round(y * UNITS)];
    return [this.x - before[0], this.y - before[1]];
  }

  private write(command: string, numbers: readonly number[]): void {
    let text = command === this.command ? '' : command;
    this.command = command;
    for (const number of numbers) {
      const short = shortest(number);
      const isApart = short.startsWith('-') || (text !== '' && /[a-z]$/i.test(text));
      text += isApart ? short : ` ${short}`;
    }
    this.text += text;
  }
}

/** Hundredths in as few signs as can be: `-.5`, `12`. */
const shortest = (hundredths: number): string => String(hundredths / UNITS).replace(/^(-?)0\./, '$1.');
