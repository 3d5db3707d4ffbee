import { isEmpty, union, type Box } from '../../core/geometry/box';
import { addSpine } from '../../core/raster/add-spine';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { gridArea, spineBox } from '../../core/raster/draw-stroke';
import type { Rgb } from '../../core/raster/pixels';
import { toleranceAt } from '../../core/sheet/ink-store';
import type { Pen } from '../../core/stroke/pen';
import { SampleRecorder, unitLog2For, type HandPoint, type Samples } from '../../core/stroke/samples';
import { Spine } from '../../core/stroke/spine';
import { SpineBuilder } from '../../core/stroke/spine-builder';

/** The masks that wet ink is made in, in the grid of the tile level in use; one pair a window. */
export interface WetMasks {
  settled: CoverageMask;
  tail: CoverageMask;
}

export const makeWetMasks = (x0: number, y0: number, width: number, height: number): WetMasks => {
  const masks = { settled: new CoverageMask(width, height), tail: new CoverageMask(width, height) };
  masks.settled.placeAt(x0, y0);
  masks.tail.placeAt(x0, y0);
  return masks;
};

/**
 * The stroke that is being drawn. Settled cones are max-blended once into one mask; the short tail
 * that may still change is redrawn each frame in another. A frame costs what is new, however
 * long the stroke has become.
 */
export class WetStroke {
  readonly recorder: SampleRecorder;
  /** Everything touched so far, grid px. */
  area: Box = { x0: 0, y0: 0, x1: 0, y1: 0 };
  private builder: SpineBuilder;
  private readonly tail = new Spine();
  /** Cones in the settled mask. The joint after a cone takes the next one: the last settled cone waits for it. */
  private drawn = 0;
  private tailArea: Box = { x0: 0, y0: 0, x1: 0, y1: 0 };

  /**
   * @param masks clean; `finish` or `drop` cleans them again.
   * @param devicePxPerPaperPx decides how finely the hand is recorded.
   */
  constructor(
    readonly pen: Pen,
    readonly colour: Rgb,
    private level: number,
    private masks: WetMasks,
    devicePxPerPaperPx: number,
  ) {
    this.recorder = new SampleRecorder(unitLog2For(devicePxPerPaperPx));
    this.builder = new SpineBuilder(pen, toleranceAt(level));
  }

  add(point: HandPoint): void {
    const p = this.recorder.add(point);
    this.builder.push(p.x, p.y, p.tMs, p.pressure);
  }

  /**
   * Draws what came since the last frame.
   * @returns the grid px that changed (possibly empty); read them with {@link paint}.
   */
  frame(): Box {
    const { builder, masks } = this;
    const scale = 2 ** this.level;
    builder.settle();
    const fresh = boxFrom(builder.spine, this.drawn);
    addSpine(masks.settled, builder.spine, scale, { from: this.drawn, ends: false });
    this.drawn = Math.max(0, builder.spine.count - 2);
    masks.tail.clean();
    // The cone that waits, after the one that it joins.
    builder.tail(this.tail, 3);
    addSpine(masks.tail, this.tail, scale, { from: this.drawn > 0 ? 1 : 0 });
    const before = this.tailArea;
    this.tailArea = gridArea(spineBox(this.tail), scale);
    const dirty = union(union(before, this.tailArea), gridArea(fresh, scale));
    this.area = union(this.area, dirty);
    return dirty;
  }

  /** Writes the wet ink of `box` (grid px, inside the masks) as unmultiplied RGBA, row-major. */
  paint(box: Box, out: Uint8ClampedArray): void {
    const { settled, tail } = this.masks;
    const [r, g, b] = this.colour;
    let at = 0;
    for (let y = box.y0; y < box.y1; y++) {
      let m = (y - settled.y0) * settled.width + box.x0 - settled.x0;
      for (let x = box.x0; x < box.x1; x++, m++, at += 4) {
        const a = settled.data[m];
        const c = tail.data[m];
        out[at] = r;
        out[at + 1] = g;
        out[at + 2] = b;
        out[at + 3] = a > c ? a : c;
      }
    }
  }

  /** Moves the stroke to other masks (the view's window changed) and draws all of it there. */
  rebase(level: number, masks: WetMasks): void {
    this.clean();
    this.level = level;
    this.masks = masks;
    this.builder = new SpineBuilder(this.pen, toleranceAt(level));
    for (let i = 0; i < this.recorder.count; i++) {
      const p = this.recorder.at(i);
      this.builder.push(p.x, p.y, p.tMs, p.pressure);
    }
    this.drawn = 0;
    this.area = this.tailArea = { x0: 0, y0: 0, x1: 0, y1: 0 };
    this.frame();
  }

  /** Cleans the masks. */
  clean(): void {
    this.masks.settled.clean();
    this.masks.tail.clean();
  }

  samples(): Samples {
    return this.recorder.samples();
  }
}

function boxFrom(spine: Spine, from: number): Box {
  const part = new Spine();
  part.data = spine.data.subarray(3 * from, 3 * spine.count);
  part.count = spine.count - from;
  const box = spineBox(part);
  return isEmpty(box) ? { x0: 0, y0: 0, x1: 0, y1: 0 } : box;
}
