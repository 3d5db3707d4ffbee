import type { Checked, CheckWish } from './checking';
import type { ColourAsk } from './colouring';
import type { KeptTile } from '../contract/low-tiles';
import type { Box } from '../core/geometry/box';
import type { Part } from '../core/raster/lay-parts';
import type { Pixels } from '../core/raster/pixels';
import type { TileRange } from '../core/raster/tiles';
import type { Layer, SheetSettings } from '../core/sheet/entities';
import type { ErasedStroke } from '../core/sheet/erased-strokes';
import type { NearLine } from '../core/sheet/lines-near';
import type { PaperSize } from '../core/sheet/paper';
import type { CopiedLine, Gap, PickedShape } from '../core/sheet/picking';
import type { Mended } from '../core/sheet/mending';
import type { Snip } from '../core/sheet/snipping';
import type { Assign, Change } from '../core/sheet/steps';
import type { Pen } from '../core/stroke/pen';
import type { StepName } from './kept-pixels';
import type { TileBatch } from './tile-maker';

/** What the page asks of the sheet worker. `n` numbers the questions that get one answer. */
export type ToWorker =
  /** What is kept of the sheet's low levels: they are shown until its ink is there. A frame as in contract/low-tiles.ts. */
  | { type: 'low'; frame: ArrayBuffer }
  | {
      type: 'open';
      n: number;
      frame: ArrayBuffer;
      /** Steps that the ink lacks though the kept tiles show them. */
      missed: { changes: Change[]; parts: [string, Uint8Array][] }[];
      settings: SheetSettings;
      layers: Layer[];
      paper: PaperSize;
    }
  /** A step's changes; `step` names the artist's own. */
  | { type: 'apply'; n: number; changes: Change[]; parts: [string, Uint8Array][]; step?: StepName }
  /** The tiles wanted now, most wanted first, of these runs, and those in sight; replaces what was wanted before. */
  | { type: 'want'; runs: TileRun[]; tiles: RunTile[]; sight: Sight }
  | { type: 'erased'; n: number; layerId: string; bytes: Uint8Array; pen: Pen }
  | { type: 'near'; n: number; layerId: string; x: number; y: number; reach: number }
  | { type: 'line-at'; n: number; layerIds: readonly string[]; x: number; y: number; reach: number }
  | { type: 'in-loop'; n: number; layerIds: readonly string[]; loop: Float64Array }
  | { type: 'shape'; n: number; ids: readonly string[]; level: number; most: number }
  | { type: 'copies'; n: number; ids: readonly string[] }
  | { type: 'gap'; n: number; ids: readonly string[]; side: 'up' | 'down' }
  /** What a snip would take; see {@link snipsAlong}. */
  | {
      type: 'snips';
      n: number;
      layerIds: readonly string[];
      boundIds: readonly string[];
      way: Float64Array;
      reach: number;
    }
  /** What a line becomes that is drawn anew along a way; see {@link mendAlong}. */
  | { type: 'mend'; n: number; layerIds: readonly string[]; way: Float64Array; reach: number }
  /** What is wrong with the ink of some layers. */
  | ({ type: 'check'; n: number } & CheckWish)
  /** About colour: shapes to be poured, and what becomes of those that were. */
  | { type: 'colour'; n: number; ask: ColourAsk }
  /** Shows how strokes would look with other values: nothing of it is kept. */
  | { type: 'preview'; n: number; changes: Assign[] }
  /** A PNG of what is sent, or of one layer `only`. `isSmall`: from the tiles that are there. */
  | { type: 'png'; n: number; level: number; onPaper: boolean; only?: string; isSmall?: boolean }
  /** Of `only` these lines: no larger than they are. */
  | { type: 'svg'; n: number; onPaper: boolean; title: string; only?: readonly string[] }
  /** Nothing waits, and the ink shows this step: the tiles of the low levels are made for the sheet to keep. */
  | { type: 'keep'; n: number; seq: number }
  | { type: 'stop'; n: number }
  /** Shapes that an undo may need, by their names: without the server they could not be had then. */
  | { type: 'ahead'; names: readonly string[] }
  /** What the worker has asked for; none: it cannot be had now. */
  | { type: 'brought'; need: number; frame?: ArrayBuffer };

/** Layers that are shown as one. */
export interface TileRun {
  key: string;
  parts: readonly Part[];
}

/** The tiles of a level that the screen shows. */
export interface Sight {
  level: number;
  range: TileRange;
}

/** One tile of a run. */
export interface RunTile {
  run: string;
  level: number;
  tx: number;
  ty: number;
}

export const runTileKey = (t: RunTile): string => `${t.run}/${t.level}/${t.tx}/${t.ty}`;

/** A painted tile with its apron. `bitmap` null: nothing lies there. */
export interface PaintedTile {
  address: RunTile;
  bitmap: ImageBitmap | null;
}

/** What the worker needs from the server: frames of samples by id, of kept tiles by key. */
export type Need =
  | { what: 'samples'; ids: readonly string[] }
  | { what: 'low-tiles'; tiles: readonly KeptTile[] }
  /** The pixels of a picture that is a layer, in a rectangle of a level's grid: RGBA, multiplied by alpha. */
  | { what: 'picture'; layerId: string; level: number; rect: Omit<Pixels, 'data'> }
  /** To be kept with the sheet as this step left it. */
  | { what: 'keep'; seq: number; batch: TileBatch }
  /** What is kept of the sheet is not what its steps give: the server lets go of it. */
  | { what: 'drop-kept' };

export type FromWorker =
  | { type: 'tile'; tile: PaintedTile }
  /** Something that could not be read or painted; the rest was. */
  | { type: 'trouble'; what: string }
  /** Something that is wanted cannot be had now: it is asked for again. */
  | { type: 'out-of-reach' }
  /** The drawing has changed there without a step: something has come that it lacked. */
  | { type: 'changed'; damage: { layerId: string; box: Box }[] }
  | { type: 'need'; need: number; of: Need }
  | { type: 'progress'; n: number; done: number }
  | { type: 'answer'; n: number; answer: Answer }
  /** `isOutOfReach`: what it needs cannot be had from the server now. */
  | { type: 'failed'; n: number; message: string; isOutOfReach?: boolean };

export type Answer =
  | { kind: 'opened' }
  /** `tiles`: those in sight that were at hand as they are now. */
  | { kind: 'applied'; damage: { layerId: string; box: Box }[]; tiles: PaintedTile[] }
  | { kind: 'erased'; strokes: ErasedStroke[] }
  | { kind: 'near'; lines: NearLine[] }
  | { kind: 'line-at'; id?: string }
  | { kind: 'in-loop'; ids: string[] }
  | { kind: 'shape'; shape: PickedShape }
  | { kind: 'copies'; copies: CopiedLine[] }
  | { kind: 'gap'; gap?: Gap }
  | { kind: 'snips'; snips: Snip[] }
  | { kind: 'mend'; mended?: Mended }
  | { kind: 'checked'; checked?: Checked }
  /** As {@link ColourAnswers} has it for what was asked. */
  | { kind: 'colour'; answer: unknown }
  | { kind: 'file'; parts: BlobPart[] }
  | { kind: 'kept'; isAll: boolean }
  | { kind: 'stopped' };
