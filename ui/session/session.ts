import { nanoid } from 'nanoid';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { readInk } from '../../contract/ink-frame';
import type { LowTilesBody } from '../../contract/low-tiles';
import type { SheetCard, SheetHead, StepsAnswer } from '../../contract/answers';
import { FIRST_FRAME, sameFrame, type Frame } from '../../core/geometry/frame';
import { completed, frameSetBy, rebased } from '../../core/sheet/frames';
import { sameValue, type History } from '../../core/sheet/history';
import { movableOf } from '../../core/sheet/paper-change';
import { sizeOf, type PaperSize } from '../../core/sheet/paper';
import { SheetDrafts } from './sheet-drafts';
import { SheetModel } from '../../core/sheet/sheet-model';
import { assign, fieldKeys, StepRefused, type Assign, type Change, type Step } from '../../core/sheet/steps';
import { cutText } from '../../core/sheet/words';
import type { StepName } from '../../workers/kept-pixels';
import { OutOfReach, SheetClient } from '../../workers/sheet-client';
import type { Answer } from '../../workers/sheet-protocol';
import type { Stage } from '../canvas/stage';
import type { WetInk } from '../canvas/paper-screen';
import { ApiFailure, fetchHead, fetchHistory, fetchInk, fetchLowTiles, fetchStepsAfter, knownSteps } from './api';
import { BusyHand } from './busy-hand';
import type { Delivery } from './deliver';
import { deviceId } from './device';
import { changesToTake, fieldsOf, inkOf, partsOf } from './foreign-steps';
import { Journal, type WaitingStep } from './journal';
import { Keeping } from './keeping';
import { lostLayers } from './lost-layers';
import { missedSteps } from './missed-steps';
import { otherTabs } from './other-tabs';
import { PixelsFirst } from './pixels-first';
import { Sender, type QueuedStep } from './sender';
import type { SessionListener } from './session-listener';
import { LiftedPixels } from './lifted-pixels';
import { Supply } from './supply';
import { TiedPours } from './tied-pours';
import { Undoing, type Side } from './undoing';

export type { SessionListener, WayBack } from './session-listener';

type Applied = Extract<Answer, { kind: 'applied' }>;

export interface ActOptions {
  undoable?: boolean;
  undoes?: string;
  parts?: [string, Uint8Array][];
  leftover?: WetInk;
}

/**
 * One open sheet: its model, the worker that draws it, its history, and the way of its steps to the
 * device's journal and the server.
 */
export class SheetSession {
  readonly client = new SheetClient();
  stage: Stage | undefined;
  /** Resolves once the worker holds the strokes; steps made before wait for it. */
  ready: Promise<unknown> = Promise.resolve();
  private readonly device = deviceId();
  /** Whether the worker has all strokes. */
  private isReady = false;
  /** Resolves when all that is in sight has been painted for the first time. */
  private isShown: () => void = () => {};
  private readonly shown = new Promise<void>((resolve) => (this.isShown = resolve));
  /** Steps that were not put on top: what of them the ink does not hold is taken in by its number. */
  private readonly passedOver = new Set<string>();
  /** Wet ink of steps that were made before. */
  private readonly early = new Map<string, WetInk>();
  /** Steps up to this number are in the model, in their order. */
  private seq: number;
  /** Layers, settings and history were read at this step; the strokes may be those of an earlier one. */
  private readSeq = 0;
  /** The latest number that the server has told of. */
  private latest = 0;
  private catchingUp: Promise<void> | undefined;
  private toldDeleted = false;
  private readonly following = new PixelsFirst();
  /** Counts what others have done: whatever was read from the model before may be out of date. */
  foreignChanges = 0;
  private readonly tabs: ReturnType<typeof otherTabs>;
  private readonly sender: Sender;
  readonly tied = new TiedPours(this);
  private readonly hand = new BusyHand(
    () => this.tied.leaveOff(),
    () => this.followPaper(),
  );
  private readonly undoing: Undoing;
  /** What the stage shows of layers and settings. */
  readonly drafts = new SheetDrafts(this);

  readonly card: SheetCard;
  readonly model: SheetModel;
  /** What is left with the sheet when inking rests. */
  readonly keeping: Keeping;
  private readonly lifted: LiftedPixels;
  private isPaperTold = false;
  private readonly tops: Readonly<Record<string, string>>;

  private constructor(
    head: SheetHead,
    readonly journal: Journal,
    private readonly level: number,
    private readonly listener: SessionListener,
    private readonly leaving: AbortController,
  ) {
    const { card } = head;
    this.card = card;
    this.model = new SheetModel(settingsOf(head), head.layers);
    this.tops = head.tops;
    this.seq = card.seq;
    this.sender = new Sender(card.id, journal);
    this.tabs = otherTabs(card.id, () => void this.catchUp());
    this.client.onTrouble = (what) =>
      listener.notice(`${what} could not be shown; everything else is. Nothing of it was lost.`);
    this.lifted = new LiftedPixels((id) => this.model.layers.get(id));
    const supply = new Supply(this, leaving.signal, (text) => listener.notice(text), this.lifted);
    this.client.onNeed = (of) => supply.bring(of);
    this.client.onOutOfReach = () => supply.outOfReach();
    this.client.onChanged = (damage) => this.shownNow(damage, undefined, []);
    this.keeping = new Keeping(card, this.client, this);
    this.undoing = new Undoing(this, () => listener.history());
    this.sender.onState = (state) => {
      this.following.later('sync', () => listener.sync(state));
      this.followPaper();
    };
    this.sender.onDelivered = (delivery) => this.delivered(delivery);
  }

  /**
   * Opens a sheet as the server has it, with this device's waiting steps on top. Resolves as soon as it can be shown and
   * inked; its strokes come after (`ready`).
   * @param levelFor the tile level that will be shown first, for the paper's size.
   * @throws {ApiFailure} no such sheet, or the server cannot be reached.
   */
  static async open(
    id: string,
    levelFor: (paper: PaperSize) => number,
    listener: SessionListener,
  ): Promise<SheetSession> {
    const leaving = new AbortController();
    // The head first, alone: with it the kept small picture can be shown.
    const head = await fetchHead(id);
    const level = levelFor(head.card);
    const low = fetchLowTiles(id, level, leaving.signal).catch(() => undefined);
    await listener.found(head.card);
    const journal = await Journal.open((text) => listener.notice(text));
    const session = new SheetSession(head, journal, level, listener, leaving);
    session.sender.hold();
    for (const w of await session.stillWaiting()) session.sender.add(w);
    session.ready = session.load(head, low);
    session.ready.then(
      () => session.begun(head.isOverviewDue && head.card.seq > 0),
      (error: unknown) => {
        if (session.closed) return;
        session.close();
        listener.failed(error);
      },
    );
    return session;
  }

  /** All is there: what others do is taken in, and what the sheet should keep is made. */
  private begun(isPictureDue: boolean): void {
    if (this.closed) return;
    this.listener.structure();
    this.listener.history();
    void this.catchUp();
    void this.tellSetAside();
    void this.undoing.fetchAhead();
    this.keeping.opened(isPictureDue);
  }

  get paper(): PaperSize {
    return this.card;
  }

  /** Whether the server has everything, and the strokes are here. */
  get isSaved(): boolean {
    return this.isReady && this.sender.waiting.length === 0;
  }

  /** Whether what is shown is what the steps on the server give: only then may anything be kept that is made of it. */
  get isWhole(): boolean {
    // A step of ours may be numbered though one of others before it has not been taken in.
    const isUpToDate = this.latest <= this.seq && !this.isTorn;
    return this.isSaved && isUpToDate && sameValue(this.model.settings.paper, sizeOf(this.card));
  }

  /** What steps bring that wait for the server. */
  *waitingParts(): Generator<[string, Uint8Array]> {
    for (const { parts } of this.sender.waiting) yield* parts;
  }

  keptWasDropped(): void {
    this.keeping.allSoon();
  }

  /** Resolves once the server has everything. */
  whenSaved(): Promise<void> {
    return this.sender.whenEmpty();
  }

  private get closed(): boolean {
    return this.leaving.signal.aborted;
  }

  /** Once the server has another size of the paper: everything that shows the sheet is measured by it. */
  private followPaper(): void {
    const { paper } = this.model.settings;
    if (!paper || sameValue(paper, sizeOf(this.card)) || !this.isSaved || this.closed || this.isPaperTold) return;
    if (this.hand.isBusy) return;
    this.isPaperTold = true;
    this.listener.paperChanged();
  }

  /** The hand begins something that means places of the paper as it is: it does not change meanwhile. @returns ends it. */
  holdPaper(): () => void {
    return this.hand.hold();
  }

  /** The frame of the paper that all places on the page are of. */
  get frame(): Frame {
    return this.model.settings.frame ?? FIRST_FRAME;
  }

  /** The stage that shows this sheet, or none any more. */
  showOn(stage: Stage | undefined): void {
    this.stage = stage;
    void stage?.whenComplete.then(() => this.isShown());
  }

  get history(): Readonly<History> {
    return this.undoing.history;
  }

  /** The place of a layer's topmost stroke. */
  topOrderOf(layerId: string): string | undefined {
    const top = this.model.strokes.topOrderOf(layerId);
    const before = this.isReady || !Object.hasOwn(this.tops, layerId) ? undefined : this.tops[layerId];
    return top === undefined || (before !== undefined && before > top) ? before : top;
  }

  /** Whether any ink stands on one of these layers; until the strokes are there, whether any ever did. */
  hasInkOn(layerIds: readonly string[]): boolean {
    const isEarly = !this.isReady && layerIds.some((id) => Object.hasOwn(this.tops, id));
    return isEarly || this.model.strokes.countOn(layerIds, 1) > 0;
  }

  /** This device's waiting steps from earlier. */
  private async stillWaiting(): Promise<QueuedStep[]> {
    const waiting = await this.journal.waiting(this.card.id);
    return waiting.map(({ n, step, parts }) => ({ step, parts, place: Promise.resolve(n) }));
  }

  /**
   * Fills model, worker and history from the server, and puts what waits on top. What was done before it came to its end
   * waits, too.
   */
  private async load(head: SheetHead, low: Promise<ArrayBuffer | undefined>): Promise<void> {
    const { model, client, card } = this;
    this.sender.hold();
    const after = this.takeLow(head, await low);
    const coming = fetchHistory(card.id, this.device);
    coming.catch(() => undefined);
    if (!this.isReady && after.isKept) await Promise.race([this.shown, wait(SHOWN_MS)]);
    const frame = await fetchInk(card.id, after.seq, this.leaving.signal);
    const history = await coming;
    // Asked after the strokes: what those hold already is not put on top of them once more, and what was written in
    // between is taken in by its number.
    const ids = this.sender.waiting.map((w) => w.step.id);
    const known = new Set(ids.length ? await knownSteps(card.id, ids.slice(0, 5000)) : []);
    const { strokes, erasures, seq } = readInk(new Uint8Array(frame));
    const missed = await missedSteps(card.id, { from: seq, to: after.seq, layersSeq: head.card.seq });
    const { layers } = head;
    const settings = settingsOf(head);
    await client.open({ frame: frame.slice(0), missed, settings, layers, paper: card });
    model.settings = settings;
    model.layers.clear();
    for (const layer of layers) model.layers.set(layer.id, layer);
    model.strokes.open(strokes);
    model.erasures.clear();
    for (const { erasure } of erasures) model.erasures.set(erasure.id, erasure);
    for (const { changes } of missed) model.apply(changes);
    // Layers and strokes were read one after the other; what came between is taken in by number.
    this.readSeq = missed.length ? after.seq : head.card.seq;
    this.seq = Math.min(this.readSeq, Math.max(seq, after.seq));
    this.latest = Math.max(this.latest, head.card.seq, seq);
    this.undoing.open(history);
    this.hand.clear();
    this.isTorn = false;
    await this.putWaitingOnTop(known);
    this.sender.release();
  }

  /** Hands the kept tiles to the worker. @returns the step up to which they are told of, and whether there are any. */
  private takeLow(head: SheetHead, frame: ArrayBuffer | undefined): { seq: number; isKept: boolean } {
    try {
      const { seq, tiles } = decodeFrame(new Uint8Array(frame!)).body as LowTilesBody;
      this.client.low(frame!);
      return { seq, isKept: tiles.length > 0 };
    } catch {
      // Without them the strokes are drawn.
      this.client.low(
        encodeFrame({ seq: 0, tiles: [], blank: [], damage: [] } satisfies LowTilesBody, new Map()).buffer,
      );
      return { seq: head.card.seq, isKept: false };
    }
  }

  /** Until there is no more: what is done meanwhile joins the others that wait. */
  private async putWaitingOnTop(known: ReadonlySet<string>): Promise<void> {
    const done = new Set(known);
    for (const id of known) this.passedOver.add(id);
    const next = () => this.sender.waiting.find((w) => !done.has(w.step.id));
    for (let w = next(); w; w = next()) {
      done.add(w.step.id);
      await this.putOnTop(w);
    }
    this.isReady = true;
    for (const wet of this.early.values()) this.stage?.applied([], wet);
    this.early.clear();
  }

  /** Applies a waiting step to what the server has; one that no longer can be is left to the server to refuse. */
  private async putOnTop({ step, parts }: QueuedStep): Promise<void> {
    try {
      const changes = this.onThisPaper(step);
      this.model.apply(changes);
      const { damage, tiles } = await this.client.apply(changes, parts, { id: step.id, undoes: step.undoes });
      this.shownNow(damage, this.early.get(step.id), tiles);
    } catch (error) {
      if (!(error instanceof StepRefused)) console.error(error);
    }
    this.undoing.remember(step);
  }

  /** A step's changes as they are on the paper that is shown: it may have been made on another. */
  private onThisPaper({ changes, on = FIRST_FRAME }: Step): Change[] {
    const all = frameSetBy(changes) ? completed(changes, this.frame, movableOf(this.model)) : changes;
    return rebased(all, on, this.frame);
  }

  /** Something is shown that the server's steps do not give: a step that was refused, or one that could not be shown. */
  private isTorn = false;

  /** Reads everything anew: the server has not taken a step that is shown here. */
  private resync(): void {
    this.ready = this.ready
      .then(async () => {
        if (this.closed) return;
        const head = await fetchHead(this.card.id);
        const low = fetchLowTiles(this.card.id, this.level, this.leaving.signal).catch(() => undefined);
        await this.load(head, low);
        this.foreignChanges++;
        this.stage?.repaintAll();
        this.listener.structure();
        this.listener.history();
        // It waits until this is done.
        void this.catchUp();
      })
      .catch((error: unknown) => {
        if (this.closed) return;
        this.sender.release();
        if (!(error instanceof ApiFailure)) console.error(error);
        this.listener.notice('The sheet could not be read anew. Reload the page; nothing is lost.');
      });
  }

  /**
   * One act of the artist: shown at once, then on this device's disk, then on the server.
   * @returns when the act is on this device's disk, or cannot be put there (which is told).
   * @throws {StepRefused} the sheet cannot do that; nothing was changed.
   */
  async act(label: string, given: Change[], options: ActOptions = {}): Promise<void> {
    const { undoable = true, undoes, parts = [], leftover } = options;
    if (!given.length && undoes === undefined) return;
    const { frame } = this;
    const changes = frameSetBy(given) ? completed(given, frame, movableOf(this.model)) : given;
    const step: Step = {
      id: nanoid(),
      device: this.device,
      ...(undoes === undefined ? {} : { undoes }),
      ...(sameFrame(frame, FIRST_FRAME) ? {} : { on: frame }),
      undoable,
      label: cutText(label),
      changes,
    };
    this.model.apply(changes);
    this.tied.leaveOff();
    // The worker goes first: it paints while the interface follows. Until the strokes are there, wet ink shows the step.
    if (this.isReady) this.show(changes, parts, leftover, { id: step.id, undoes });
    else if (leftover) this.early.set(step.id, leftover);
    this.hand.done(changes);
    this.undoing.remember(step);
    this.following.later('history', () => this.listener.history());
    if (changes.some((c) => c.table === 'sheet' || c.table === 'layers')) this.listener.structure();
    const place = this.journal.add(this.card.id, step, parts);
    this.sender.add({ step, parts, place });
    this.keeping.allSoon();
    await place;
  }

  /** Lets the worker follow, and the stage show what it painted. @param step names the artist's own. */
  private show(changes: Change[], parts: [string, Uint8Array][], leftover?: WetInk, step?: StepName): void {
    this.tied.shown = this.client.apply(changes, parts, step).then(
      ({ damage, tiles }) => {
        this.shownNow(damage, leftover, tiles);
        if (step) this.tied.note(damage, true);
      },
      (error: unknown) => {
        this.isTorn = true;
        if (!this.closed) this.listener.notice(`The drawing could not be shown: ${String(error)}. Reload the page; nothing is lost.`); // prettier-ignore
      },
    );
  }

  /** Shows strokes with other values, without a step. @returns when it is shown, or cannot be now. */
  async preview(changes: Assign[]): Promise<void> {
    this.hand.show(changes, this.model.read);
    try {
      const { damage, tiles } = await this.client.preview(changes);
      this.shownNow(damage, undefined, tiles);
      this.tied.note(damage, false);
    } catch (error) {
      if (!(error instanceof OutOfReach) && !this.closed) throw error;
    }
  }

  private shownNow(damage: Applied['damage'], leftover: WetInk | undefined, tiles: Applied['tiles']): void {
    if (this.stage) this.stage.applied(damage, leftover, tiles);
    else for (const { bitmap } of tiles) bitmap?.close();
  }

  undo(): Promise<void> {
    return this.undoing.takeBack('undo');
  }

  redo(): Promise<void> {
    return this.undoing.takeBack('redo');
  }

  nextLabel(side: Side): string | undefined {
    return this.undoing.nextLabel(side);
  }

  stepNames(side: Side, count: number): string[] {
    return this.undoing.stepNames(side, count);
  }

  get isHandBusy(): boolean {
    return this.hand.isBusy;
  }

  waitingStep(id: string): Step | undefined {
    return this.sender.waiting.find((w) => w.step.id === id)?.step;
  }

  tell(text: string): void {
    this.listener.notice(text);
  }

  retryNow(): void {
    this.sender.retryNow();
    void this.catchUp();
  }

  /** What became of steps that were sent. */
  private delivered({ written, refused, state }: Delivery<QueuedStep>): void {
    for (const { waiting, reason } of refused)
      this.listener.notice(
        `"${waiting.step.label}" was not taken: ${reason} It is set aside on this device; the rest is kept.`,
      );
    if (refused.length) {
      this.isTorn = true;
      this.resync();
    }
    if (!state) return;
    this.tabs?.postMessage(state.seq);
    this.noteState(state);
    // Our own, if nothing of others lies between: then there is nothing to take in.
    if (!this.catchingUp && !refused.length)
      for (const { id, seq, isOther } of [...written].sort((a, b) => a.seq - b.seq))
        if (seq === this.seq + 1 && !isOther && !this.passedOver.has(id)) this.seq = seq;
    if (this.latest > this.seq) void this.catchUp();
  }

  private noteState({ seq, deleted }: Pick<StepsAnswer, 'seq' | 'deleted'>): void {
    this.latest = Math.max(this.latest, seq);
    if (deleted && !this.toldDeleted)
      this.listener.notice('This sheet was deleted elsewhere. What you draw is kept in it.', {
        label: 'Bring it back',
        does: () => this.listener.restoreSheet(),
      });
    this.toldDeleted = deleted;
  }

  /** Takes in what the server has beyond `seq`, until there is no more. Failing, it is tried again at the next look. */
  private catchUp(): Promise<void> {
    this.catchingUp ??= this.catchUpNow().finally(() => {
      this.catchingUp = undefined;
      if (this.latest > this.seq && !this.failedToCatch && !this.closed) void this.catchUp();
    });
    return this.catchingUp;
  }

  private failedToCatch = false;

  private async catchUpNow(): Promise<void> {
    await this.ready.catch(() => undefined);
    try {
      do {
        if (this.closed) return;
        const { steps, parts, ...state } = await fetchStepsAfter(this.card.id, this.seq);
        if (this.closed) return;
        await this.takeAll(steps, parts);
        if (this.closed) return;
        if (steps.length) this.listener.structure();
        this.noteState(state);
        if (!steps.length) this.seq = Math.max(this.seq, state.seq);
      } while (this.latest > this.seq);
      this.failedToCatch = false;
    } catch (error) {
      if (!(error instanceof ApiFailure)) console.error(error);
      this.failedToCatch = true;
    }
  }

  /** Our steps that the server has numbered, whose answer is still on its way: they wait no more. */
  private readonly numbered = new Set<string>();

  /**
   * Takes in steps in their order, so many at a time that the hand is never in the way: each part is shown before the next.
   */
  private async takeAll(steps: readonly Step[], parts: Parts): Promise<void> {
    let taken: Change[] = [];
    let until = performance.now() + TAKING_MS;
    const show = () => {
      if (taken.length) this.show(taken, partsOf(taken, parts));
      taken = [];
    };
    let ours: ReadonlySet<string> | undefined;
    for (const step of steps) {
      if (step.seq === undefined || step.seq <= this.seq) continue;
      if (frameSetBy(step.changes) && this.hand.isBusy) {
        show();
        await this.hand.whenAtRest();
        ours = undefined;
      }
      if (step.device === this.device) {
        this.numbered.add(step.id);
        ours = undefined;
      }
      ours ??= fieldsOf(this.sender.waiting.filter((w) => !this.numbered.has(w.step.id)).map((w) => w.step));
      taken.push(...this.takeNumbered(step, ours));
      this.seq = step.seq;
      if (performance.now() < until) continue;
      show();
      await this.tied.shown;
      await wait(0);
      if (this.closed) return;
      ours = undefined;
      until = performance.now() + TAKING_MS;
    }
    show();
    this.followPaper();
  }

  /** @param ours the fields that our waiting steps set. @returns what the step has changed here. */
  private takeNumbered(step: Step, ours: ReadonlySet<string>): Change[] {
    const isOurs = step.device === this.device;
    const isRead = step.seq! <= this.readSeq;
    const done = isRead ? inkOf(step) : step;
    const taken = changesToTake(done, ours, this.model.read);
    const settled = frameSetBy(taken) ? done.changes.flatMap(fieldKeys).filter((key) => !ours.has(key)) : [];
    const changes = completed(taken, this.frame, movableOf(this.model), new Set(settled));
    // Another tab of this browser made it: it can be undone here as well.
    if (isOurs && !this.undoing.knows(step.id) && !isRead) {
      this.undoing.remember(step);
      this.listener.history();
    }
    if (!changes.length) return changes;
    try {
      this.model.apply(changes);
    } catch (error) {
      // One step that this sheet cannot do stops none of those after it.
      console.error(error);
      this.isTorn = true;
      return [];
    }
    this.foreignChanges++;
    this.tellLostLayers(changes);
    return changes;
  }

  /** Says so when a layer that holds ink was deleted elsewhere, and offers to bring it back. */
  private tellLostLayers(changes: readonly Change[]): void {
    for (const { layer, lines } of lostLayers(changes, this.model))
      this.listener.notice(
        `${layer.name} was deleted elsewhere, with ${lines} ${lines === 1 ? 'line' : 'lines'} on it.`,
        {
          label: `Bring ${cutText(layer.name, 24)} back`,
          does: () => {
            const now = this.model.layers.get(layer.id);
            if (now?.deleted) void this.act(`Bring ${now.name} back`, [assign('layers', now, 'deleted', false)]);
          },
        },
      );
  }

  // ---- steps that the server did not take

  /** Steps of this sheet that are set aside on this device. */
  setAside(): Promise<WaitingStep[]> {
    return this.journal.setAside(this.card.id);
  }

  /** Lets go of a step that was set aside. */
  async dropSetAside(waiting: WaitingStep): Promise<void> {
    if (waiting.n !== undefined) await this.journal.remove([waiting.n]);
  }

  private async tellSetAside(): Promise<void> {
    const { length } = await this.setAside();
    if (length && !this.closed)
      this.listener.notice(
        `${length} ${length === 1 ? 'step' : 'steps'} that the server did not take ${length === 1 ? 'is' : 'are'} set aside on this device; the sheet's menu shows ${length === 1 ? 'it' : 'them'}.`,
      );
  }

  // ---- what is left with the sheet

  get shownSeq(): number {
    return this.seq;
  }

  close(): void {
    this.leaving.abort();
    this.hand.close();
    this.following.close();
    this.tied.close();
    this.keeping.close();
    this.tabs?.close();
    this.sender.close();
    this.client.close();
    this.lifted.close();
    this.journal.close();
  }
}

/** What is kept is shown first, before all strokes keep page and server busy; but not for longer than this. */
const SHOWN_MS = 1500;
/** Steps of others are taken in for so long at a time. */
const TAKING_MS = 30;
const wait = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** What a sheet keeps beside its layers, with its paper: a step that changes that says what it was. */
const settingsOf = ({ settings, card }: SheetHead) => ({ ...settings, paper: sizeOf(card) });
