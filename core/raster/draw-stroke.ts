import { grow, intersection, isEmpty, outward, overlaps, type Box } from '../geometry/box';
import type { Spine } from '../stroke/spine';
import { addInk } from './add-ink';
import { cutMask, fadeMask, fadeUnder, inkStrength, pourMask } from './compose';
import { CoverageMask } from './coverage-mask';
import { grainMask } from './grain';
import { boxOfPixels, type Pixels, type Rgb } from './pixels';

/** A stroke ready to be drawn: everything in paper px. */
export interface DrawableStroke {
  spine: Spine;
  box: Box;
  colour: Rgb;
  /** 0 to 1; absent: 1. */
  opacity?: number;
  /** It takes away from what lies below it, where it would lay ink. */
  fades?: boolean;
  /** Erasures that take away from this stroke. */
  holes: readonly { spine: Spine; box: Box }[];
}

/** Scratch memory for drawing into rectangles of one size; owned by the caller, clean between uses. */
export class RasterWorkspace {
  readonly mask: CoverageMask;
  readonly hole: CoverageMask;

  constructor(width: number, height: number) {
    this.mask = new CoverageMask(width, height);
    this.hole = new CoverageMask(width, height);
  }
}

/** The bounding box of a spine's discs; empty for an empty spine. */
export function spineBox({ data, count }: Spine): Box {
  const box: Box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i < 3 * count; i += 3) {
    const r = data[i + 2];
    if (data[i] - r < box.x0) box.x0 = data[i] - r;
    if (data[i] + r > box.x1) box.x1 = data[i] + r;
    if (data[i + 1] - r < box.y0) box.y0 = data[i + 1] - r;
    if (data[i + 1] + r > box.y1) box.y1 = data[i + 1] + r;
  }
  return box;
}

/**
 * Draws one stroke over `target` (source-over; destination-out where it fades), less its erasures.
 * @param scale grid px per paper px.
 * @param work of at least the size of `target`, clean; clean again on return.
 */
export function drawStroke(target: Pixels, stroke: DrawableStroke, scale: number, work: RasterWorkspace): void {
  const { mask, hole } = work;
  const grid = gridArea(stroke.box, scale);
  const { x0, y0, x1, y1 } = intersection(grid, boxOfPixels(target));
  if (x1 <= x0 || y1 <= y0) return;
  mask.placeAt(x0, y0, x1 - x0, y1 - y0);
  const strength = inkStrength(stroke.opacity);
  const grain = stroke.spine.footprint?.grain ?? 0;
  // Whole pixels of a flat need no mask, however many they are.
  const isFlat = stroke.spine.fill && !stroke.fades && !stroke.holes.length && strength === 255 && grain === 0;
  const whole: number[] | undefined = isFlat ? [] : undefined;
  addInk(mask, stroke.spine, scale, {}, whole);
  if (grain > 0) grainMask(mask, scale, grain);
  for (const { spine, box } of mask.isClean ? [] : stroke.holes) {
    if (!overlaps(gridArea(box, scale), { x0, y0, x1, y1 })) continue;
    hole.placeAt(x0, y0, x1 - x0, y1 - y0);
    addInk(hole, spine, scale);
    cutMask(mask, hole);
    hole.clean();
  }
  if (strength < 255) fadeMask(mask, strength);
  if (stroke.fades) fadeUnder(target, mask);
  else pourMask(target, mask, stroke.colour, whole);
}

/** The paper px that a rectangle of the grid can show, with the half px that a ramp reaches out. */
export const paperArea = (p: Omit<Pixels, 'data'>, scale: number): Box =>
  grow({ x0: p.x0 / scale, y0: p.y0 / scale, x1: (p.x0 + p.width) / scale, y1: (p.y0 + p.height) / scale }, 1 / scale);

/** The whole grid px that something in `box` (paper px) can touch. */
export function gridArea(box: Box, scale: number): Box {
  if (isEmpty(box)) return box;
  return outward(grow({ x0: box.x0 * scale, y0: box.y0 * scale, x1: box.x1 * scale, y1: box.y1 * scale }, 1));
}
