import { intersection, isEmpty, union, type Box } from '../../core/geometry/box';
import { addInk } from '../../core/raster/add-ink';
import type { SpinePart } from '../../core/raster/add-spine';
import { inkStrength } from '../../core/raster/compose';
import { CoverageMask } from '../../core/raster/coverage-mask';
import { gridArea, spineBox } from '../../core/raster/draw-stroke';
import { Grain } from '../../core/raster/grain';
import { div255, type Rgb } from '../../core/raster/pixels';
import { eachTile, TILE, tileBox, tilesOver } from '../../core/raster/tiles';
import { toleranceAt } from '../../core/sheet/ink-box';
import { footprintOf } from '../../core/stroke/footprint';
import type { Pen } from '../../core/stroke/pen';
import { flattened, type StrokePath } from '../../core/stroke/path';
import { PathBuilder } from '../../core/stroke/path-builder';
import {
  emptySamples,
  handPointAt,
  SampleRecorder,
  unitLog2For,
  type HandPoint,
  type Samples,
} from '../../core/stroke/samples';
import { partOf, Spine } from '../../core/stroke/spine';
import { SpineBuilder, type Builder } from '../../core/stroke/spine-builder';

const NOWHERE: Box = { x0: 0, y0: 0, x1: 0, y1: 0 };

/** Wet ink of one tile of the grid: what has settled, and the tail that may still change. */
interface WetTile {
  settled: CoverageMask;
  /** A single disc of the settled part covers all of it: nothing more can change. */
  isFull: boolean;
  tail: CoverageMask | undefined;
  /** A single disc of the tail covers all of it, for now. */
  isTailFull: boolean;
  /** It was full when it was looked at last. */
  wasFull: boolean;
}

/**
 * The stroke that is being drawn, or one that waits for its tiles. Settled cones are max-blended once
 * into masks of one tile each, made where the stroke goes; the short tail that may still change is
 * redrawn each frame in others. A frame costs what is new, however long the stroke has become, and
 * memory is that of the tiles touched.
 */
export class WetStroke {
  readonly recorder: SampleRecorder;
  /** Everything touched so far, grid px. */
  area: Box = NOWHERE;
  private readonly builder: Builder;
  private readonly tail = new Spine();
  /** Cones in the settled masks. The joint after a cone takes the next one: the last settled cone waits for it. */
  private drawn = 0;
  private tailArea: Box = NOWHERE;
  private readonly tiles = new Map<string, WetTile>();
  private readonly spareTails: CoverageMask[] = [];
  /** Tiles that were drawn into since the frame began, and those that look different after it. */
  private readonly touched = new Set<string>();
  private readonly changed = new Set<string>();

  /** How many samples it is made of. */
  count = 0;
  private guessed: readonly HandPoint[] = [];
  private readonly strength: number;
  /** Its ink is not the same all over its nib: no disc covers anything wholly. */
  private readonly isUneven: boolean;
  private readonly grain: Grain | undefined;

  /**
   * @param devicePxPerPaperPx decides how finely the hand is recorded.
   * @param path what it is, where it was set by nodes; nothing is added to it.
   */
  constructor(
    readonly pen: Pen,
    readonly colour: Rgb,
    readonly level: number,
    devicePxPerPaperPx: number,
    readonly path?: StrokePath,
  ) {
    this.recorder = new SampleRecorder(unitLog2For(devicePxPerPaperPx));
    this.builder = path ? new PathBuilder() : new SpineBuilder(pen, toleranceAt(level));
    if (path) this.addPath(path);
    this.strength = inkStrength(pen.opacity);
    this.isUneven = footprintOf(pen) !== undefined;
    this.grain = pen.grain ? new Grain(2 ** level, pen.grain) : undefined;
  }

  private addPath(path: StrokePath): void {
    const { builder } = this;
    builder.restart(this.pen, toleranceAt(this.level));
    const samples = flattened(path, emptySamples());
    for (let i = 0; i < samples.count; i++) {
      const { x, y, tMs, pressure } = handPointAt(samples, i);
      builder.push(x, y, tMs, pressure, samples.altitude[i], samples.azimuth[i]);
    }
    this.count = samples.count;
  }

  /** Where the device thinks that the pen goes next: drawn in the next frame, and never kept. */
  guess(points: readonly HandPoint[]): void {
    this.guessed = points;
  }

  add(point: HandPoint): void {
    const p = this.recorder.add(point);
    this.count++;
    this.builder.push(p.x, p.y, p.tMs, p.pressure, p.altitudeDeg, p.azimuthDeg);
  }

  /**
   * Draws what came since the last frame.
   * @param sight grid px that can be seen: nothing is drawn elsewhere.
   * @returns the grid px that changed (possibly empty); read them with {@link paint}.
   */
  frame(sight: Box): Box {
    const { builder } = this;
    const scale = 2 ** this.level;
    builder.settle();
    const fresh = gridArea(boxFrom(builder.spine, this.drawn), scale);
    this.touched.clear();
    this.addTo(fresh, sight, builder.spine, this.drawn, { from: this.drawn, ends: false }, false);
    this.drawn = Math.max(0, builder.spine.count - 2);
    this.changed.clear();
    for (const [key, tile] of this.tiles) {
      tile.wasFull = tile.isFull ? tile.wasFull : tile.isTailFull;
      if (this.freeTail(tile)) this.changed.add(key);
    }
    for (const key of this.touched) this.changed.add(key);
    // The cone that waits, after the one that it joins.
    builder.tail(this.tail, 3, this.guessed);
    // Only of a path all is there to be filled.
    this.tail.fill = this.path && this.pen.fill;
    this.guessed = [];
    const before = this.tailArea;
    this.tailArea = gridArea(spineBox(this.tail), scale);
    this.addTo(this.tailArea, sight, this.tail, 0, { from: this.drawn > 0 ? 1 : 0 }, true);
    for (const key of this.touched) this.changed.add(key);
    // A tile that was full and still is looks as it did.
    for (const key of this.changed) {
      const tile = this.tiles.get(key)!;
      if (tile.wasFull && (tile.isFull || tile.isTailFull)) this.changed.delete(key);
      if (tile.isFull) tile.wasFull = true;
    }
    const dirty = intersection(union(union(before, this.tailArea), fresh), sight);
    if (isEmpty(dirty)) return NOWHERE;
    this.area = isEmpty(this.area) ? dirty : union(this.area, dirty);
    return dirty;
  }

  /** Whether the stroke covers a tile of its level wholly, and hides what lies beneath. */
  covers(tx: number, ty: number): boolean {
    const tile = this.tiles.get(`${tx}/${ty}`);
    return this.strength === 255 && tile !== undefined && (tile.isFull || tile.isTailFull);
  }

  /** Whether a tile of its level looks different after the last frame. */
  hasChanged(tx: number, ty: number): boolean {
    return this.changed.has(`${tx}/${ty}`);
  }

  /** Writes the wet ink of `box` (grid px) as unmultiplied RGBA, row-major, into zeroed memory. */
  paint(box: Box, out: Uint8ClampedArray): void {
    const [r, g, b] = this.colour;
    const colour = (b << 16) | (g << 8) | r;
    // Whole pixels as little-endian words (alpha highest), as on every platform that we run on.
    const words = new Uint32Array(out.buffer, out.byteOffset, out.length >> 2);
    const width = box.x1 - box.x0;
    const { strength } = this;
    eachTile(tilesOver(box), (tx, ty) => {
      const tile = this.tiles.get(`${tx}/${ty}`);
      if (!tile) return;
      const part = intersection(tileBox(tx, ty), box);
      for (const mask of tile.tail ? [tile.settled, tile.tail] : [tile.settled])
        for (let y = Math.max(part.y0, mask.y0 + mask.top); y < Math.min(part.y1, mask.y0 + mask.bottom); y++) {
          const j = y - mask.y0;
          const row = j * mask.width - mask.x0;
          const to = Math.min(part.x1, mask.x0 + mask.rowTo[j]);
          let at = (y - box.y0) * width - box.x0;
          const grained = this.grain?.row(y);
          for (let x = Math.max(part.x0, mask.x0 + mask.rowFrom[j]); x < to; x++) {
            let cover = mask.data[row + x];
            if (grained && cover > 0) cover = grained(cover, x);
            if (strength < 255) cover = div255(cover * strength);
            if (cover !== 0 && cover > words[at + x] >>> 24) words[at + x] = ((cover << 24) | colour) >>> 0;
          }
        }
    });
  }

  /** Where the line lies, seen or not, paper px. */
  get paperArea(): Box {
    return union(spineBox(this.builder.spine), spineBox(this.tail));
  }

  samples(): Samples {
    return this.recorder.samples();
  }

  /** Bytes of its masks. */
  get maskBytes(): number {
    let tails = this.spareTails.length;
    for (const tile of this.tiles.values()) if (tile.tail) tails++;
    return (this.tiles.size + tails) * TILE * TILE;
  }

  /** Adds a part of a spine to the masks of the tiles that it touches. @param since the first point that is new. */
  private addTo(area: Box, sight: Box, spine: Spine, since: number, part: SpinePart, isTail: boolean): void {
    const seen = intersection(area, sight);
    if (isEmpty(seen)) return;
    const scale = 2 ** this.level;
    eachTile(tilesOver(seen), (tx, ty) => {
      const key = `${tx}/${ty}`;
      let tile = this.tiles.get(key);
      if (!tile)
        this.tiles.set(
          key,
          (tile = { settled: maskAt(tx, ty), isFull: false, tail: undefined, isTailFull: false, wasFull: false }),
        );
      if (tile.isFull) return;
      this.touched.add(key);
      const mask = isTail ? (tile.tail ??= this.tailMask(tx, ty)) : tile.settled;
      if (!this.isUneven && discCovers(spine, since, scale, tileBox(tx, ty))) {
        fill(mask);
        if (isTail) tile.isTailFull = true;
        else tile.isFull = true;
      } else addInk(mask, spine, scale, part);
    });
  }

  private tailMask(tx: number, ty: number): CoverageMask {
    const spare = this.spareTails.pop();
    if (!spare) return maskAt(tx, ty);
    spare.placeAt(tx * TILE, ty * TILE);
    return spare;
  }

  /** @returns whether the tile had a part of the tail. */
  private freeTail(tile: WetTile): boolean {
    if (!tile.tail) return false;
    tile.tail.clean();
    this.spareTails.push(tile.tail);
    tile.tail = undefined;
    tile.isTailFull = false;
    return true;
  }
}

function maskAt(tx: number, ty: number): CoverageMask {
  const mask = new CoverageMask(TILE, TILE);
  mask.placeAt(tx * TILE, ty * TILE);
  return mask;
}

function fill(mask: CoverageMask): void {
  mask.data.fill(255);
  mask.rowFrom.fill(0);
  mask.rowTo.fill(mask.width);
  mask.top = 0;
  mask.bottom = mask.height;
}

/** Whether one disc of the spine from point `since` on covers every pixel of `box` (grid px) wholly. */
function discCovers({ data, count }: Spine, since: number, scale: number, box: Box): boolean {
  for (let i = 3 * since; i < 3 * count; i += 3) {
    const r = data[i + 2] * scale - 1;
    if (r < TILE / 2) continue;
    const dx = Math.max(data[i] * scale - box.x0, box.x1 - data[i] * scale);
    const dy = Math.max(data[i + 1] * scale - box.y0, box.y1 - data[i + 1] * scale);
    if (dx * dx + dy * dy <= r * r) return true;
  }
  return false;
}

function boxFrom(spine: Spine, from: number): Box {
  const box = spineBox(partOf(spine, from, spine.count));
  return isEmpty(box) ? NOWHERE : box;
}
