import Flatbush from 'flatbush';
import { grow, isEmpty, overlaps, transformBox, type Box } from '../geometry/box';
import { compose, IDENTITY, invert, isIdentity, type Matrix } from '../geometry/matrix';
import { paperArea, spineBox, type DrawableStroke, type RasterWorkspace } from '../raster/draw-stroke';
import { LruCache } from '../raster/lru-cache';
import { parseColour, type Pixels } from '../raster/pixels';
import { copyOf, type Spine } from '../stroke/spine';
import { moveSpine, widenSpine } from '../stroke/moved-spine';
import { SpineMaker, type MeasuredSpine } from '../stroke/spine-maker';
import {
  byOrder,
  isShape,
  samplesOf,
  storedName,
  type Erasure,
  type Label,
  type Pour,
  type Stands,
  type Stroke,
} from './entities';
import { merged, type Damage } from './ink-damage';
import { drawingOf, type SpineUse } from './ink-drawing';
import { facetsOf, isUsable, leastRadiusOf, type ErasureRecord, type Mark, type StrokeRecord } from './ink-record';
import { finish, type Lacking } from './ink-work';
import { BOX_SLACK_PX, InkMeasure, NOWHERE, toleranceAt } from './ink-box';
import type { ChangeLog } from './change-log';
import { LayerTops } from './layer-tops';
import { Lineage } from './lineage';
import { PackedStrokes } from './packed-strokes';
import { RecordIndex } from './record-index';
import type { Assign, Change, Write } from './steps';

/** What a stroke's box tells of it. */
export type Verdict = 'in' | 'out' | 'unsure';

/** Strokes whose samples are asked for at a time. */
const ASKED = 1200;
/** Strokes that the sheet was opened with keep samples and spine as long as they fit this. */
const RECORDS_BYTES = 12 * 1024 * 1024;
/** Shapes of pours before they followed their lines, and of labels before they said something else. */
const SHAPES_BYTES = 4 * 1024 * 1024;
/** What a record takes beside its samples, with a spine of some thirty points. */
const RECORD_BYTES = 1400;

/**
 * The ink of a sheet, ready to be drawn at any level. The strokes that the sheet was opened with stay packed, found by
 * their boxes; samples and spines are there for those that were drawn lately, and asked for when they are lacking.
 * Strokes that came or changed since have records of their own. Layers' own fields are not needed here.
 */
export class InkStore {
  private packed = PackedStrokes.NONE;
  private packedIndex: Flatbush | undefined;
  /** 1 for packed rows that are not to be found: changed since, or unreadable. */
  private hidden = new Uint8Array(0);
  private readonly records: LruCache<StrokeRecord, number>;
  /** Packed rows whose samples work is waiting for: it has them, however little is kept. */
  private readonly awaited = new Map<number, StrokeRecord>();
  private readonly own = new Map<string, StrokeRecord>();
  private readonly ownPours = new Set<StrokeRecord>();
  private readonly erasures = new Map<string, ErasureRecord>();
  /** By the strokes that they list, in the order of their ids: taken away in another order, edges are rounded otherwise. */
  private readonly holes = new Map<string, ErasureRecord[]>();
  private readonly lineage = new Lineage();
  /** Shapes that strokes have had and may have again. */
  private readonly shapes = new LruCache<Uint8Array>(SHAPES_BYTES);
  private readonly index = new RecordIndex();
  private readonly tops = new LayerTops();
  private readonly maker = new SpineMaker();
  private readonly measure = new InkMeasure();
  /** Counts what has changed of it. */
  revision = 0;
  /** Whoever follows it from change to change puts one here. */
  log: ChangeLog | undefined;
  /** The shape of each stroke that could not be had when the stroke got it: it is shown as it was, and to be settled. */
  readonly owed = new Map<string, string>();
  /** Ids of strokes and erasures whose samples are missing or cannot be read; they are left out. */
  readonly unreadable: string[] = [];

  /** @param recordsBytes how much may be kept of the strokes that the sheet was opened with. */
  constructor(recordsBytes = RECORDS_BYTES) {
    this.records = new LruCache(recordsBytes);
  }

  get size(): number {
    return this.packed.count + this.own.size;
  }

  /**
   * Fills an empty store; what cannot be read is left out and named in `unreadable`.
   * @param erasures with their samples and boxes, where they can be read.
   */
  open(packed: PackedStrokes, erasures: readonly { erasure: Erasure; bytes?: Uint8Array; box: Box }[] = []): void {
    this.packed = packed;
    this.hidden = new Uint8Array(packed.count);
    const usable = packed.matrices.map(isUsable);
    const index = packed.count ? new Flatbush(packed.count, 16, Float32Array) : undefined;
    for (let row = 0; row < packed.count; row++) {
      const box = packed.boxAt(row);
      index!.add(box.x0, box.y0, box.x1, box.y1);
      if (isEmpty(box) || !usable[packed.matrixAt(row)]) this.hide(row);
      const of = packed.standsAt(row)?.of;
      if (of !== undefined) this.lineage.add(packed.idAt(row), of);
    }
    index?.finish();
    this.packedIndex = index;
    for (const { erasure, bytes, box } of erasures) {
      if (bytes && !isEmpty(box)) this.addErasure(erasure, bytes, box);
      else this.unreadable.push(erasure.id);
    }
    this.findTops();
  }

  /**
   * Brings samples that were lacking.
   * @param asked the ids that were asked for; those that did not come cannot be read.
   */
  provide(asked: readonly string[], samples: ReadonlyMap<string, Uint8Array>): void {
    for (const id of asked) {
      const bytes = samples.get(id);
      const own = this.own.get(id);
      const row = own ? -1 : this.packed.indexOf(id);
      if (own && (bytes ?? own.bytes)) own.bytes ??= bytes;
      else if (own) this.forget(own);
      else if (row >= 0 && bytes) {
        const record = this.recordAt(row);
        record.bytes = bytes;
        this.records.set(row, record, RECORD_BYTES + bytes.length);
      } else if (row >= 0) this.hide(row);
      else if (bytes) this.shapes.set(id.replace('~', ''), bytes, bytes.length);
    }
  }

  private forget(record: StrokeRecord): void {
    record.box = record.ownBox = NOWHERE;
    this.unreadable.push(record.stroke.id);
  }

  private hide(row: number): void {
    if (this.hidden[row]) return;
    this.hidden[row] = 1;
    this.unreadable.push(this.packed.idAt(row));
  }

  /** The record of a packed row; it is kept only once its samples are there. */
  private recordAt(row: number): StrokeRecord {
    const known = this.records.get(row) ?? this.awaited.get(row);
    if (known) return known;
    const stroke = this.packed.strokeAt(row);
    return {
      ...this.markOf(stroke, undefined),
      ownBox: this.packed.ownBoxAt(row),
      box: this.packed.boxAt(row),
      rank: row,
    };
  }

  private markOf(stroke: Stroke, bytes: Uint8Array | undefined): StrokeRecord {
    return {
      stroke,
      bytes,
      pen: stroke.pen,
      engine: stroke.engine,
      stands: stroke.stands,
      matrix: isIdentity(stroke.matrix) ? undefined : stroke.matrix,
      colour: parseColour(stroke.colour),
      rank: NaN,
      isLoose: false,
      box: NOWHERE,
      ownBox: NOWHERE,
      spine: undefined,
      spineLevel: NaN,
    };
  }

  /** The record of a stroke that is about to change: from now on it is one of its own. */
  private owned(id: string): StrokeRecord | undefined {
    const known = this.own.get(id);
    if (known) return known;
    const row = this.packed.indexOf(id);
    if (row < 0 || this.hidden[row]) return undefined;
    const record = this.recordAt(row);
    this.hidden[row] = 1;
    this.records.delete(row);
    this.keep(record);
    return record;
  }

  private keep(record: StrokeRecord): void {
    this.own.set(record.stroke.id, record);
    if (record.stroke.pour) this.ownPours.add(record);
    this.index.changed(record);
  }

  /**
   * Ids whose samples are lacking that changes need to be followed exactly: strokes that get another pen, or that are
   * severed.
   * @param parts the samples that come with the changes.
   */
  lackingFor(changes: readonly Change[], parts: ReadonlyMap<string, Uint8Array>): Lacking {
    const needed = changes.flatMap((c) => {
      if (c.table !== 'strokes') return [];
      if (c.op === 'set') return c.field === 'pen' ? c.ids : this.lackingShapes(c, parts);
      return (c.rows as Stroke[]).flatMap(({ id, stands }) =>
        stands && !parts.has(id) && !this.bytesOfShape(stands.samples, stands.of) ? this.askedAs(stands) : [],
      );
    });
    return [...new Set(needed)].filter((id) => !this.bytesOf(id));
  }

  /** Shapes that strokes get again, and that they had before the sheet was opened. */
  private lackingShapes(change: Assign, parts: ReadonlyMap<string, Uint8Array>): string[] {
    if (!isShape(change.field)) return [];
    return change.ids.flatMap((id, i) => {
      const { shape = id } = change.after[i] as Pour | Label;
      return this.hasShapeOf(id, shape) || this.strokeOf(id)?.stands || parts.has(shape) || this.shapes.has(shape)
        ? []
        : storedName(shape);
    });
  }

  private strokeOf(id: string): Stroke | undefined {
    const own = this.own.get(id);
    if (own) return own.stroke;
    const row = this.packed.indexOf(id);
    return row < 0 ? undefined : this.packed.strokeAt(row);
  }

  /** Under which name the samples of a stroke are asked for: as this store has it, whatever the server has by now. */
  nameOf(id: string): string {
    if (id.startsWith('~')) return id;
    const stroke = this.strokeOf(id);
    return storedName(stroke ? samplesOf(stroke) : id);
  }

  /** What is stored as a shape, if it is here. @param of a stroke that may show it: an outline may have that of its letters. */
  private bytesOfShape(shape: string, of = shape): Uint8Array | undefined {
    return this.shapes.get(shape) ?? (this.hasShapeOf(of, shape) ? this.bytesOf(of) : undefined);
  }

  private askedAs({ of, samples }: Stands): string {
    return this.hasShapeOf(of, samples) ? of : storedName(samples);
  }

  /** Whether a stroke shows what is stored under this id. */
  private hasShapeOf(id: string, shape: string): boolean {
    const stroke = this.strokeOf(id);
    return stroke !== undefined && samplesOf(stroke) === shape && !this.owed.has(id);
  }

  /** Whether a shape that a stroke may have again is at hand. @param name as it is asked for. */
  hasShape(name: string): boolean {
    return this.shapes.has(name.replace('~', ''));
  }

  /** The samples of a stroke, if they are here. */
  private bytesOf(id: string): Uint8Array | undefined {
    return (this.own.get(id) ?? this.records.get(this.packed.indexOf(id)))?.bytes;
  }

  /**
   * Follows a step's writes.
   * @returns what changed on the page: boxes (paper px) by layer, and for each the stroke that was
   *   merely added on top of everything, if that is all that happened.
   */
  follow(writes: readonly Write[], parts: ReadonlyMap<string, Uint8Array>): Damage[] {
    this.revision++;
    const damage: Damage[] = [];
    let topsMoved = false;
    for (const write of writes) {
      if (write.kind === 'insert' && write.table === 'strokes')
        damage.push(...this.addStroke(write.row as Stroke, parts));
      else if (write.kind === 'insert' && write.table === 'erasures') {
        const erasure = write.row as Erasure;
        const bytes = parts.get(erasure.id);
        const box = bytes ? this.measure.boxOf(bytes, erasure) : NOWHERE;
        if (bytes && !isEmpty(box)) damage.push(...this.addErasure(erasure, bytes, box));
        else this.unreadable.push(erasure.id);
      } else if (write.kind === 'assign' && write.table === 'strokes') {
        const record = this.owned(write.id);
        if (!record) continue;
        this.log?.note(write.id, this.revision);
        damage.push({ layerId: record.stroke.layerId, box: record.box });
        if (isShape(write.field)) this.reshape(record, write.value as Pour | Label, parts);
        this.change(record, write.field, write.value);
        topsMoved ||= write.field === 'order' || write.field === 'layerId';
        damage.push({ layerId: record.stroke.layerId, box: record.box });
      } else if (write.kind === 'assign' && write.table === 'erasures') {
        const record = this.erasures.get(write.id);
        if (!record) continue;
        record.erasure = { ...record.erasure, [write.field]: write.value };
        damage.push(...this.damageOf(record));
      }
    }
    if (topsMoved) this.findTops();
    this.index.settle(() => this.own.values());
    return merged(damage);
  }

  /** A pour or a label gets another shape; one that cannot be had leaves it as it was, and is owed. */
  private reshape(
    record: StrokeRecord,
    { shape = record.stroke.id }: Pour | Label,
    parts: ReadonlyMap<string, Uint8Array>,
  ): void {
    const { id, stands } = record.stroke;
    // What is left of a stroke stays a part of that.
    if (stands) return;
    const before = samplesOf(record.stroke);
    const isOwed = this.owed.has(id);
    if (shape === before && !isOwed) return;
    // What is owed is not what is shown.
    if (record.bytes && !isOwed) this.shapes.set(before, record.bytes, record.bytes.length);
    const bytes = parts.get(shape) ?? this.bytesOfShape(shape);
    if (bytes) record.bytes = bytes;
    if (bytes) this.owed.delete(id);
    else this.owed.set(id, shape);
  }

  /**
   * Gives strokes the shapes that could not be had before.
   * @param shapes by their names; of one that is not stored anywhere the stroke stays as it is shown, and is told.
   * @returns where that shows.
   */
  settle(shapes: ReadonlyMap<string, Uint8Array>): Damage[] {
    const damage: Damage[] = [];
    for (const [id, shape] of this.owed) {
      const bytes = shapes.get(storedName(shape));
      const record = this.owned(id);
      this.owed.delete(id);
      if (!bytes || !record) {
        this.unreadable.push(id);
        continue;
      }
      this.revision++;
      this.log?.note(id, this.revision);
      damage.push({ layerId: record.stroke.layerId, box: record.box });
      record.bytes = bytes;
      this.remeasure(record);
      damage.push({ layerId: record.stroke.layerId, box: record.box });
    }
    return merged(damage);
  }

  private remeasure(record: StrokeRecord): void {
    const { stroke } = record;
    record.ownBox = record.bytes ? this.measure.boxOf(record.bytes, stroke) : grow(record.ownBox, stroke.pen.sizePx);
    record.spine = undefined;
    record.box = transformBox(record.ownBox, stroke.matrix);
    this.index.changed(record);
  }

  private addStroke(stroke: Stroke, parts: ReadonlyMap<string, Uint8Array>): Damage[] {
    const { stands } = stroke;
    this.log?.note(stroke.id, this.revision);
    const bytes = parts.get(stroke.id) ?? (stands && this.bytesOfShape(stands.samples, stands.of));
    const record = this.markOf(stroke, bytes);
    if (stands && !bytes && !this.hasShapeOf(stands.of, stands.samples)) this.owed.set(stroke.id, stands.samples);
    record.ownBox = bytes ? this.measure.boxOf(bytes, stroke) : this.ownBoxOf(stands?.of);
    if (stands) this.lineage.add(stroke.id, stands.of);
    const isNowhere = isEmpty(record.ownBox) && !this.owed.has(stroke.id);
    if (isNowhere || !isUsable(stroke.matrix)) {
      this.owed.delete(stroke.id);
      this.unreadable.push(stroke.id);
      return [];
    }
    record.box = isEmpty(record.ownBox) ? NOWHERE : transformBox(record.ownBox, stroke.matrix);
    record.rank = this.packed.rankOf(stroke);
    this.keep(record);
    const isOnTop = this.tops.note(stroke);
    return [{ layerId: stroke.layerId, box: record.box, added: isOnTop && !stroke.deleted ? stroke.id : undefined }];
  }

  /** Where a stroke lies before its matrix. */
  private ownBoxOf(id: string | undefined): Box {
    if (id === undefined) return NOWHERE;
    const row = this.packed.indexOf(id);
    return this.own.get(id)?.ownBox ?? (row < 0 ? NOWHERE : this.packed.ownBoxAt(row));
  }

  private change(record: StrokeRecord, field: string, value: unknown): void {
    const before = record.stroke;
    const stroke: Stroke = { ...before, [field]: value };
    // One that would flatten the stroke is passed over: it stays where it was.
    if (!isUsable(stroke.matrix)) stroke.matrix = before.matrix;
    record.stroke = stroke;
    record.pen = stroke.pen;
    record.engine = stroke.engine;
    record.colour = parseColour(stroke.colour);
    record.matrix = isIdentity(stroke.matrix) ? undefined : stroke.matrix;
    if (field === 'order' || field === 'layerId') record.rank = this.packed.rankOf(stroke);
    if (field === 'pen' || field === 'engine' || isShape(field)) return this.remeasure(record);
    if (field === 'matrix') record.spine = undefined;
    record.box = transformBox(record.ownBox, stroke.matrix);
    this.index.changed(record);
  }

  /** Standing strokes of a layer that can touch `box` (paper px), first drawn first; some may lack their samples. */
  find(layerId: string, box: Box): StrokeRecord[] {
    return this.inOrder(layerId, this.rowsIn(layerId, box), this.index.in(box));
  }

  /**
   * The same, told apart by their boxes alone: of most of very many no record is made.
   * @returns the ids of those that are in, in no order, and the others that have to be looked at, first drawn first.
   */
  sift(layerId: string, area: Box, judge: (box: Box) => Verdict): { ids: string[]; unsure: StrokeRecord[] } {
    const ids: string[] = [];
    const rows = this.rowsIn(layerId, area).filter((row) => {
      const verdict = judge(this.packed.boxAt(row));
      if (verdict === 'in') ids.push(this.packed.idAt(row));
      return verdict === 'unsure';
    });
    const own = this.index.in(area).filter(({ stroke, box }) => {
      if (stroke.layerId !== layerId || stroke.deleted) return false;
      const verdict = judge(box);
      if (verdict === 'in') ids.push(stroke.id);
      return verdict === 'unsure';
    });
    return { ids, unsure: this.inOrder(layerId, rows, own) };
  }

  private rowsIn(layerId: string, box: Box): number[] {
    const layer = this.packed.layers.indexOf(layerId);
    const isHit = (row: number) => this.isStanding(row, layer);
    return layer < 0 ? [] : (this.packedIndex?.search(box.x0, box.y0, box.x1, box.y1, isHit) ?? []);
  }

  private isStanding(row: number, layer: number): boolean {
    return !this.hidden[row] && this.packed.layerAt(row) === layer && !this.packed.isDeleted(row);
  }

  private inOrder(layerId: string, rows: readonly number[], own: readonly StrokeRecord[]): StrokeRecord[] {
    const standing = own.filter((r) => r.stroke.layerId === layerId && !r.stroke.deleted);
    return [...rows.map((row) => this.recordAt(row)), ...standing].sort(
      (a, b) => a.rank - b.rank || byOrder(a.stroke, b.stroke),
    );
  }

  /** All standing strokes of a layer, first drawn first; some may lack their samples. */
  ofLayer(layerId: string): StrokeRecord[] {
    const layer = this.packed.layers.indexOf(layerId);
    const rows: number[] = [];
    for (let row = 0; row < this.packed.count; row++) if (this.isStanding(row, layer)) rows.push(row);
    return this.inOrder(layerId, rows, [...this.own.values()]);
  }

  /** All standing pours of a layer, first drawn first; what else there is is not looked at. */
  poursOf(layerId: string): StrokeRecord[] {
    const layer = this.packed.layers.indexOf(layerId);
    const rows = this.packed.poured.filter((row) => this.isStanding(row, layer));
    return this.inOrder(layerId, rows, [...this.ownPours]);
  }

  /** Records of those of the strokes that stand, first drawn first within their layer; some may lack their samples. */
  standing(ids: readonly string[]): StrokeRecord[] {
    const records = ids.flatMap((id) => {
      const row = this.own.has(id) ? -1 : this.packed.indexOf(id);
      const record = this.own.get(id) ?? (row < 0 || this.hidden[row] ? undefined : this.recordAt(row));
      return record && !record.stroke.deleted && !isEmpty(record.box) ? [record] : [];
    });
    return records.sort((a, b) => a.rank - b.rank || byOrder(a.stroke, b.stroke));
  }

  /** What erases a stroke, with where the stroke lay then. */
  erasuresOn(id: string): { erasure: Erasure; bytes: Uint8Array; then: Matrix }[] {
    return [...this.lineage.upwards(id)].flatMap((listed) =>
      (this.holes.get(listed) ?? []).flatMap(({ erasure, bytes }) =>
        erasure.deleted || !bytes ? [] : [{ erasure, bytes, then: erasure.matrices?.[listed] ?? IDENTITY }],
      ),
    );
  }

  /** What erases a stroke, as it lies on it now, with where the stroke lay when it was erased. */
  erasuresLying(record: StrokeRecord): { erasure: Erasure; bytes: Uint8Array; then: Matrix; spine: Spine }[] {
    return [...this.lineage.upwards(record.stroke.id)].flatMap((listed) =>
      (this.holes.get(listed) ?? []).flatMap((hole) => {
        const { erasure, bytes } = hole;
        if (erasure.deleted || !bytes) return [];
        const { spine } = this.holeIn(record, listed, hole, 0, 'exact');
        return [{ erasure, bytes, then: erasure.matrices?.[listed] ?? IDENTITY, spine }];
      }),
    );
  }

  /**
   * Records `from` to `to` with their samples, after what they lack was asked for, and with it what the next ones lack;
   * without those that cannot be read.
   */
  *readable(records: readonly StrokeRecord[], from = 0, to = records.length): Generator<Lacking, StrokeRecord[]> {
    const lacking = records.slice(from, to).filter((r) => !this.withSamples(r));
    if (lacking.length) {
      for (const r of lacking) this.awaited.set(r.rank, r);
      try {
        yield records.slice(from, from + ASKED).flatMap((r) => (this.withSamples(r) ? [] : [r.stroke.id]));
      } finally {
        for (const r of lacking) this.awaited.delete(r.rank);
      }
    }
    return records.slice(from, to).flatMap((r) => this.withSamples(r) ?? []);
  }

  private withSamples(record: StrokeRecord): StrokeRecord | undefined {
    if (record.bytes) return record;
    const kept = this.records.get(record.rank);
    return kept?.bytes && kept;
  }

  /** All of the line that a record which has its samples is, or is a part of, as it lies on the paper. */
  measured({ bytes, pen, engine, matrix }: StrokeRecord): MeasuredSpine {
    const line = this.maker.measured(bytes!, pen, engine, toleranceAt(0));
    if (matrix) moveSpine(line.spine, matrix);
    return line;
  }

  /** A record that has its samples, as something to draw at `level`. */
  drawable(record: StrokeRecord, level: number, use: SpineUse = 'keep'): DrawableStroke {
    return {
      spine: this.spineAt(record, level, use),
      box: record.box,
      colour: record.colour,
      opacity: record.pen.opacity,
      ...(record.pen.fades ? { fades: true } : {}),
      holes: this.holesIn(record, level, use),
    };
  }

  /** What erases a stroke: the erasures that list it, or a stroke that it is a part of. */
  private holesIn(record: StrokeRecord, level: number, use: SpineUse): DrawableStroke['holes'] {
    if (!this.holes.size) return [];
    const found: DrawableStroke['holes'][number][] = [];
    for (const id of this.lineage.upwards(record.stroke.id))
      for (const hole of this.holes.get(id) ?? [])
        if (!hole.erasure.deleted) found.push(this.holeIn(record, id, hole, level, use));
    return record.stands ? found.filter(({ box }) => overlaps(box, record.box)) : found;
  }

  /** The drawable of a stroke that came since the sheet was opened. */
  drawableOf(id: string, level: number): DrawableStroke | undefined {
    const record = this.own.get(id);
    return record?.bytes && this.drawable(record, level);
  }

  /**
   * Draws a layer's part of a rectangle of the level's grid, in parts; yields what is lacking.
   * @param work of at least the size of `rect`; others may use it while this waits.
   * @returns undefined when nothing lies there.
   */
  drawing(
    layerId: string,
    level: number,
    rect: Omit<Pixels, 'data'>,
    work: RasterWorkspace,
    use: SpineUse = 'keep',
  ): Generator<Lacking, Pixels | undefined> {
    return drawingOf(this, layerId, level, rect, work, use);
  }

  /** {@link drawing}, where no samples are lacking. */
  draw(...how: Parameters<InkStore['drawing']>): Pixels | undefined {
    return finish(this.drawing(...how));
  }

  /** The ids that drawing this would ask for first. */
  lackingIn(layerId: string, level: number, rect: Omit<Pixels, 'data'>): Lacking {
    const found = this.find(layerId, paperArea(rect, 2 ** level)).slice(0, ASKED);
    return found.flatMap((r) => (this.withSamples(r) ? [] : [r.stroke.id]));
  }

  private addErasure(erasure: Erasure, bytes: Uint8Array, box: Box): Damage[] {
    const { pen, engine } = erasure;
    const mark = { bytes, pen, engine, matrix: undefined, box, ownBox: box, spine: undefined, spineLevel: NaN };
    const record: ErasureRecord = { ...mark, erasure };
    this.erasures.set(erasure.id, record);
    for (const id of erasure.strokeIds) {
      const holes = this.holes.get(id) ?? [];
      const after = holes.findIndex((other) => other.erasure.id > erasure.id);
      holes.splice(after < 0 ? holes.length : after, 0, record);
      this.holes.set(id, holes);
    }
    return this.damageOf(record);
  }

  /** What an erasure shows on: its own area, as far as its strokes have not moved since, there or to another layer. */
  private damageOf({ erasure, box }: ErasureRecord): Damage[] {
    const moved = erasure.strokeIds.flatMap((listed) =>
      [...this.lineage.downwards(listed)].flatMap((id): Damage[] => {
        const { matrix, layerId, box: lies } = this.placeOf(id) ?? {};
        const isMoved = matrix !== undefined || erasure.matrices?.[listed] || layerId !== erasure.layerId;
        return layerId && lies && isMoved ? [{ layerId, box: lies }] : [];
      }),
    );
    return [{ layerId: erasure.layerId, box }, ...moved];
  }

  /** Where a stroke lies, without making a record of it. `matrix` undefined: it was never moved. */
  private placeOf(id: string): { layerId: string; box: Box; matrix: Matrix | undefined } | undefined {
    const own = this.own.get(id);
    if (own) return { layerId: own.stroke.layerId, box: own.box, matrix: own.matrix };
    const row = this.packed.indexOf(id);
    if (row < 0 || this.hidden[row]) return undefined;
    const matrix = this.packed.matrices[this.packed.matrixAt(row)];
    return {
      layerId: this.packed.layers[this.packed.layerAt(row)],
      box: this.packed.boxAt(row),
      matrix: isIdentity(matrix) ? undefined : matrix,
    };
  }

  private findTops(): void {
    const own = [...this.own.values()].map(({ stroke }) => stroke);
    this.tops.find(this.packed, (row) => !this.hidden[row], own);
  }

  /** The spine of a mark for a level; the last one made for the screen is kept. */
  private spineAt(mark: Mark, level: number, use: SpineUse = 'keep'): Spine {
    if (mark.spine && mark.spineLevel === level) return mark.spine;
    const spine = this.makeSpine(mark, level);
    if (use !== 'keep' && mark.spine) return spine;
    mark.spine = spine;
    mark.spineLevel = level;
    return spine;
  }

  private makeSpine(mark: Mark, level: number): Spine {
    const { bytes, pen, engine, matrix, stands } = mark;
    if (!bytes) throw new Error('ink is drawn before its samples came');
    const spine = this.maker.ofBytes(bytes, pen, engine, facetsOf(mark, toleranceAt(level)), stands);
    if (matrix) moveSpine(spine, matrix);
    widenSpine(spine, leastRadiusOf(mark) / 2 ** level);
    return spine;
  }

  /** An erasure as it lies on a stroke that may have moved since it, or the stroke that it is a part of, was erased. */
  private holeIn(
    { stroke }: StrokeRecord,
    listed: string,
    hole: ErasureRecord,
    level: number,
    use: SpineUse,
  ): DrawableStroke['holes'][number] {
    const { matrices } = hole.erasure;
    const then = matrices && Object.hasOwn(matrices, listed) ? matrices[listed] : IDENTITY;
    const spine = this.spineAt(hole, level, use);
    if (then.every((v, i) => v === stroke.matrix[i])) return { spine, box: hole.box };
    const moved = copyOf(spine);
    moveSpine(moved, compose(stroke.matrix, invert(then)));
    return { spine: moved, box: grow(spineBox(moved), BOX_SLACK_PX) };
  }
}
