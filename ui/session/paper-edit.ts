import type { Box } from '../../core/geometry/box';
import { MIN_SIDE_PX, paperProblem, sizeOf, type PaperSize } from '../../core/sheet/paper';
import { newPaperSize, paperChanges, type NewPaper } from '../../core/sheet/paper-change';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign } from '../../core/sheet/steps';
import type { SheetSession } from './session';
import { Watched } from './watched';

export type PaperSide = keyof Box;

/** Changing the paper: by its edges, by numbers, with everything on it scaled along or not; one step when it is kept. */
export class PaperEdit {
  /** The paper as it would be; undefined: nobody is changing it. */
  readonly draft = new Watched<NewPaper | undefined>(undefined);
  /** Everything on it becomes as much larger as the paper. */
  readonly scales = new Watched(false);

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {}

  /** The paper as it is. */
  get now(): PaperSize {
    return sizeOf(this.session.paper);
  }

  begin(): void {
    const { widthPx, heightPx, ppi } = this.now;
    this.draft.set({ box: { x0: 0, y0: 0, x1: widthPx, y1: heightPx }, scale: 1, ppi });
  }

  drop(): void {
    this.draft.set(undefined);
  }

  /** Moves edges to places of the paper as it is, whole px; never past each other. */
  pull(sides: Partial<Box>): void {
    const draft = this.draft.now();
    if (!draft) return;
    const box = { ...draft.box };
    const whole = (v: number) => Math.round(v);
    if (sides.x0 !== undefined) box.x0 = Math.min(whole(sides.x0), box.x1 - MIN_SIDE_PX);
    if (sides.y0 !== undefined) box.y0 = Math.min(whole(sides.y0), box.y1 - MIN_SIDE_PX);
    if (sides.x1 !== undefined) box.x1 = Math.max(whole(sides.x1), box.x0 + MIN_SIDE_PX);
    if (sides.y1 !== undefined) box.y1 = Math.max(whole(sides.y1), box.y0 + MIN_SIDE_PX);
    this.draft.set({ ...draft, box, scale: 1 });
  }

  /** Sets a side's length, px: the paper grows to the right and down, or all of it with what is on it. */
  setSize(side: 'width' | 'height', px: number): void {
    const draft = this.draft.now();
    if (!draft || !Number.isFinite(px) || px < 1) return;
    const { box } = draft;
    const own = side === 'width' ? box.x1 - box.x0 : box.y1 - box.y0;
    if (this.scales.now()) this.draft.set({ ...draft, scale: px / own });
    else this.pull(side === 'width' ? { x1: box.x0 + px } : { y1: box.y0 + px });
  }

  setPpi(ppi: number): void {
    const draft = this.draft.now();
    if (draft && Number.isFinite(ppi)) this.draft.set({ ...draft, ppi });
  }

  /** Whether what is done to the size goes for what is on the paper, too. */
  setScales(on: boolean): void {
    this.scales.set(on);
    const draft = this.draft.now();
    if (draft && !on) this.draft.set({ ...draft, scale: 1 });
  }

  get isChanged(): boolean {
    const draft = this.draft.now();
    if (!draft) return false;
    const { x0, y0 } = draft.box;
    const { widthPx, heightPx, ppi } = this.now;
    const next = newPaperSize(draft);
    return x0 !== 0 || y0 !== 0 || next.widthPx !== widthPx || next.heightPx !== heightPx || next.ppi !== ppi;
  }

  get problem(): string | undefined {
    const draft = this.draft.now();
    return draft && paperProblem(newPaperSize(draft));
  }

  /** Gives the sheet this paper: one step. @returns whether it was. */
  async keep(): Promise<boolean> {
    const draft = this.draft.now();
    if (!draft || !this.isChanged || this.problem) return false;
    await this.session.ready;
    const { model } = this.session;
    const changes = paperChanges(model, this.now, draft);
    if (isTooLarge(changes)) {
      this.warn(
        'There is too much on this sheet to be moved in one step. The paper is as it was; it can grow to the right and down.',
      );
      return false;
    }
    const { widthPx, heightPx } = newPaperSize(draft);
    await this.session.act(`Paper of ${widthPx} x ${heightPx} px`, changes);
    this.begin();
    return true;
  }

  setColour(colour: string): Promise<void> {
    const { settings } = this.session.model;
    return this.session.act('Colour of the paper', [assign('sheet', settings, 'paperColour', colour)]);
  }
}
