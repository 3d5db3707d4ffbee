import type { Frame } from '../geometry/frame';
import type { Matrix } from '../geometry/matrix';
import type { Recipe } from '../picture/recipe';
import type { Blend } from '../raster/compose';
import type { Pen } from '../stroke/pen';
import type { PaperSize } from './paper';
import type { SampleRange } from '../stroke/spine-maker';

/**
 * The entities of a sheet. A deleted one stays as a tombstone (`deleted: true`).
 * `order` is a fractional index: layers bottom first, strokes first drawn first; ties by id.
 */
interface Entity {
  id: string;
  deleted: boolean;
}

interface LayerBase extends Entity {
  name: string;
  order: string;
  visible: boolean;
  locked: boolean;
  /** 0 to 1. */
  opacity: number;
  /** The group that holds it; absent or null: none. */
  parent?: string | null;
}

/** What is laid over what is below. */
interface BlendedLayer extends LayerBase {
  /** Absent or null: normal. */
  blend?: Blend | null;
}

/** What takes strokes. */
interface InkableBase extends BlendedLayer {
  /** It shows only where the colour layers beneath it lie; see `insideOf` in layer-tree. Absent or null: everywhere. */
  inside?: boolean | null;
}

/** Where a picture lies: its centre in paper px, paper px per picture px, clockwise degrees. */
export interface Placement {
  cx: number;
  cy: number;
  scale: number;
  turnDeg: number;
  mirrored: boolean;
}

/** A stored picture: the hash of its untouched bytes, and its size once upright. */
export interface PictureRef {
  hash: string;
  width: number;
  height: number;
}

/** What a layer has that shows a picture. It has no strokes: nothing that inks accepts such a layer. */
interface Pictured {
  picture: PictureRef;
  placement: Placement;
  /** What was done to it, first to last; absent or null: nothing. Its placement is that of the result. */
  recipe?: Recipe | null;
}

/** A picture under the ink. */
export interface ReferenceLayer extends LayerBase, Pictured {
  kind: 'reference';
  /** White over this picture alone, 0 to 1; absent or null: none. */
  veil?: number | null;
  /** It lies beside the paper, to be looked at; it is not among what is on the paper. */
  beside?: boolean | null;
}

/** Lines that were lifted off a page: a picture that is the work, so it is sent. */
export interface LiftedLayer extends BlendedLayer, Pictured {
  kind: 'lifted';
  /** It lies on the paper as it is. */
  veil?: undefined;
  beside?: undefined;
}

/** A drawable layer that is scaffolding: hushed and peeked with the picture, not sent. */
export interface RoughLayer extends InkableBase {
  kind: 'rough';
}

/** A drawable layer that is the work. */
export interface InkLayer extends InkableBase {
  kind: 'ink';
}

/** A drawable layer that is the work, beneath the lines. */
export interface ColourLayer extends InkableBase {
  kind: 'colour';
}

/** A label, which is the work: the letters of one text, and the outline around them. No ink lands on it. */
export interface TextLayer extends BlendedLayer {
  kind: 'text';
}

/** Layers that are shown, hidden, locked, moved and hushed together. It has no strokes of its own. */
export interface GroupLayer extends BlendedLayer {
  kind: 'group';
  /** What it holds is not listed. */
  folded?: boolean | null;
}

export type InkableLayer = RoughLayer | InkLayer | ColourLayer;
export type PictureLayer = ReferenceLayer | LiftedLayer;
export type Layer = PictureLayer | InkableLayer | TextLayer | GroupLayer;
export const INKABLE_KINDS = ['rough', 'ink', 'colour'] as const;

const isInkableKind = (kind: unknown): kind is InkableLayer['kind'] => INKABLE_KINDS.includes(kind as 'ink');

export const isInkable = (layer: Layer | undefined): layer is InkableLayer => isInkableKind(layer?.kind);

/** Whether strokes lie on a layer: ink, or the letters of a label. */
export const hasStrokes = (layer: Layer | undefined): layer is InkableLayer | TextLayer =>
  isInkable(layer) || layer?.kind === 'text';

export const isPicture = (layer: Layer | undefined): layer is PictureLayer =>
  layer?.kind === 'reference' || layer?.kind === 'lifted';

/** Scaffolding is hushed, peeked and left out of what is sent. */
export const isScaffolding = ({ kind }: Layer): boolean => kind === 'reference' || kind === 'rough';

/**
 * What a stroke that was severed has left: a range of its samples. The part is a stroke of its own from then on, but
 * whatever erased the stroke it comes from erased it as well.
 */
export interface Stands extends SampleRange {
  /** Under which id the samples are stored: of the stroke that was severed, or its own. */
  samples: string;
  /** The stroke that was severed, itself perhaps such a part; itself where it shares no samples and no erasures. */
  of: string;
}

/** What a stroke has whose shape may be another one later. */
interface Shaped {
  /** Under which id its shape is stored; absent: its own. */
  shape?: string;
}

/**
 * That a stroke is a pour: a closed shape of colour, its border in the middles of the lines that it was poured between.
 * When it follows its lines, it gets another shape.
 */
export interface Pour extends Shaped {
  /** Where it was poured, before its matrix, paper px: at least one. */
  seeds: readonly (readonly [x: number, y: number])[];
  /** Gaps up to this were closed, paper px. */
  gapPx: number;
  /** The layers whose lines it was poured between. */
  against: readonly string[];
  /** Its lines no longer enclose it: it stays as it was. */
  isOpen?: true;
}

export const LABEL_FONTS = ['serif', 'plain', 'heavy', 'hand', 'speech', 'shout'] as const;
export type LabelFont = (typeof LABEL_FONTS)[number];
export const LABEL_ALIGNS = ['left', 'middle', 'right'] as const;
export type LabelAlign = (typeof LABEL_ALIGNS)[number];
/** So many characters has a label at most. */
export const MOST_LABEL = 400;

/** What the letters of a label say. Its shape is laid out once, and moved, turned and sized by the stroke's matrix. */
export interface LabelWords {
  /** Its lines, parted by line feeds. */
  text: string;
  font: LabelFont;
  align: LabelAlign;
  /** From one line to the next, in sizes of the letters. */
  spacing: number;
}

/** That a stroke is the letters of a label, or the outline around them: both say the same, but for that. */
export interface Label extends Shaped, LabelWords {
  /** Where its lines lie, before the stroke's matrix, px. */
  box: readonly [x0: number, y0: number, x1: number, y1: number];
  /** It is the outline. */
  isOutline?: true;
}

/** Fields of strokes that say what their shape is. */
export const isShape = (field: string): field is 'pour' | 'label' => field === 'pour' || field === 'label';

/** A stroke without its samples, which are stored once and never change: under its id, or as `stands` or its shape says. */
export interface Stroke extends Entity {
  layerId: string;
  order: string;
  colour: string;
  pen: Pen;
  matrix: Matrix;
  engine: number;
  /** Absent: the whole of it. Never changes. */
  stands?: Stands;
  /** Lines with the same one are picked together; absent or null: none. */
  group?: string | null;
  /** Absent: it is none. */
  pour?: Pour;
  /** A pour that follows when its lines change. */
  tied?: boolean;
  /** Absent: it is none. */
  label?: Label;
}

/** What has a shape of its own from now on, stored under its id: a pour follows no lines. */
export function withOwnShape<S extends Pick<Stroke, 'pour' | 'tied' | 'label'>>(stroke: S): S {
  if (stroke.label) return { ...stroke, label: ownShape(stroke.label) };
  return stroke.pour ? { ...stroke, pour: ownShape(stroke.pour), tied: false } : stroke;
}

function ownShape<T extends Shaped>({ shape: _, ...rest }: T): Omit<T, 'shape'> {
  return rest;
}

/** The name by which samples are asked for that are stored under an id, whatever a stroke of that id has now. */
export const storedName = (id: string): string => `~${id}`;

/** Whether a stroke lays ink: one of a soft eraser does not. */
export const isInk = ({ pen }: Pick<Stroke, 'pen'>): boolean => !pen.fades;

/** The id under which the samples of a stroke or an erasure are stored. */
export const samplesOf = (mark: { id: string; stands?: Stands; pour?: Pour; label?: Label }): string =>
  mark.stands?.samples ?? (mark.pour ?? mark.label)?.shape ?? mark.id;

/**
 * A hard erasure: an even stroke of `sizePx` that takes away from the strokes it lists, from parts that
 * these were severed into, and from nothing else. Its samples are stored like a stroke's.
 */
export interface Erasure extends Entity {
  layerId: string;
  pen: Pen;
  strokeIds: string[];
  /** The matrices that listed strokes had when they were erased, where not the identity: the
   * erasure moves with its strokes, each by what its stroke has moved since. */
  matrices?: Record<string, Matrix>;
  engine: number;
}

/** Lines over the picture that help to place and to draw; never sent. */
export interface Guides {
  kind: 'thirds' | 'squares' | 'perspective';
  /** Squares along the longer side of the paper. */
  squares: number;
  /** Vanishing points, paper px: one to three. */
  points: [x: number, y: number][];
}

/** A colour that is kept with a sheet. */
export interface Swatch {
  id: string;
  colour: string;
  /** Absent: it is called by its colour. */
  name?: string;
}
export const MOST_SWATCHES = 120;

/** What a sheet keeps beside its layers. `target` is where ink lands. */
export interface SheetSettings {
  id: 'sheet';
  paperColour: string;
  hush: number;
  scaffoldingShown: boolean;
  veil: number;
  target: string | null;
  nibs: [number, number, number, number];
  /** Absent or null: none. */
  guides?: Guides | null;
  /** As it was changed last; absent: as the sheet's card has it. */
  paper?: PaperSize;
  /** Where the paper's corner and scale have come to since the sheet was new; absent or null: nowhere. */
  frame?: Frame | null;
  /** Absent or null: none. */
  swatches?: Swatch[] | null;
}

export interface Tables {
  sheet: SheetSettings;
  layers: Layer;
  strokes: Stroke;
  erasures: Erasure;
}
export type TableName = keyof Tables;
export type AnyEntity = Tables[TableName];

export const DEFAULT_HUSH = 0.45;

/** The settings of a new sheet; nibs in paper px grow with the resolution. */
export function newSettings(ppi: number): SheetSettings {
  const px = (mm: number) => Math.max(1, Math.round((mm / 25.4) * ppi));
  return {
    id: 'sheet',
    paperColour: '#ffffff',
    hush: DEFAULT_HUSH,
    scaffoldingShown: true,
    veil: 0,
    target: FIRST_LAYER.id,
    nibs: [px(0.25), px(0.7), px(1), px(2)],
  };
}

/** The ink layer that a new sheet begins with; it is the target at once. */
export const FIRST_LAYER: InkLayer = {
  id: 'lines',
  kind: 'ink',
  deleted: false,
  name: 'Lines',
  order: 'a0',
  visible: true,
  locked: false,
  opacity: 1,
};

/** Bottom first; equal orders (two devices at once) by id. */
export const byOrder = (a: { order: string; id: string }, b: { order: string; id: string }): number =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0;
