import type { Quad } from '../core/geometry/homography';
import type { EdgeChains } from '../core/check/edge-chains';
import type { Recipe } from '../core/picture/recipe';
import type { Tones } from '../core/picture/tones';
import type { TraceRule } from '../core/trace/trace';
import type { TracedPage } from '../core/trace/traced-page';
import type { PictureRef } from '../core/sheet/entities';

/** A picture and what was done to it. */
export interface Made {
  picture: PictureRef;
  recipe: Recipe;
}

/** What decides which lines a page has, px of the page, and how few points they get. */
export interface TraceWish extends TraceRule {
  nearPx: number;
}

/** What the page asks of the picture worker; `n` numbers the questions. */
export type ToPictureWorker =
  /** What a recipe makes of a picture, `scale` px to a px of the original. */
  | { type: 'develop'; n: number; made: Made; scale: number }
  /** The corners of a page in what a recipe makes of a picture. */
  | { type: 'page'; n: number; made: Made }
  /** How sharp pictures are. */
  | { type: 'sharpness'; n: number; pictures: readonly Made[] }
  /** The luma of a small picture of it. */
  | { type: 'tones'; n: number; made: Made }
  /** The colours of it, so many. */
  | { type: 'palette'; n: number; made: Made; count: number }
  /** The lines along which what a recipe makes of it changes. */
  | { type: 'edges'; n: number; made: Made; sensitivity: number }
  /** The lines of what a recipe makes of it. */
  | { type: 'trace'; n: number; made: Made; wish: TraceWish }
  | { type: 'stop'; n: number };

export type FromPictureWorker =
  | { n: number; kind: 'developed'; bitmap: ImageBitmap }
  /** Parts of its width and height; undefined: no page was found. */
  | { n: number; kind: 'page'; corners: Quad | undefined }
  | { n: number; kind: 'sharpness'; sharpness: number[] }
  | { n: number; kind: 'tones'; tones: Tones }
  | { n: number; kind: 'palette'; colours: string[] }
  /** `scale`: their px to one of what the recipe makes. */
  | { n: number; kind: 'edges'; edges: EdgeChains; scale: number }
  | { n: number; kind: 'traced'; page: TracedPage }
  | { n: number; kind: 'progress'; part: number }
  | { n: number; kind: 'stopped' }
  | { n: number; kind: 'failed'; reason: string };
