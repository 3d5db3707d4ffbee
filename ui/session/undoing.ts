import type { HistoryAnswer } from '../../contract/answers';
import { inverseOf, remember, type History } from '../../core/sheet/history';
import type { Stroke } from '../../core/sheet/entities';
import type { SheetModel } from '../../core/sheet/sheet-model';
import { shapesBefore, type Change, type Step } from '../../core/sheet/steps';
import type { SheetClient } from '../../workers/sheet-client';
import { ApiFailure, findSteps } from './api';
import { StepMemory } from './step-memory';
import type { TiedPours } from './tied-pours';

/** So many steps of each side are at hand for undo and redo; fewer than the first, and more are asked for. */
const LEAST_AHEAD = 90;
const MOST_AHEAD = 120;
/** Steps that are asked for at once. */
const MOST_FOUND = 200;

export type Side = 'undo' | 'redo';

/** The open sheet, as far as taking back is concerned. */
interface Undone {
  readonly card: { id: string };
  readonly model: SheetModel;
  readonly client: Pick<SheetClient, 'ahead'>;
  /** Resolves when all is there that a step may be about. */
  readonly ready: Promise<unknown>;
  readonly tied: Pick<TiedPours, 'settled'>;
  act(label: string, changes: Change[], options: { undoable: false; undoes: string }): Promise<void>;
  /** A step that waits for the server. */
  waitingStep(id: string): Step | undefined;
  tell(text: string): void;
}

/** What this device has done and may take back or do again, by name; the next steps are at hand, also while away. */
export class Undoing {
  private past: History = { undo: [], redo: [] };
  private readonly memory = new StepMemory();
  private doing: Promise<void> = Promise.resolve();
  private fetching: Promise<void> | undefined;
  private readonly shapesAsked = new Set<string>();

  /** @param onNamed steps have got their names. */
  constructor(
    private readonly sheet: Undone,
    private readonly onNamed: () => void,
  ) {}

  get history(): Readonly<History> {
    return this.past;
  }

  /** Takes over what the server knows of this device's steps. */
  open({ undo, redo, labels, steps }: HistoryAnswer): void {
    this.past = { undo, redo };
    for (const { id, label } of labels) this.memory.name(id, label);
    for (const step of steps) this.memory.add(step);
  }

  /** This device has done a step: again, if it is known. */
  remember(step: Step): void {
    this.memory.add(step);
    const { undo, redo } = this.past;
    if (!undo.includes(step.id) && !redo.includes(step.id)) remember(this.past, step);
  }

  /** Whether a step of this device has been seen here. */
  knows(id: string): boolean {
    return this.memory.has(id);
  }

  takeBack(side: Side): Promise<void> {
    this.doing = this.doing
      .then(async () => {
        await this.sheet.ready;
        const list = this.past[side];
        const id = list[list.length - 1];
        if (id === undefined) return;
        const step = await this.stepById(id);
        // What has become of pours since belongs to what was done to their lines.
        if (step.changes.some((change) => isAboutPours(change, this.sheet.model))) await this.sheet.tied.settled();
        const { changes, kept } = inverseOf(step, this.sheet.model.read);
        if (kept > 0)
          this.sheet.tell(
            kept === 1
              ? '1 change made elsewhere since then stayed as it is.'
              : `${kept} changes made elsewhere since then stayed as they are.`,
          );
        // One whose every field has moved on since changes nothing, but is remembered.
        await this.sheet.act(step.label, changes, { undoable: false, undoes: id });
        void this.fetchAhead();
      })
      .catch((error: unknown) =>
        this.sheet.tell(
          `This step could not be taken back: ${error instanceof Error ? error.message : String(error)} Nothing was changed.`,
        ),
      );
    return this.doing;
  }

  /** A step's body; one that is no longer at hand is asked for. */
  private async stepById(id: string): Promise<Step> {
    const known = this.memory.body(id) ?? this.sheet.waitingStep(id);
    if (known) return known;
    const [found] = await findSteps(this.sheet.card.id, [id]);
    if (!found) throw new Error('it is not on the server.');
    this.memory.add(found);
    return found;
  }

  /** The label of the step that undo (or redo) would take next. */
  nextLabel(side: Side): string | undefined {
    const list = this.past[side];
    return list.length ? this.memory.label(list[list.length - 1]) : undefined;
  }

  /** What the next `count` steps of that side are called, the one that would be taken first first. */
  stepNames(side: Side, count: number): string[] {
    const next = this.past[side].slice(-count).reverse();
    return next.map((id) => this.memory.label(id) ?? 'An earlier step');
  }

  /** Fetches what is lacking of the next steps. Failing is no loss: it is tried again after the next undo. */
  fetchAhead(): Promise<void> {
    this.fetching ??= this.fetchNow()
      .catch((error: unknown) => {
        if (!(error instanceof ApiFailure)) console.error(error);
      })
      .finally(() => (this.fetching = undefined));
    return this.fetching;
  }

  private async fetchNow(): Promise<void> {
    this.bringShapes(this.near(LEAST_AHEAD));
    if (!this.lacking(this.near(LEAST_AHEAD)).length) return;
    const ids = this.lacking(this.near(MOST_AHEAD)).slice(0, MOST_FOUND);
    for (const step of await findSteps(this.sheet.card.id, ids)) this.memory.add(step);
    this.bringShapes(this.near(MOST_AHEAD));
    this.onNamed();
  }

  /** The next steps of both sides, nearest first. */
  private near(count: number): string[] {
    const { undo, redo } = this.past;
    return [undo, redo].flatMap((side) => side.slice(-count).reverse());
  }

  private lacking(ids: readonly string[]): string[] {
    return ids.filter((id) => !this.memory.body(id) && !this.sheet.waitingStep(id));
  }

  /** Shapes that an undo would bring back are asked for, each once. */
  private bringShapes(ids: readonly string[]): void {
    const steps = ids.flatMap((id) => this.memory.body(id) ?? []);
    const names = new Set(steps.flatMap(({ changes }) => changes.flatMap(shapesBefore)));
    const fresh = [...names].filter((name) => !this.shapesAsked.has(name));
    for (const name of fresh) this.shapesAsked.add(name);
    if (fresh.length) this.sheet.client.ahead(fresh);
  }
}

function isAboutPours(change: Change, { strokes }: SheetModel): boolean {
  if (change.table !== 'strokes' || !strokes.hasPours) return false;
  if (change.op === 'put') return (change.rows as Stroke[]).some(({ pour }) => pour);
  return change.ids.some((id) => strokes.get(id)?.pour);
}
