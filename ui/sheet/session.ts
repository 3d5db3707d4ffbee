import { nanoid } from 'nanoid';
import type { Parts } from '../../contract/frame';
import type { SheetCard } from '../../contract/sheets';
import { historyOf, inverseOf, remember, type History } from '../../core/sheet/history';
import type { PaperSize } from '../../core/sheet/paper';
import { SheetModel } from '../../core/sheet/sheet-model';
import type { Change, Step } from '../../core/sheet/steps';
import { SheetClient } from '../../workers/sheet-client';
import type { Answer } from '../../workers/sheet-protocol';
import type { Stage } from '../canvas/stage';
import type { WetLeftover } from '../canvas/paper-window';
import { fetchHead, fetchHistory, fetchStepsAfter, fetchStrokes, findSteps, putOverview } from './api';
import { deviceId } from './device';
import { Journal, type WaitingStep } from './journal';
import { Sender, type SyncState } from './sender';

/** What the interface wants to hear of a session. */
export interface SessionListener {
  /** The sheet is there; its ink is still being read. */
  found(card: SheetCard): void;
  structure(): void;
  history(): void;
  sync(state: SyncState): void;
  notice(message: string): void;
}

export interface ActOptions {
  undoable?: boolean;
  undoes?: string;
  parts?: [string, Uint8Array][];
  leftover?: WetLeftover;
}

const OVERVIEW_SIDE_PX = 640;
const OVERVIEW_IDLE_MS = 4000;

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
  private past: History = { undo: [], redo: [] };
  private readonly known = new Map<string, Step>();
  private overviewTimer: ReturnType<typeof setTimeout> | undefined;
  private undoing: Promise<void> = Promise.resolve();
  private catchingUp = false;
  private moreToCatch = false;
  /** Other tabs of this browser that have the sheet open; they are told when there is something new. */
  private readonly tabs: BroadcastChannel;
  private closed = false;

  private constructor(
    readonly card: SheetCard,
    readonly model: SheetModel,
    private seq: number,
    readonly journal: Journal,
    private readonly sender: Sender,
    private readonly listener: SessionListener,
  ) {
    this.tabs = new BroadcastChannel(`hush-line.sheet.${card.id}`);
    this.tabs.onmessage = () => void this.catchUp();
    sender.onState = (state) => listener.sync(state);
    sender.onAcknowledged = (ids, last) => this.acknowledged(ids, last);
    sender.onRefused = (step, message) => void this.refused(step, message);
  }

  /**
   * Opens a sheet as the server has it, with this device's waiting steps on top.
   * @param levelFor the tile level that will be shown first, for the paper's size.
   * @throws {ApiFailure} no such sheet, or the server cannot be reached.
   */
  static async open(
    id: string,
    levelFor: (paper: PaperSize) => number,
    listener: SessionListener,
  ): Promise<SheetSession> {
    const frame = fetchStrokes(id);
    const history = fetchHistory(id, deviceId());
    const journal = await Journal.open();
    const [head, waiting] = await Promise.all([fetchHead(id), journal.waiting(id)]);
    listener.found(head.card);
    const model = new SheetModel(head.settings, head.layers);
    const session = new SheetSession(head.card, model, head.card.seq, journal, new Sender(id, journal), listener);
    session.ready = session.load(await frame, await history, waiting, levelFor(head.card));
    await session.ready;
    return session;
  }

  get paper(): PaperSize {
    return this.card;
  }

  /** The stage that shows this sheet, or none any more. */
  showOn(stage: Stage | undefined): void {
    this.stage = stage;
  }

  get history(): Readonly<History> {
    return this.past;
  }

  private async load(
    frame: ArrayBuffer,
    history: Awaited<ReturnType<typeof fetchHistory>>,
    waiting: WaitingStep[],
    level: number,
  ): Promise<void> {
    const { card, model } = this;
    this.past = { undo: history.undo, redo: history.redo };
    for (const step of history.steps) this.known.set(step.id, step);
    const opened = this.client.open({
      frame,
      settings: model.settings,
      layers: [...model.layers.values()],
      paper: card,
      level,
    });
    const { strokes, erasures } = await opened;
    for (const stroke of strokes) model.strokes.set(stroke.id, stroke);
    for (const erasure of erasures) model.erasures.set(erasure.id, erasure);
    for (const w of waiting) {
      this.takeIn(w.step);
      await this.client.apply(w.step.changes, w.parts, []);
      this.sender.add(w);
    }
  }

  /** Applies a step that is in the journal already, and remembers it. */
  private takeIn(step: Step): void {
    this.model.apply(step.changes);
    this.known.set(step.id, step);
    const { undo, redo } = this.past;
    if (!undo.includes(step.id) && !redo.includes(step.id)) remember(this.past, step);
  }

  /**
   * One act of the artist: shown at once, then on this device's disk, then on the server.
   * @returns when the act is on this device's disk.
   * @throws {StepRefused} the sheet cannot do that; nothing was changed.
   */
  async act(label: string, changes: Change[], options: ActOptions = {}): Promise<void> {
    const { undoable = true, undoes, parts = [], leftover } = options;
    if (!changes.length) return;
    const step: Step = {
      id: nanoid(),
      device: this.device,
      ...(undoes === undefined ? {} : { undoes }),
      undoable,
      label,
      changes,
    };
    this.model.apply(changes);
    remember(this.past, step);
    this.known.set(step.id, step);
    this.listener.history();
    if (changes.some((c) => c.table === 'sheet' || c.table === 'layers')) this.listener.structure();
    this.show(changes, parts, leftover);
    const n = await this.journal.add(this.card.id, step, parts);
    this.sender.add({ n, sheetId: this.card.id, step, parts });
    this.scheduleOverview();
  }

  /** Lets the worker follow, and the stage show what it painted. */
  private show(changes: Change[], parts: [string, Uint8Array][], leftover?: WetLeftover): void {
    this.client.apply(changes, parts, this.stage?.showing() ?? []).then(
      (a: Extract<Answer, { kind: 'applied' }>) => this.stage?.applied(a.damage, a.tiles, leftover),
      (error: unknown) => {
        if (!this.closed)
          this.listener.notice(`The drawing could not be shown: ${String(error)}. Reload the page; nothing is lost.`);
      },
    );
  }

  undo(): Promise<void> {
    return this.takeBack('undo');
  }

  redo(): Promise<void> {
    return this.takeBack('redo');
  }

  private takeBack(side: 'undo' | 'redo'): Promise<void> {
    this.undoing = this.undoing
      .then(async () => {
        const list = this.past[side];
        const id = list[list.length - 1];
        if (id === undefined) return;
        const step = await this.stepById(id, list);
        const { changes, kept } = inverseOf(step, this.model.read);
        if (kept > 0)
          this.listener.notice(
            kept === 1
              ? '1 change made elsewhere since then stayed as it is.'
              : `${kept} changes made elsewhere since then stayed as they are.`,
          );
        await this.act(step.label, changes.length ? changes : nothing(this.model), { undoable: false, undoes: id });
      })
      .catch((error: unknown) =>
        this.listener.notice(`This step could not be taken back: ${messageOf(error)} Nothing was changed.`),
      );
    return this.undoing;
  }

  /** A step's body; older ones are fetched with their neighbours when they are needed. */
  private async stepById(id: string, list: readonly string[]): Promise<Step> {
    const known = this.known.get(id);
    if (known) return known;
    for (const step of await findSteps(this.card.id, list.slice(-60))) this.known.set(step.id, step);
    const found = this.known.get(id);
    if (!found) throw new Error('it is not on the server.');
    return found;
  }

  /** The label of the step that undo (or redo) would take next. */
  nextLabel(side: 'undo' | 'redo'): string | undefined {
    const list = this.past[side];
    return list.length ? this.known.get(list[list.length - 1])?.label : undefined;
  }

  /** What the next `count` steps of that side are called, the one that would be taken first first. */
  stepNames(side: 'undo' | 'redo', count: number): string[] {
    const next = this.past[side].slice(-count).reverse();
    return next.map((id) => this.known.get(id)?.label ?? 'An earlier step');
  }

  retryNow(): void {
    this.sender.retryNow();
    void this.catchUp();
  }

  private acknowledged(ids: string[], last: number): void {
    this.tabs.postMessage(last);
    const expected = this.seq + ids.length;
    if (last > expected) void this.catchUp(new Set(ids));
    else this.seq = Math.max(this.seq, last);
  }

  /**
   * Takes in the steps of others. A field that a waiting step of ours has set keeps our value: it
   * will be the later one on the server.
   */
  private async catchUp(own: ReadonlySet<string> = new Set()): Promise<void> {
    if (this.closed) return;
    if (this.catchingUp) {
      this.moreToCatch = true;
      return;
    }
    this.catchingUp = true;
    this.moreToCatch = false;
    try {
      const { steps, parts } = await fetchStepsAfter(this.card.id, this.seq);
      for (const step of steps) {
        this.seq = step.seq ?? this.seq;
        if (own.has(step.id) || this.known.has(step.id)) continue;
        this.takeOthers(step, parts);
      }
    } catch {
      // Tried again with the next answer or the next look.
    } finally {
      this.catchingUp = false;
    }
    if (this.moreToCatch) await this.catchUp();
  }

  private takeOthers(step: Step, parts: Parts): void {
    const ours = new Set(this.sender.waiting.flatMap((w) => w.step.changes.flatMap(fieldKeys)));
    const changes = step.changes.flatMap((c): Change[] => {
      if (c.op === 'put') return [c];
      const keep = c.ids.map((id) => !ours.has(`${c.table}/${id}/${c.field}`));
      const pick = <T>(values: T[]) => values.filter((_, i) => keep[i]);
      const ids = pick(c.ids);
      return ids.length ? [{ ...c, ids, before: pick(c.before), after: pick(c.after) }] : [];
    });
    this.model.apply(changes);
    this.listener.structure();
    this.show(
      changes,
      [...parts].filter(([id]) => changes.some((c) => c.op === 'put' && c.rows.some((r) => r.id === id))),
    );
  }

  private async refused(step: Step, message: string): Promise<void> {
    this.listener.notice(`"${step.label}" was not taken: ${message} It was undone; the rest is kept.`);
    const { changes } = inverseOf(step, this.model.read);
    this.model.apply(changes);
    this.past = historyOf([]);
    this.listener.structure();
    this.listener.history();
    this.show(changes, []);
  }

  // ---- the small picture for the drawer

  private scheduleOverview(): void {
    clearTimeout(this.overviewTimer);
    this.overviewTimer = setTimeout(() => void this.sendOverview(), OVERVIEW_IDLE_MS);
  }

  /** Draws the sheet small and leaves it with the server; failing is no loss, the next one replaces it. */
  async sendOverview(): Promise<void> {
    clearTimeout(this.overviewTimer);
    this.overviewTimer = undefined;
    if (this.closed || this.sender.waiting.length) return;
    const side = Math.max(this.card.widthPx, this.card.heightPx);
    const level = Math.min(0, Math.floor(Math.log2(OVERVIEW_SIDE_PX / side)));
    const { seq } = this;
    try {
      const parts = await this.client.png({ level, onPaper: true }).result;
      if (parts) await putOverview(this.card.id, seq, parts);
    } catch {
      // The drawer shows the one before.
    }
  }

  get overviewDue(): boolean {
    return this.overviewTimer !== undefined;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.overviewTimer);
    this.tabs.close();
    this.sender.close();
    this.client.close();
    this.journal.close();
  }
}

/** A step that undoes a step whose every field has moved on since: it changes nothing but is remembered. */
function nothing(model: SheetModel): Change[] {
  const { hush } = model.settings;
  return [{ op: 'set', table: 'sheet', field: 'hush', ids: ['sheet'], before: [hush], after: [hush] }];
}

function fieldKeys(change: Change): string[] {
  return change.op === 'set' ? change.ids.map((id) => `${change.table}/${id}/${change.field}`) : [];
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
