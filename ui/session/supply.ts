import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import type { PaperSize } from '../../core/sheet/paper';
import { storedName } from '../../core/sheet/entities';
import type { Need } from '../../workers/sheet-protocol';
import type { LiftedPixels } from './lifted-pixels';
import { dropLowTiles, fetchSamples, findLowTiles, putLowTiles } from './api';

const OUT_OF_REACH =
  'A part of the drawing is not on this device yet, and the server cannot be reached. It will be shown as soon as it can.';

/** The open sheet, as far as what its worker needs is concerned. */
interface Supplied {
  readonly card: PaperSize & { id: string };
  /** What steps bring that the server does not have yet. */
  waitingParts(): Iterable<readonly [id: string, bytes: Uint8Array]>;
  /** What was kept of the sheet was wrong, and is let go. */
  keptWasDropped(): void;
}

/** Gets what the sheet worker needs from the server, and says once when it cannot. */
export class Supply {
  private told = false;

  constructor(
    private readonly sheet: Supplied,
    private readonly leaving: AbortSignal,
    private readonly tell: (text: string) => void,
    private readonly pictures: Pick<LiftedPixels, 'strip'>,
  ) {}

  async bring(of: Need): Promise<ArrayBuffer> {
    const frame = await this.fetch(of);
    this.told = false;
    return frame;
  }

  private async fetch(of: Need): Promise<ArrayBuffer> {
    const { sheet, leaving } = this;
    const { id, widthPx, heightPx } = sheet.card;
    switch (of.what) {
      case 'samples':
        return this.samples(of.ids);
      case 'low-tiles':
        return findLowTiles(id, of.tiles, leaving);
      case 'picture':
        return this.pictures.strip(of);
      case 'keep':
        return nothing(putLowTiles(id, { seq: of.seq, widthPx, heightPx }, of.batch, leaving));
      case 'drop-kept':
        return nothing(dropLowTiles(id).then(() => sheet.keptWasDropped()));
    }
  }

  /** Samples by their names: of steps that wait, the server has none. */
  private async samples(names: readonly string[]): Promise<ArrayBuffer> {
    const asked = new Set(names);
    const here: Parts = new Map();
    for (const [id, bytes] of this.sheet.waitingParts()) if (asked.has(storedName(id))) here.set(storedName(id), bytes);
    if (!here.size) return fetchSamples(this.sheet.card.id, names, this.leaving);
    const away = names.filter((name) => !here.has(name));
    if (away.length)
      for (const [name, bytes] of decodeFrame(
        new Uint8Array(await fetchSamples(this.sheet.card.id, away, this.leaving)),
      ).parts)
        here.set(name, bytes);
    return encodeFrame(null, here).buffer;
  }

  outOfReach(): void {
    if (!this.told && !this.leaving.aborted) this.tell(OUT_OF_REACH);
    this.told = true;
  }
}

const nothing = (done: Promise<void>): Promise<ArrayBuffer> => done.then(() => new ArrayBuffer(0));
