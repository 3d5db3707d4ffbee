import type { StepName } from './kept-pixels';
import type { Box } from '../core/geometry/box';
import type { Layer, SheetSettings } from '../core/sheet/entities';
import type { PaperSize } from '../core/sheet/paper';
import type { Change } from '../core/sheet/steps';
import type { Pen } from '../core/stroke/pen';

/** What the page asks of the sheet worker. `n` numbers the questions that get one answer. */
export type ToWorker =
  | {
      type: 'open';
      n: number;
      frame: ArrayBuffer;
      settings: SheetSettings;
      layers: Layer[];
      paper: PaperSize;
      level: number;
    }
  /** A step's changes; `step` names the artist's own. */
  | { type: 'apply'; n: number; changes: Change[]; parts: [string, Uint8Array][]; step?: StepName }
  /** The tiles wanted now, most wanted first, of these runs; replaces what was wanted before. */
  | { type: 'want'; runs: TileRun[]; tiles: RunTile[] }
  | { type: 'touched'; n: number; layerId: string; bytes: Uint8Array; pen: Pen }
  /** A PNG of what is sent, or of one layer `only`. */
  | { type: 'png'; n: number; level: number; onPaper: boolean; only?: string; isOverview?: boolean }
  | { type: 'svg'; n: number; onPaper: boolean; title: string }
  | { type: 'stop'; n: number };

/** Layers that are shown as one, bottom first, each with its opacity in it. */
export interface TileRun {
  key: string;
  layers: { id: string; opacity: number }[];
}

/** One tile of a run. */
export interface RunTile {
  run: string;
  level: number;
  tx: number;
  ty: number;
}

export const runTileKey = (t: RunTile): string => `${t.run}/${t.level}/${t.tx}/${t.ty}`;

/** Grid px that a painted tile shows beyond each of its sides: turned neighbours overlap by up to 2.3 of them. */
export const TILE_APRON = 4;

/** A painted tile with its apron. `bitmap` null: nothing lies there. */
export interface PaintedTile {
  address: RunTile;
  bitmap: ImageBitmap | null;
}

export type FromWorker =
  | { type: 'tile'; tile: PaintedTile }
  /** Something that could not be read or painted; the rest was. */
  | { type: 'trouble'; what: string }
  | { type: 'progress'; n: number; done: number }
  | { type: 'answer'; n: number; answer: Answer }
  | { type: 'failed'; n: number; message: string };

export type Answer =
  | { kind: 'opened' }
  | { kind: 'applied'; damage: { layerId: string; box: Box }[] }
  | { kind: 'touched'; ids: string[] }
  | { kind: 'file'; parts: BlobPart[] }
  | { kind: 'stopped' };
