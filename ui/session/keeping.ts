import type { SheetCard } from '../../contract/answers';
import type { SheetClient } from '../../workers/sheet-client';
import { putOverview } from './api';

const OVERVIEW_SIDE_PX = 640;
const IDLE_MS = 4000;

/** What decides whether a picture of the sheet is one of a numbered step. */
export interface SheetState {
  readonly isSaved: boolean;
  /** The step that is shown, with all before it. */
  readonly shownSeq: number;
}

/**
 * What is left with a sheet after inking rests: its small picture for the drawer, and the tiles of its low levels. Failing
 * is no loss: the next ones replace them, and tiles are mended when they are opened.
 */
export class Keeping {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private isPictureDue = false;
  private picturing: Promise<void> | undefined;
  private closed = false;

  constructor(
    private readonly card: SheetCard,
    private readonly client: SheetClient,
    private readonly state: SheetState,
  ) {}

  /** The sheet has been opened. */
  tilesSoon(): void {
    this.timer ??= setTimeout(() => void this.keep(), IDLE_MS);
  }

  /** The sheet has changed. */
  allSoon(): void {
    clearTimeout(this.timer);
    this.isPictureDue = true;
    this.timer = setTimeout(() => void this.keep(), IDLE_MS);
  }

  /** Whether the small picture of the sheet as it is has not been left yet. */
  get isDue(): boolean {
    return this.isPictureDue || this.picturing !== undefined;
  }

  private async keep(): Promise<void> {
    await this.keepPicture();
    await this.keepTiles();
  }

  /** Leaves the tiles now, if nothing waits. */
  async keepTiles(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    if (this.closed || !this.state.isSaved) return;
    // Failing, the ones before stay.
    await this.client.keep(this.state.shownSeq).catch(() => false);
  }

  /** Leaves the small picture now, if nothing waits. One that is being made already is waited for. */
  async keepPicture(): Promise<void> {
    await this.picturing;
    if (this.closed || !this.isPictureDue || !this.state.isSaved) return;
    this.picturing = this.picture()
      .catch(() => undefined)
      .finally(() => (this.picturing = undefined));
    await this.picturing;
  }

  private async picture(): Promise<void> {
    this.isPictureDue = false;
    const side = Math.max(this.card.widthPx, this.card.heightPx);
    const level = Math.min(0, Math.floor(Math.log2(OVERVIEW_SIDE_PX / side)));
    const seq = this.state.shownSeq;
    const parts = await this.client.png({ level, onPaper: true, isSmall: true }).result;
    if (parts) await putOverview(this.card.id, seq, parts);
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }
}
