import type { Ink } from '../contract/ink-frame';
import type { Layer, SheetSettings } from '../core/sheet/entities';
import type { Damage } from '../core/sheet/ink-damage';
import type { InkStore } from '../core/sheet/ink-store';
import type { PaperSize } from '../core/sheet/paper';
import { SheetModel } from '../core/sheet/sheet-model';
import { writesOf, type Assign, type Change, type Write } from '../core/sheet/steps';
import type { StepName } from './kept-pixels';
import { Previews } from './previews';
import type { TileMaker } from './tile-maker';

/** How a sheet is opened: its ink, and steps that this lacks though the kept tiles show them. */
export interface Opening {
  ink: Ink;
  missed: readonly { changes: Change[]; parts: [string, Uint8Array][] }[];
  settings: SheetSettings;
  layers: readonly Layer[];
  paper: PaperSize;
}

export interface FollowedSheetListener {
  /** Marks that could not be read. */
  unreadable?(count: number): void;
  /** A shape cannot be had now. */
  owed?(): void;
  /** Shapes have come that could not be had before. */
  settled?(damage: Damage[]): void;
}

/** What could not be had when a stroke got it is asked for again after this. */
const AGAIN_MS = 3000;

/**
 * The sheet of a worker, as steps and previews change it. It knows whether its ink is what the steps have made of it: only
 * then may anything be kept that is made from it.
 */
export class FollowedSheet {
  private opened: SheetModel | undefined;
  paper: PaperSize = { widthPx: 1, heightPx: 1, ppi: 300 };
  /** Counts changes: what was made before one of them may be out of date. */
  revision = 0;
  private readonly previews = new Previews();
  /** Whether some kept tiles were looked at since the sheet was opened. */
  isLookedAt = false;

  private settling: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly maker: TileMaker,
    private readonly listener: FollowedSheetListener = {},
  ) {}

  get model(): SheetModel {
    if (!this.opened) throw new Error('no sheet is open');
    return this.opened;
  }

  open({ ink, missed, settings, layers, paper }: Opening): void {
    const model = new SheetModel(settings, layers);
    model.strokes.open(ink.strokes);
    for (const { erasure } of ink.erasures) model.erasures.set(erasure.id, erasure);
    this.opened = model;
    this.paper = paper;
    this.revision++;
    this.previews.clear();
    this.isLookedAt = false;
    this.maker.open(ink, (store: InkStore) => {
      for (const { changes, parts } of missed) store.follow(model.apply(changes), new Map(parts));
    });
    this.tellSince(0);
  }

  /** Follows a step. @returns where it shows. */
  async apply(changes: readonly Change[], parts: [string, Uint8Array][], step?: StepName): Promise<Damage[]> {
    // What tiles show while something is previewed is not what an undo puts back.
    const name = this.previews.stand ? undefined : step;
    const damage = await this.followed(changes, new Map(parts), () => this.model.apply(changes), name);
    this.previews.done(changes);
    this.settleSoon();
    return damage;
  }

  /** Shows strokes with other values, without a step. @returns where it shows. */
  preview(changes: readonly Assign[]): Promise<Damage[]> {
    // At once: nothing is kept from now on.
    this.previews.show(changes, this.model.read);
    return this.followed(changes, new Map(), () => changes.flatMap(writesOf));
  }

  /** Lets the ink follow changes, and notes where it shows. @param plan writes them, once what they lack is there. */
  private async followed(
    changes: readonly Change[],
    parts: ReadonlyMap<string, Uint8Array>,
    plan: () => Write[],
    step?: StepName,
  ): Promise<Damage[]> {
    const { maker } = this;
    const { ink } = maker;
    const unreadable = ink.unreadable.length;
    const lacking = ink.lackingFor(changes, parts);
    if (lacking.length) await maker.bringSamples(lacking).catch(() => undefined);
    const damage = ink.follow(plan(), parts);
    this.tellSince(unreadable);
    this.revision++;
    maker.follow(damage, step);
    return damage;
  }

  /**
   * Brings shapes that could not be had when strokes got them.
   * @returns where the drawing changes by that.
   * @throws what the supply rejects with.
   */
  async settle(): Promise<Damage[]> {
    const damage = await this.maker.settleShapes();
    if (damage.length) this.revision++;
    return damage;
  }

  /** Asks again, until all is there. */
  private settleSoon(): void {
    if (!this.maker.ink.owed.size || this.settling !== undefined) return;
    this.listener.owed?.();
    this.settling = setTimeout(() => {
      this.settling = undefined;
      this.settle().then(
        (damage) => damage.length && this.listener.settled?.(damage),
        () => this.settleSoon(),
      );
    }, AGAIN_MS);
  }

  /** Nothing more is asked for. */
  close(): void {
    clearTimeout(this.settling);
  }

  /** Whether the ink is just what the steps have made of it. */
  get isTrue(): boolean {
    return this.opened !== undefined && !this.previews.stand && this.maker.ink.owed.size === 0;
  }

  /** Tells, whenever asked, whether the ink is still what the steps have made of it, and as it is now. */
  standsStill(): () => boolean {
    const { revision } = this;
    return () => this.isTrue && revision === this.revision;
  }

  /** Nothing that was kept with the sheet is used any more. */
  forgetKept(): void {
    this.maker.forgetKept();
    this.revision++;
  }

  /** Tells of ink that could not be read since there was so much of it. */
  private tellSince(before: number): void {
    const count = this.maker.ink.unreadable.length - before;
    if (count > 0) this.listener.unreadable?.(count);
  }
}
