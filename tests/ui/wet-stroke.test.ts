import { CoverageMask } from '../../core/raster/coverage-mask';
import { addSpine } from '../../core/raster/add-spine';
import { makePen } from '../../core/stroke/pen';
import type { Samples } from '../../core/stroke/samples';
import { spineOf } from '../../core/stroke/spine-maker';
import { WetStroke } from '../../ui/canvas/wet-stroke';
import { handPoints, handSamples } from '../measures/strokes';

const SIDE = 320;
const ALL = { x0: 0, y0: 0, x1: SIDE, y1: SIDE };
const PEN = makePen('dip', 10, 30, true, 1);
const samples = handSamples((u) => [30 + 250 * u, 150 + 60 * Math.sin(u * 9)], { ms: 900 });

/** Feeds a stroke in frames of four samples. */
function draw(stroke: WetStroke, s: Samples, eachFrame: (frame: number) => void = () => {}): void {
  let i = 0;
  for (const point of handPoints(s)) {
    stroke.add(point);
    if (i++ % 4 !== 3) continue;
    stroke.frame(ALL);
    eachFrame(i >> 2);
  }
  stroke.frame(ALL);
}

/** The stroke as tiles will show it, coverage 0 to 255. */
function set(level: number): Uint8Array {
  const mask = new CoverageMask(SIDE, SIDE);
  addSpine(mask, spineOf(samples, PEN, 0.1 / 2 ** level), 2 ** level);
  return mask.data;
}

function painted(stroke: WetStroke): Uint8ClampedArray {
  const out = new Uint8ClampedArray(4 * SIDE * SIDE);
  stroke.paint({ x0: 0, y0: 0, x1: SIDE, y1: SIDE }, out);
  return out;
}

const alphas = (rgba: Uint8ClampedArray) => Uint8Array.from({ length: SIDE * SIDE }, (_, i) => rgba[4 * i + 3]);

describe('wet ink', () => {
  it('is, when the pen leaves, what the tiles will show, to the byte', () => {
    const stroke = new WetStroke(PEN, [10, 20, 30], 0, 1);
    draw(stroke, samples);
    const rgba = painted(stroke);
    expect(Buffer.compare(alphas(rgba), set(0))).toBe(0);
    const inked = alphas(rgba).findIndex((a) => a > 0);
    expect(Array.from(rgba.subarray(4 * inked, 4 * inked + 3))).toEqual([10, 20, 30]);
    expect(stroke.samples()).toEqual(samples);
  });

  it('is as faint as its pen while it is drawn, and as its tiles after', () => {
    const pen = { ...PEN, opacity: 0.4 };
    const stroke = new WetStroke(pen, [0, 0, 0], 0, 1);
    draw(stroke, samples, () => expect(Math.max(...alphas(painted(stroke)))).toBeLessThanOrEqual(102));
    const faint = set(0).map((cover) => Math.round((cover * 102) / 255));
    expect(Buffer.from(alphas(painted(stroke))).equals(Buffer.from(faint))).toBe(true);
    // However wide: what lies beneath is never hidden.
    const wide = new WetStroke({ ...pen, sizePx: 4000 }, [0, 0, 0], 0, 1);
    draw(wide, samples);
    expect([wide.covers(0, 0), painted(wide)[3]]).toEqual([false, 102]);
  });

  it('changes only inside the rectangle that each frame names', () => {
    const stroke = new WetStroke(PEN, [0, 0, 0], 0, 1);
    let before = alphas(painted(stroke));
    let frames = 0;
    let n = 0;
    for (const point of handPoints(samples)) {
      stroke.add(point);
      if (n++ % 12 !== 11) continue;
      const box = stroke.frame(ALL);
      const now = alphas(painted(stroke));
      const outside = now.filter((v, p) => {
        const [x, y] = [p % SIDE, Math.floor(p / SIDE)];
        return v !== before[p] && (x < box.x0 || x >= box.x1 || y < box.y0 || y >= box.y1);
      });
      expect(outside).toHaveLength(0);
      before = now;
      frames++;
    }
    expect(frames).toBeGreaterThan(10);
  });

  it('of another level is what the tiles of that level will show', () => {
    const stroke = new WetStroke(PEN, [0, 0, 0], -1, 1);
    draw(stroke, samples);
    expect(Buffer.compare(alphas(painted(stroke)), set(-1))).toBe(0);
  });

  it('is made only where it can be seen, and takes memory only where it goes', () => {
    const stroke = new WetStroke(PEN, [0, 0, 0], 0, 1);
    for (const point of handPoints(samples)) stroke.add(point);
    expect(stroke.frame({ x0: 600, y0: 600, x1: 900, y1: 900 })).toEqual({ x0: 0, y0: 0, x1: 0, y1: 0 });
    expect(stroke.maskBytes).toBe(0);
    const seen = new WetStroke(PEN, [0, 0, 0], 0, 1);
    for (const point of handPoints(samples)) seen.add(point);
    seen.frame({ x0: 0, y0: 0, x1: 256, y1: 256 });
    expect(seen.maskBytes).toBeLessThanOrEqual(2 * 256 * 256);
  });

  it('of a nib far larger than the screen fills it, and a frame then changes nothing more', () => {
    const wide = makePen('fineliner', 4000, 0, true, 1);
    const stroke = new WetStroke(wide, [0, 0, 0], 0, 1);
    const sight = { x0: 0, y0: 0, x1: 512, y1: 512 };
    const line = handSamples((u) => [100 + 200 * u, 200], { ms: 400 });
    for (const point of handPoints(line)) {
      stroke.add(point);
      stroke.frame(sight);
    }
    const out = new Uint8ClampedArray(4 * 512 * 512);
    stroke.paint(sight, out);
    expect(out.every((v, i) => i % 4 !== 3 || v === 255)).toBe(true);
  });
});
