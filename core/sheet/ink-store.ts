import Flatbush from 'flatbush';
import { grow, overlaps, union, type Box } from '../geometry/box';
import {
  apply as applyMatrix,
  compose,
  IDENTITY,
  invert,
  isIdentity,
  lengthScale,
  type Matrix,
} from '../geometry/matrix';
import { drawStroke, paperArea, spineBox, type DrawableStroke, type RasterWorkspace } from '../raster/draw-stroke';
import { makePixels, parseColour, type Pixels, type Rgb } from '../raster/pixels';
import { ENGINE, type Pen } from '../stroke/pen';
import { Spine } from '../stroke/spine';
import { SpineMaker } from '../stroke/spine-maker';
import { byOrder, type Erasure, type Stroke } from './entities';
import type { Write } from './steps';
import { spinesTouch } from './touching';

/** How far a spine may lie from its curve, in px of the level that shows it. */
export const LEVEL_TOLERANCE_PX = 0.1;
export const toleranceAt = (level: number): number => LEVEL_TOLERANCE_PX / 2 ** level;

/**
 * What a spine is made for: the screen, which keeps it; a file of exactly that level; or a small
 * picture, which takes any finer one that is there. The last two never push out what the screen uses.
 */
export type SpineUse = 'keep' | 'exact' | 'small';

/** New strokes are looked through one by one until there are this many; then the index is rebuilt. */
const LOOSE_LIMIT = 512;
/** Boxes are measured at one level; at another a spine may lie this much further out, paper px. */
const BOX_SLACK_PX = 2;

interface Mark {
  bytes: Uint8Array;
  pen: Pen;
  engine: number;
  matrix: Matrix | undefined;
  box: Box;
  spine: Spine | undefined;
  spineLevel: number;
}

interface StrokeRecord extends Mark {
  stroke: Stroke;
  colour: Rgb;
  holes: ErasureRecord[];
  /** Place in its layer's order; larger is later. */
  rank: number;
  /** Looked for one by one: what the index holds of it, if anything, is out of date. */
  isLoose: boolean;
}

interface ErasureRecord extends Mark {
  erasure: Erasure;
}

/**
 * The strokes of a sheet, ready to be drawn at any level: samples, boxes, spines of the level in
 * use, and an index of where they lie. Layers' own fields are not needed here.
 */
export class InkStore {
  private readonly strokes = new Map<string, StrokeRecord>();
  private readonly erasures = new Map<string, ErasureRecord>();
  private indexed: StrokeRecord[] = [];
  private index: Flatbush | undefined;
  private loose: StrokeRecord[] = [];
  private nextRank = 0;
  /** The topmost stroke of each layer, by its place. */
  private readonly tops = new Map<string, { order: string; id: string }>();
  private readonly maker = new SpineMaker();
  /** Ids of strokes and erasures whose samples are missing or cannot be read; they are left out. */
  readonly unreadable: string[] = [];

  /** @param level where boxes are first measured; the level that is about to be shown saves work. */
  constructor(private readonly level = 0) {}

  get size(): number {
    return this.strokes.size;
  }

  /** Fills an empty store; what cannot be read is left out and named in `unreadable`. */
  load(strokes: readonly Stroke[], erasures: readonly Erasure[], parts: ReadonlyMap<string, Uint8Array>): void {
    for (const stroke of [...strokes].sort(byOrder))
      this.reading(stroke.id, () => this.addStroke(stroke, partOf(parts, stroke.id)));
    for (const erasure of erasures) this.reading(erasure.id, () => this.addErasure(erasure, partOf(parts, erasure.id)));
    this.reindex();
  }

  /**
   * Follows a step's writes.
   * @returns what changed on the page: boxes (paper px) by layer, and for each the stroke that was
   *   merely added on top of everything, if that is all that happened.
   */
  follow(writes: readonly Write[], parts: ReadonlyMap<string, Uint8Array>): Damage[] {
    const damage: Damage[] = [];
    let ranksMoved = false;
    for (const write of writes) {
      if (write.kind === 'insert' && write.table === 'strokes') {
        const record = this.reading(write.row.id, () =>
          this.addStroke(write.row as Stroke, partOf(parts, write.row.id)),
        );
        if (!record) continue;
        this.makeLoose(record);
        const onTop = this.tops.get(record.stroke.layerId)?.id === record.stroke.id && !record.stroke.deleted;
        damage.push({ layerId: record.stroke.layerId, box: record.box, added: onTop ? record.stroke.id : undefined });
      } else if (write.kind === 'insert' && write.table === 'erasures') {
        damage.push(
          ...(this.reading(write.row.id, () => this.addErasure(write.row as Erasure, partOf(parts, write.row.id))) ??
            []),
        );
      } else if (write.kind === 'assign' && write.table === 'strokes') {
        const record = this.strokes.get(write.id);
        if (!record) continue;
        damage.push({ layerId: record.stroke.layerId, box: record.box });
        record.stroke = { ...record.stroke, [write.field]: write.value };
        if (write.field === 'order' || write.field === 'layerId') ranksMoved = true;
        this.refresh(record);
        damage.push({ layerId: record.stroke.layerId, box: record.box });
      } else if (write.kind === 'assign' && write.table === 'erasures') {
        const record = this.erasures.get(write.id);
        if (!record) continue;
        record.erasure = { ...record.erasure, [write.field]: write.value };
        damage.push(...this.damageOf(record));
      }
    }
    if (ranksMoved) this.rerank();
    if (this.loose.length > LOOSE_LIMIT) this.reindex();
    return merged(damage);
  }

  /** Standing strokes of a layer that can touch `box` (paper px), first drawn first. */
  find(layerId: string, box: Box): StrokeRecord[] {
    const known = (this.index?.search(box.x0, box.y0, box.x1, box.y1) ?? []).map((i) => this.indexed[i]);
    const hits = known.filter((r) => !r.isLoose).concat(this.loose.filter((r) => overlaps(r.box, box)));
    return hits.filter((r) => r.stroke.layerId === layerId && !r.stroke.deleted).sort((a, b) => a.rank - b.rank);
  }

  /** Ids of the standing strokes of a layer that a mark made with `pen` touches. */
  touchedBy(layerId: string, bytes: Uint8Array, pen: Pen): string[] {
    const spine = this.maker.ofBytes(bytes, pen, ENGINE, toleranceAt(this.level));
    return this.find(layerId, spineBox(spine))
      .filter((record) => spinesTouch(spine, this.spineAt(record, this.level)))
      .map((record) => record.stroke.id);
  }

  /** All standing strokes of a layer, first drawn first. */
  ofLayer(layerId: string): StrokeRecord[] {
    return [...this.strokes.values()]
      .filter((r) => r.stroke.layerId === layerId && !r.stroke.deleted)
      .sort((a, b) => a.rank - b.rank);
  }

  /** A record as something to draw at `level`. */
  drawable(record: StrokeRecord, level: number, use: SpineUse = 'keep'): DrawableStroke {
    return {
      spine: this.spineAt(record, level, use),
      box: record.box,
      colour: record.colour,
      holes: record.holes.filter((h) => !h.erasure.deleted).map((h) => this.holeIn(record, h, level, use)),
    };
  }

  /** The drawable of a stroke by id. */
  drawableOf(id: string, level: number): DrawableStroke | undefined {
    const record = this.strokes.get(id);
    return record && this.drawable(record, level);
  }

  /**
   * Draws a layer's part of a rectangle of the level's grid.
   * @returns undefined when nothing lies there.
   */
  draw(
    layerId: string,
    level: number,
    rect: Omit<Pixels, 'data'>,
    work: RasterWorkspace,
    use: SpineUse = 'keep',
  ): Pixels | undefined {
    const scale = 2 ** level;
    const records = this.find(layerId, paperArea(rect, scale));
    if (!records.length) return undefined;
    const pixels = makePixels(rect.x0, rect.y0, rect.width, rect.height);
    for (const record of records) drawStroke(pixels, this.drawable(record, level, use), scale, work);
    return pixels;
  }

  private reading<T>(id: string, read: () => T): T | undefined {
    try {
      return read();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.unreadable.push(id);
      return undefined;
    }
  }

  private addStroke(stroke: Stroke, bytes: Uint8Array): StrokeRecord {
    const top = this.tops.get(stroke.layerId);
    const isOnTop = top === undefined || byOrder(top, stroke) < 0;
    const record: StrokeRecord = {
      stroke,
      bytes,
      pen: stroke.pen,
      engine: stroke.engine,
      matrix: isIdentity(stroke.matrix) ? undefined : stroke.matrix,
      colour: parseColour(stroke.colour),
      holes: [],
      rank: this.nextRank++,
      isLoose: false,
      box: NOWHERE,
      spine: undefined,
      spineLevel: NaN,
    };
    if (!isUsable(stroke.matrix)) throw new RangeError(`the matrix of ${stroke.id} flattens it`);
    this.measure(record);
    this.strokes.set(stroke.id, record);
    if (isOnTop) this.tops.set(stroke.layerId, { order: stroke.order, id: stroke.id });
    else this.rerank();
    return record;
  }

  private addErasure(erasure: Erasure, bytes: Uint8Array): Damage[] {
    const record: ErasureRecord = {
      erasure,
      bytes,
      pen: erasure.pen,
      engine: erasure.engine,
      matrix: undefined,
      box: NOWHERE,
      spine: undefined,
      spineLevel: NaN,
    };
    this.measure(record);
    this.erasures.set(erasure.id, record);
    for (const id of erasure.strokeIds) this.strokes.get(id)?.holes.push(record);
    return this.damageOf(record);
  }

  /** What an erasure shows on: its own area, as far as its strokes have not moved since. */
  private damageOf({ erasure, box }: ErasureRecord): Damage[] {
    const strokes = erasure.strokeIds.flatMap((id) => this.strokes.get(id) ?? []);
    const moved = strokes.filter((s) => s.matrix !== undefined || erasure.matrices?.[s.stroke.id]);
    return [{ layerId: erasure.layerId, box }, ...moved.map((s) => ({ layerId: s.stroke.layerId, box: s.box }))];
  }

  private refresh(record: StrokeRecord): void {
    // One that would flatten the stroke is passed over: it stays where it was.
    if (!isUsable(record.stroke.matrix)) record.stroke = { ...record.stroke, matrix: record.matrix ?? IDENTITY };
    record.pen = record.stroke.pen;
    record.colour = parseColour(record.stroke.colour);
    record.matrix = isIdentity(record.stroke.matrix) ? undefined : record.stroke.matrix;
    record.spine = undefined;
    this.measure(record);
    this.makeLoose(record);
  }

  private makeLoose(record: StrokeRecord): void {
    if (!record.isLoose) this.loose.push(record);
    record.isLoose = true;
  }

  private rerank(): void {
    const all = [...this.strokes.values()].sort((a, b) => byOrder(a.stroke, b.stroke));
    all.forEach((record, i) => (record.rank = i));
    this.nextRank = all.length;
    this.tops.clear();
    for (const { stroke } of all) this.tops.set(stroke.layerId, { order: stroke.order, id: stroke.id });
  }

  private measure(mark: Mark): void {
    mark.box = grow(spineBox(this.spineAt(mark, this.level)), BOX_SLACK_PX);
  }

  /** The spine of a mark for a level; the last one made is kept, unless it is for a file only. */
  private spineAt(mark: Mark, level: number, use: SpineUse = 'keep'): Spine {
    const fineEnough = mark.spineLevel === level || (use === 'small' && mark.spineLevel > level);
    if (mark.spine && fineEnough) return mark.spine;
    // Ink that was scaled up shows its facets scaled up.
    const factor = mark.matrix ? lengthScale(mark.matrix) : 1;
    const spine = this.maker.ofBytes(mark.bytes, mark.pen, mark.engine, toleranceAt(level) / Math.max(1, factor));
    if (mark.matrix) transform(spine, mark.matrix);
    if (use !== 'keep' && mark.spine) return spine;
    mark.spine = spine;
    mark.spineLevel = level;
    return spine;
  }

  /** An erasure as it lies on a stroke that may have moved since. */
  private holeIn(
    { stroke }: StrokeRecord,
    hole: ErasureRecord,
    level: number,
    use: SpineUse,
  ): DrawableStroke['holes'][number] {
    const { matrices } = hole.erasure;
    const then = matrices && Object.hasOwn(matrices, stroke.id) ? matrices[stroke.id] : IDENTITY;
    const spine = this.spineAt(hole, level, use);
    if (then.every((v, i) => v === stroke.matrix[i])) return { spine, box: hole.box };
    const moved = new Spine();
    moved.data = spine.data.slice(0, 3 * spine.count);
    moved.count = spine.count;
    transform(moved, compose(stroke.matrix, invert(then)));
    return { spine: moved, box: grow(spineBox(moved), BOX_SLACK_PX) };
  }

  private reindex(): void {
    this.indexed = [...this.strokes.values()];
    for (const record of this.loose) record.isLoose = false;
    this.loose = [];
    this.index = undefined;
    if (!this.indexed.length) return;
    const index = new Flatbush(this.indexed.length);
    for (const { box } of this.indexed) index.add(box.x0, box.y0, box.x1, box.y1);
    index.finish();
    this.index = index;
  }
}

/** A part of a layer that must be shown anew. `added`: only this stroke came, on top. */
export interface Damage {
  layerId: string;
  box: Box;
  added?: string;
}

const NOWHERE: Box = { x0: 0, y0: 0, x1: 0, y1: 0 };

/** Whether a matrix leaves something of a stroke that can be drawn. */
function isUsable(m: Matrix): boolean {
  const factor = lengthScale(m);
  return m.every(Number.isFinite) && factor > 1e-6 && factor < 1e6;
}

function partOf(parts: ReadonlyMap<string, Uint8Array>, id: string): Uint8Array {
  const bytes = parts.get(id);
  if (!bytes) throw new RangeError(`the samples of ${id} are missing`);
  return bytes;
}

/** Moves a spine by a similarity, in place. */
function transform(spine: Spine, matrix: Matrix): void {
  const factor = lengthScale(matrix);
  for (let i = 0; i < 3 * spine.count; i += 3) {
    const [x, y] = applyMatrix(matrix, spine.data[i], spine.data[i + 1]);
    spine.data[i] = x;
    spine.data[i + 1] = y;
    spine.data[i + 2] *= factor;
  }
}

/** One damage a layer where several would only repeat work; a lone addition stays as it is. */
function merged(damage: Damage[]): Damage[] {
  if (damage.length < 2) return damage;
  const byLayer = new Map<string, Damage>();
  for (const { layerId, box } of damage) {
    const known = byLayer.get(layerId);
    byLayer.set(layerId, { layerId, box: known ? union(known.box, box) : box });
  }
  return [...byLayer.values()];
}
