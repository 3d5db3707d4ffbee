import type { SheetCard } from '../../contract/answers';
import type { SheetClient } from '../../workers/sheet-client';
import { putOverview } from './api';

const OVERVIEW_SIDE_PX = 640;
const IDLE_MS = 4000;
/** What cannot be kept is tried again, each time twice as late as before, and no later than this. */
const LONGEST_MS = 60000;

/** What decides whether something that is made of the sheet is of a numbered step. */
export interface SheetState {
  /** What is shown is what the steps on the server give. */
  readonly isWhole: boolean;
  /** The step that is shown, with all before it, where the sheet is whole. */
  readonly shownSeq: number;
}

/**
 * What is left with a sheet after inking rests: its small picture for the drawer, and the tiles of its low levels. Failing
 * is no loss: the next ones replace them, and tiles are mended when they are opened.
 */
export class Keeping {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private wait = IDLE_MS;
  private isPictureDue = false;
  private picturing: Promise<void> | undefined;
  private closed = false;

  constructor(
    private readonly card: SheetCard,
    private readonly client: SheetClient,
    private readonly state: SheetState,
  ) {}

  /** The sheet has been opened. @param isPictureDue the small picture is not of the sheet as it is. */
  opened(isPictureDue: boolean): void {
    this.isPictureDue ||= isPictureDue;
    this.timer ??= setTimeout(() => void this.keep(), IDLE_MS);
  }

  /** The sheet has changed. */
  allSoon(): void {
    clearTimeout(this.timer);
    this.isPictureDue = true;
    this.wait = IDLE_MS;
    this.timer = setTimeout(() => void this.keep(), IDLE_MS);
  }

  /** Whether the small picture of the sheet as it is has not been left yet. */
  get isDue(): boolean {
    return this.isPictureDue || this.picturing !== undefined;
  }

  /** What could not be kept now (a preview is shown, the server is away) is tried again later. */
  private async keep(): Promise<void> {
    this.timer = undefined;
    await this.keepPicture();
    const isKept = await this.keepTiles();
    if (this.closed || (isKept && !this.isDue)) return;
    this.wait = Math.min(2 * this.wait, LONGEST_MS);
    this.timer ??= setTimeout(() => void this.keep(), this.wait);
  }

  /** Leaves the tiles now, if nothing waits. @returns whether all are there. */
  async keepTiles(): Promise<boolean> {
    if (this.closed || !this.state.isWhole) return false;
    // Failing, the ones before stay.
    return this.client.keep(this.state.shownSeq).catch(() => false);
  }

  /** Leaves the small picture now, if nothing waits. One that is being made already is waited for. */
  async keepPicture(): Promise<void> {
    await this.picturing;
    if (this.closed || !this.isPictureDue || !this.state.isWhole) return;
    this.isPictureDue = false;
    this.picturing = this.picture()
      .catch(() => false)
      .then((isLeft) => {
        this.isPictureDue ||= !isLeft;
        this.picturing = undefined;
      });
    await this.picturing;
  }

  /** @returns whether it is with the sheet. */
  private async picture(): Promise<boolean> {
    const { id, widthPx, heightPx } = this.card;
    const level = Math.min(0, Math.floor(Math.log2(OVERVIEW_SIDE_PX / Math.max(widthPx, heightPx))));
    const seq = this.state.shownSeq;
    const parts = await this.client.png({ level, onPaper: true, isSmall: true }).result;
    if (!parts) return false;
    await putOverview(id, { seq, widthPx, heightPx }, parts);
    return true;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }
}
