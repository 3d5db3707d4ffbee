import type { Need } from '../../workers/sheet-protocol';
import type { LiftedPixels } from './lifted-pixels';
import { fetchSamples, findLowTiles, putLowTiles } from './api';

const OUT_OF_REACH =
  'A part of the drawing is not on this device yet, and the server cannot be reached. It will be shown as soon as it can.';

/** Gets what the sheet worker needs from the server, and says once when it cannot. */
export class Supply {
  private told = false;

  constructor(
    private readonly sheetId: string,
    private readonly leaving: AbortSignal,
    private readonly tell: (text: string) => void,
    private readonly pictures: Pick<LiftedPixels, 'strip'>,
  ) {}

  async bring(of: Need): Promise<ArrayBuffer> {
    const frame = await this.fetch(of);
    this.told = false;
    return frame;
  }

  private fetch(of: Need): Promise<ArrayBuffer> {
    const { sheetId, leaving } = this;
    switch (of.what) {
      case 'samples':
        return fetchSamples(sheetId, of.ids, leaving);
      case 'low-tiles':
        return findLowTiles(sheetId, of.tiles, leaving);
      case 'picture':
        return this.pictures.strip(of);
      case 'keep':
        return putLowTiles(sheetId, of.seq, of.batch, leaving).then(() => new ArrayBuffer(0));
    }
  }

  outOfReach(): void {
    if (!this.told && !this.leaving.aborted) this.tell(OUT_OF_REACH);
    this.told = true;
  }
}
