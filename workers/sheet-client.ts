import type { Checked, CheckWish } from './checking';
import type { ColourAnswers, ColourAsk } from './colouring';
import type { ErasedStroke } from '../core/sheet/erased-strokes';
import type { NearLine } from '../core/sheet/lines-near';
import type { CopiedLine, Gap, PickedShape } from '../core/sheet/picking';
import type { Mended } from '../core/sheet/mending';
import type { Snip } from '../core/sheet/snipping';
import type { Assign, Change } from '../core/sheet/steps';
import type { Pen } from '../core/stroke/pen';
import { SHEET_WORKER } from './addresses';
import type { StepName } from './kept-pixels';
import type { Answer, FromWorker, Need, PaintedTile, RunTile, Sight, TileRun, ToWorker } from './sheet-protocol';

type Question<T extends ToWorker['type']> = Omit<Extract<ToWorker, { type: T }>, 'type' | 'n'>;
type AnswerOf<K extends Answer['kind']> = Extract<Answer, { kind: K }>;

/** A long task that can be watched and stopped; `result` is undefined when it was stopped. */
export interface FileTask {
  result: Promise<BlobPart[] | undefined>;
  stop(): void;
}

/** Something needs samples that are not on this device, and the server cannot be reached. */
export class OutOfReach extends Error {}

/** The page's side of the sheet worker. */
export class SheetClient {
  onTile: (tile: PaintedTile) => void = () => {};
  /** Something could not be read or painted, `what` in the artist's words. */
  onTrouble: (what: string) => void = () => {};
  /** Something that is wanted cannot be had from the server now; the worker goes on asking. */
  onOutOfReach: () => void = () => {};
  /** The drawing has changed without a step: something has come that it lacked. */
  onChanged: (damage: AnswerOf<'applied'>['damage']) => void = () => {};
  /** Gets what the worker needs from the server; rejects when it cannot be had. */
  onNeed: (of: Need) => Promise<ArrayBuffer> = () => Promise.reject(new Error('nobody brings anything'));
  private readonly worker: Worker;
  private readonly waiting = new Map<
    number,
    { resolve(a: Answer): void; reject(e: Error): void; progress?(done: number): void }
  >();
  private n = 0;

  constructor() {
    this.worker = new Worker(SHEET_WORKER, { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.receive(data);
    this.worker.onerror = (event) => this.failAll(new Error(event.message));
  }

  /** @param frame is given away. */
  low(frame: ArrayBuffer): void {
    this.post({ type: 'low', frame }, [frame]);
  }

  /** @param question its frame is given away. */
  open(question: Question<'open'>): Promise<AnswerOf<'opened'>> {
    return this.ask<'opened'>({ type: 'open', n: ++this.n, ...question }, [question.frame]);
  }

  /** @param step the artist's own step: its pixels are kept for an undo. */
  apply(changes: Change[], parts: [string, Uint8Array][], step?: StepName): Promise<AnswerOf<'applied'>> {
    return this.ask<'applied'>({ type: 'apply', n: ++this.n, changes, parts, step });
  }

  want(runs: TileRun[], tiles: RunTile[], sight: Sight): void {
    this.post({ type: 'want', runs, tiles, sight });
  }

  /** What an eraser does to the strokes of a layer. @throws {OutOfReach} */
  async erased(layerId: string, bytes: Uint8Array, pen: Pen): Promise<ErasedStroke[]> {
    return (await this.ask<'erased'>({ type: 'erased', n: ++this.n, layerId, bytes, pen })).strokes;
  }

  /** The lines of a layer within `reach` of a place, paper px; first drawn first. @throws {OutOfReach} */
  async linesNear(layerId: string, x: number, y: number, reach: number): Promise<NearLine[]> {
    return (await this.ask<'near'>({ type: 'near', n: ++this.n, layerId, x, y, reach })).lines;
  }

  /** The line at a place of some layers, topmost first, paper px; undefined: there is none within `reach`. @throws {OutOfReach} */
  async lineAt(layerIds: readonly string[], x: number, y: number, reach: number): Promise<string | undefined> {
    return (await this.ask<'line-at'>({ type: 'line-at', n: ++this.n, layerIds, x, y, reach })).id;
  }

  /** What is wrong with the ink. @throws {OutOfReach} */
  async check(wish: CheckWish): Promise<Checked | undefined> {
    return (await this.ask<'checked'>({ type: 'check', n: ++this.n, ...wish })).checked;
  }

  /** What is asked about colour. @throws {OutOfReach} */
  async colour<K extends ColourAsk['what']>(ask: Extract<ColourAsk, { what: K }>): Promise<ColourAnswers[K]> {
    return (await this.ask<'colour'>({ type: 'colour', n: ++this.n, ask })).answer as ColourAnswers[K];
  }

  /** The lines of layers that lie mostly within a loop `[x, y, ...]`, paper px. @throws {OutOfReach} */
  async linesIn(layerIds: readonly string[], loop: Float64Array): Promise<string[]> {
    return (await this.ask<'in-loop'>({ type: 'in-loop', n: ++this.n, layerIds, loop })).ids;
  }

  /** Where strokes lie, and the way of the first `most`, at a level. @throws {OutOfReach} */
  async shapeOf(ids: readonly string[], level: number, most: number): Promise<PickedShape> {
    return (await this.ask<'shape'>({ type: 'shape', n: ++this.n, ids, level, most })).shape;
  }

  /** Strokes with all that makes them. @throws {OutOfReach} */
  async copiesOf(ids: readonly string[]): Promise<CopiedLine[]> {
    return (await this.ask<'copies'>({ type: 'copies', n: ++this.n, ids })).copies;
  }

  /** Where strokes of one layer go that move by one, up or down; undefined: there is nothing to pass. */
  async gapBeyond(ids: readonly string[], side: 'up' | 'down'): Promise<Gap | undefined> {
    return (await this.ask<'gap'>({ type: 'gap', n: ++this.n, ids, side })).gap;
  }

  /** What a snip along a way would take; see `core/sheet/snipping.ts`. @throws {OutOfReach} */
  async snipsAlong(
    layerIds: readonly string[],
    boundIds: readonly string[],
    way: Float64Array,
    reach: number,
  ): Promise<Snip[]> {
    return (await this.ask<'snips'>({ type: 'snips', n: ++this.n, layerIds, boundIds, way, reach })).snips;
  }

  /** What a line becomes that is drawn anew along a way; see `core/sheet/mending.ts`. @throws {OutOfReach} */
  async mendAlong(layerIds: readonly string[], way: Float64Array, reach: number): Promise<Mended | undefined> {
    return (await this.ask<'mend'>({ type: 'mend', n: ++this.n, layerIds, way, reach })).mended;
  }

  /** Shows strokes with other values, until they are given them by a step, or their own again by another preview. */
  preview(changes: Assign[]): Promise<AnswerOf<'applied'>> {
    return this.ask<'applied'>({ type: 'preview', n: ++this.n, changes });
  }

  png(question: Question<'png'>, progress?: (done: number) => void): FileTask {
    return this.file({ type: 'png', n: ++this.n, ...question }, progress);
  }

  svg(question: Question<'svg'>, progress?: (done: number) => void): FileTask {
    return this.file({ type: 'svg', n: ++this.n, ...question }, progress);
  }

  /** Brings shapes ahead that strokes may have again, by their names. */
  ahead(names: readonly string[]): void {
    this.post({ type: 'ahead', names });
  }

  /** Leaves the low levels' tiles with the sheet. @returns whether all are there now. */
  async keep(seq: number): Promise<boolean> {
    return (await this.ask<'kept'>({ type: 'keep', n: ++this.n, seq })).isAll;
  }

  close(): void {
    this.worker.terminate();
    this.failAll(new Error('the sheet was closed'));
  }

  private file(message: Extract<ToWorker, { type: 'png' | 'svg' }>, progress?: (done: number) => void): FileTask {
    const result = this.ask<'file' | 'stopped'>(message, [], progress).then((a) =>
      a.kind === 'file' ? a.parts : undefined,
    );
    return { result, stop: () => this.post({ type: 'stop', n: message.n }) };
  }

  private ask<K extends Answer['kind']>(
    message: Extract<ToWorker, { n: number }>,
    transfer: Transferable[] = [],
    progress?: (done: number) => void,
  ): Promise<AnswerOf<K>> {
    return new Promise((resolve, reject) => {
      this.waiting.set(message.n, { resolve: (a) => resolve(a as AnswerOf<K>), reject, progress });
      this.post(message, transfer);
    });
  }

  private receive(message: FromWorker): void {
    if (message.type === 'tile') return this.onTile(message.tile);
    if (message.type === 'trouble') return this.onTrouble(message.what);
    if (message.type === 'out-of-reach') return this.onOutOfReach();
    if (message.type === 'changed') return this.onChanged(message.damage);
    if (message.type === 'need') return void this.bring(message.need, message.of);
    const waiting = this.waiting.get(message.n);
    if (message.type === 'progress') return waiting?.progress?.(message.done);
    this.waiting.delete(message.n);
    if (message.type === 'failed')
      waiting?.reject(message.isOutOfReach ? new OutOfReach(message.message) : new Error(message.message));
    else waiting?.resolve(message.answer);
  }

  private async bring(need: number, of: Need): Promise<void> {
    const frame = await this.onNeed(of).catch(() => undefined);
    this.post({ type: 'brought', need, frame }, frame ? [frame] : []);
  }

  private failAll(error: Error): void {
    for (const { reject } of this.waiting.values()) reject(error);
    this.waiting.clear();
  }

  private post(message: ToWorker, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer);
  }
}
