import type { Guides } from '../../core/sheet/entities';
import { Watched } from './watched';

/** What can be done to a picture before it is inked. */
export const PLACE_TOOLS = ['lay', 'crop', 'tone', 'lift', 'trace', 'paper'] as const;
export type PlaceTool = (typeof PLACE_TOOLS)[number];

/** Where a picture that lies beside the paper is shown, CSS px of the page, and what of it: its zoom and middle. */
export interface BesideView {
  left: number;
  top: number;
  width: number;
  height: number;
  /** 1: the whole picture fits. */
  zoom: number;
  /** The part of the picture in the middle, 0 to 1 each way. */
  x: number;
  y: number;
}

/** What Place is busy with, as long as the sheet is open. */
export class Placing {
  readonly tool = new Watched<PlaceTool>('lay');
  /** The layer that is worked on; undefined: the topmost picture. */
  readonly picture = new Watched<string | undefined>(undefined);
  /** Works on a picture: the list has done its duty. */
  take(layerId: string): void {
    this.picture.set(layerId);
    this.listing.set(false);
  }

  /** Guides as they are being dragged. */
  readonly guides = new Watched<Guides | undefined>(undefined);
  /** The list of pictures stands open. */
  readonly listing = new Watched(false);
  /** Views of pictures beside the paper, by layer. */
  readonly beside = new Watched<Readonly<Record<string, BesideView>>>({});
}
