import type { Box } from '../core/geometry/box';
import type { TileAddress } from '../core/raster/tiles';
import type { PaperSize } from '../core/sheet/paper';
import type { Erasure, Layer, SheetSettings, Stroke } from '../core/sheet/entities';
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
  /** A step's changes; `showing` are the tiles on the screen, which come back at once where they changed. */
  | { type: 'apply'; n: number; changes: Change[]; parts: [string, Uint8Array][]; showing: TileAddress[] }
  /** The tiles wanted now, most wanted first; replaces what was wanted before. */
  | { type: 'want'; tiles: TileAddress[] }
  | { type: 'touched'; n: number; layerId: string; bytes: Uint8Array; pen: Pen }
  /** A PNG of what is sent, or of one layer `only`. */
  | { type: 'png'; n: number; level: number; onPaper: boolean; only?: string }
  | { type: 'svg'; n: number; onPaper: boolean; title: string }
  | { type: 'stop'; n: number };

/** A painted tile. `bitmap` null: nothing lies there. */
export interface PaintedTile {
  address: TileAddress;
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
  | { kind: 'opened'; strokes: Stroke[]; erasures: Erasure[]; seq: number }
  | { kind: 'applied'; damage: { layerId: string; box: Box }[]; tiles: PaintedTile[] }
  | { kind: 'touched'; ids: string[] }
  | { kind: 'file'; parts: BlobPart[] }
  | { kind: 'stopped' };
