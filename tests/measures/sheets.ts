import { IDENTITY, type Matrix } from '../../core/geometry/matrix';
import {
  byOrder,
  FIRST_LAYER,
  newSettings,
  samplesOf,
  type Erasure,
  type GroupLayer,
  type InkableLayer,
  type Layer,
  type ReferenceLayer,
  type Stroke,
} from '../../core/sheet/entities';
import { erasingChanges } from '../../core/sheet/erasing';
import { inverseOf } from '../../core/sheet/history';
import { InkMeasure } from '../../core/sheet/ink-box';
import { erasing } from '../../core/sheet/erased-strokes';
import { finish } from '../../core/sheet/ink-work';
import { InkStore } from '../../core/sheet/ink-store';
import { PackedStrokes, StrokePacker } from '../../core/sheet/packed-strokes';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, putRows, type Change, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { encodePath } from '../../core/stroke/pack-path';
import type { StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Pen } from '../../core/stroke/pen';
import type { Samples } from '../../core/stroke/samples';

/** A stroke as steps bring it; its samples come beside it. */
export const strokeEntity = (id: string, more: Partial<Stroke> = {}): Stroke => ({
  id,
  layerId: 'lines',
  deleted: false,
  order: 'a1',
  colour: '#000000',
  pen: makePen('dip', 9, 30, true, 1),
  matrix: IDENTITY,
  engine: ENGINE,
  ...more,
});

/** The step of another device that inks a stroke. */
export const inkedElsewhere = (stroke: Stroke): Step => ({
  id: `s${stroke.id}`,
  device: 'other',
  undoable: true,
  label: 'Ink line',
  changes: [putRows('strokes', stroke)],
});

/** A picture's layer as steps bring it. Its bytes are nowhere. */
export const referenceEntity = (more: Partial<ReferenceLayer> = {}): ReferenceLayer => ({
  ...FIRST_LAYER,
  id: 'photo',
  kind: 'reference',
  name: 'Photo',
  order: 'Zz',
  locked: true,
  picture: { hash: 'a'.repeat(64), width: 40, height: 30 },
  placement: { cx: 0, cy: 0, scale: 1, turnDeg: 0, mirrored: false },
  ...more,
});

/** A layer of ink, or another that takes some, named by its id. */
export const inkLayer = (id: string, more: Partial<Layer> = {}): InkableLayer =>
  ({ ...FIRST_LAYER, id, name: id, ...more }) as InkableLayer;
export const groupLayer = (id: string, more: Partial<GroupLayer> = {}): GroupLayer => ({
  ...FIRST_LAYER,
  kind: 'group',
  id,
  name: id,
  ...more,
});

/** A sheet of layers, bottom first; none is inked on. */
export const modelOf = (...layers: Layer[]): SheetModel =>
  new SheetModel(
    { ...newSettings(300), target: null },
    layers.map((one, i) => ({ ...one, order: `a${String(i).padStart(3, '0')}V` })),
  );

const measure = new InkMeasure();

/** Strokes packed as the server packs them. @param parts those that are missing, or cannot be read, lie nowhere. */
export function packedStrokes(strokes: readonly Stroke[], parts: ReadonlyMap<string, Uint8Array>): PackedStrokes {
  const packer = new StrokePacker();
  const sorted = [...strokes].sort((a, b) =>
    a.layerId === b.layerId ? byOrder(a, b) : a.layerId < b.layerId ? -1 : 1,
  );
  for (const { pen, matrix, deleted, stands, group, pour, tied, label, ...stroke } of sorted)
    packer.add({
      ...stroke,
      penJson: JSON.stringify(pen),
      matrixJson: JSON.stringify(matrix),
      standsJson: stands ? JSON.stringify(stands) : null,
      groupJson: group ? JSON.stringify(group) : null,
      pourJson: pour ? JSON.stringify(pour) : null,
      tiedJson: tied === undefined ? null : JSON.stringify(tied),
      labelJson: label ? JSON.stringify(label) : null,
      deleted: Number(deleted),
      box: measure.boxOf(parts.get(samplesOf({ id: stroke.id, stands, pour, label })) ?? new Uint8Array(), {
        ...stroke,
        pen,
        stands,
      }),
    });
  return new PackedStrokes(packer.columns());
}

export const listed = (packed: PackedStrokes): Stroke[] =>
  Array.from({ length: packed.count }, (_, row) => packed.strokeAt(row));

/** An ink store as it is opened. @param has the samples that are brought at once; the others are lacking. */
export function openedInk(
  strokes: readonly Stroke[],
  erasures: readonly Erasure[],
  parts: ReadonlyMap<string, Uint8Array>,
  has: readonly string[] = strokes.map((s) => s.id),
): InkStore {
  const ink = new InkStore();
  ink.open(
    packedStrokes(strokes, parts),
    erasures.map((erasure) => {
      const bytes = parts.get(erasure.id);
      return { erasure, bytes, box: measure.boxOf(bytes ?? new Uint8Array(), erasure) };
    }),
  );
  const samples = new Map(
    strokes.flatMap((s): [string, Uint8Array][] => {
      const bytes = parts.get(samplesOf(s));
      return bytes ? [[s.id, bytes]] : [];
    }),
  );
  ink.provide(has, samples);
  return ink;
}

/** A sheet in memory, with the ink that draws it, for tests and benches. */
export class TestSheet {
  readonly model = new SheetModel(newSettings(300), [FIRST_LAYER]);
  readonly ink = new InkStore();
  /** Where ink lands. */
  layerId = 'lines';
  /** All samples by their ids. */
  readonly samples = new Map<string, Uint8Array>();
  private n = 0;
  private last: Step | undefined;

  ink1(
    samples: Samples,
    pen: Pen = makePen('dip', 9, 30, true, 1),
    colour = '#000000',
    matrix: Matrix = IDENTITY,
  ): string {
    const id = `s${String(this.n++).padStart(6, '0')}`;
    const order = `a${String(this.n).padStart(6, '0')}`;
    const stroke = strokeEntity(id, { order, colour, pen, matrix, layerId: this.layerId });
    this.act([putRows('strokes', stroke)], [id, encodeSamples(samples)]);
    return id;
  }

  /** A line that was set by its nodes. */
  path(path: StrokePath, pen: Pen): string {
    const id = `s${String(this.n++).padStart(6, '0')}`;
    const stroke = strokeEntity(id, { order: `a${String(this.n).padStart(6, '0')}`, pen });
    this.act([putRows('strokes', stroke)], [id, encodePath(path)]);
    return id;
  }

  /**
   * Erases as the artist does.
   * @param eraser its pen; of an even one, the size.
   * @param severs false: strokes are only erased, never severed.
   * @returns the strokes that were touched.
   */
  erase(samples: Samples, eraser: number | Pen, severs = true): string[] {
    const id = `e${this.n++}`;
    const pen = typeof eraser === 'number' ? makePen('fineliner', eraser, 0, false, 1) : eraser;
    const bytes = encodeSamples(samples);
    const erased = finish(erasing(this.ink, this.layerId, bytes, pen));
    const changes = erasingChanges(
      severs ? erased : erased.map((e) => ({ id: e.id })),
      { id, layerId: this.layerId, pen, engine: ENGINE },
      (stroke) => this.model.strokes.get(stroke),
      () => `p${this.n++}`,
    );
    this.act(changes, [id, bytes]);
    return erased.map((e) => e.id);
  }

  set<F extends keyof Stroke>(id: string, field: F, value: Stroke[F]): void {
    this.act([assign('strokes', this.model.strokes.get(id)!, field, value)]);
  }

  /** Does what changes say. @param parts the samples that they bring. */
  put(changes: Change[], parts: [string, Uint8Array][]): void {
    this.act(changes, ...parts);
  }

  /** Takes the last act back. */
  undo(): void {
    this.act(inverseOf(this.last!, this.model.read).changes);
  }

  private act(changes: Change[], ...parts: [string, Uint8Array][]): void {
    for (const [id, bytes] of parts) this.samples.set(id, bytes);
    this.last = { id: `step${this.n++}`, device: 'test', undoable: true, label: 'Act', changes };
    this.ink.follow(this.model.apply(changes), new Map(parts));
  }
}
