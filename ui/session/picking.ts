import { nanoid } from 'nanoid';
import type { CopiedLines } from '../../contract/copied-lines';
import { overlaps, transformBox, type Box } from '../../core/geometry/box';
import { apply, compose, IDENTITY, isIdentity, lengthScale, type Matrix } from '../../core/geometry/matrix';
import { turnAbout } from '../../core/geometry/turn-about';
import { byOrder, isInk, type Layer, type Stroke } from '../../core/sheet/entities';
import { grouped } from '../../core/sheet/grouped';
import { labelAt } from '../../core/sheet/labels';
import { ordersAbove, ordersBelow, ordersBetween } from '../../core/sheet/orders';
import { pasted } from '../../core/sheet/pasted';
import type { CopiedLine, PickedShape } from '../../core/sheet/picking';
import { isTooLarge } from '../../core/sheet/step-size';
import type { Assign, Change } from '../../core/sheet/steps';
import { cutText } from '../../core/sheet/words';
import { restyled, type Restyle } from '../../core/stroke/restyle';
import { keepCopied, lastCopied, mayPaste, watchCopied } from './copied-lines';
import { landing } from './inking';
import type { LoopTakes } from '../store/pen-slice';
import { oneAtATime } from './one-at-a-time';
import { answered, lineCount, pickableLayers, tooMany } from './pickable';
import type { SheetSession } from './session';

/** The way of so many picked lines is shown; of more, the frame alone. */
const MOST_SHOWN = 400;
/** Copies lie this far beside what they were made of, CSS px. */
const BESIDE_PX = 16;

let copying: Promise<unknown> = Promise.resolve();

const systemClipboard = () => import('./system-clipboard');

/** Copies, and where they come from. */
type Copied = Pick<CopiedLines, 'sheetId' | 'box' | 'copies'>;

/** Why a text is not picked as lines are. */
const IS_TEXT =
  'is a text. It is moved, sized and written anew on Colour, under Text; there “Make lines” turns it into lines.';
const TOLD_LETTERS = 24;

/** What the artist has picked of a sheet's lines, and what is done with them. */
export class Picking {
  private ids: string[] = [];
  /** How many of them are pours. */
  private pours = 0;
  private shape: PickedShape | undefined;
  /** A movement that is shown and not yet kept. */
  private moved: Matrix | undefined;
  private restyling: Restyle | undefined;
  /** What is shown next and not kept; made when its turn comes. */
  private pending: (() => Assign) | undefined;
  private leaving: Promise<void> = Promise.resolve();
  private readonly pickedListeners = new Set<() => void>();
  private readonly shownListeners = new Set<() => void>();

  /** @param tell says to the artist why nothing happened. */
  constructor(
    private readonly session: SheetSession,
    private readonly tell: (text: string) => void,
  ) {}

  /** Tells when something else is picked, or can be done with it. @returns stops telling. */
  watchPicked(listener: () => void): () => void {
    this.pickedListeners.add(listener);
    const stop = watchCopied(listener);
    return () => {
      this.pickedListeners.delete(listener);
      stop();
    };
  }

  get canPaste(): boolean {
    return mayPaste();
  }

  /** Tells when something else is shown over the paper: what is picked, its movement, a loop. @returns stops telling. */
  watchShown(listener: () => void): () => void {
    this.shownListeners.add(listener);
    return () => void this.shownListeners.delete(listener);
  }

  get count(): number {
    return this.ids.length;
  }

  /** What is picked, in words: "3 lines and 2 pours". */
  get words(): string {
    const { pours } = this;
    const lines = this.count - pours;
    const poured = pours === 1 ? '1 pour' : `${pours} pours`;
    if (!pours) return lineCount(lines);
    return lines ? `${lineCount(lines)} and ${poured}` : poured;
  }

  /** The first of what is made anew when pen, size or colour are changed: pours are, where nothing else is picked. */
  get first(): Stroke | undefined {
    const { strokes } = this.session.model;
    const areAll = this.pours === this.count;
    for (const id of this.ids) {
      const stroke = strokes.get(id);
      if (stroke && !stroke.deleted && isInk(stroke) && (areAll || !stroke.pour)) return stroke;
    }
    return undefined;
  }

  private restyledOf(ids: readonly string[]): Stroke[] {
    const inked = this.strokesOf(ids).filter(isInk);
    const lines = inked.filter(({ pour }) => !pour);
    return lines.length ? lines : inked;
  }

  /** The picked lines as the sheet has them, first drawn first within their layers. */
  get strokes(): Stroke[] {
    return this.strokesOf(this.ids);
  }

  private strokesOf(ids: readonly string[]): Stroke[] {
    const { strokes } = this.session.model;
    return ids.flatMap((id) => {
      const stroke = strokes.get(id);
      return stroke && !stroke.deleted ? [stroke] : [];
    });
  }

  /** Where the picked lines lie before the movement that is shown, and the way of the first ones; paper px. */
  get shown(): PickedShape | undefined {
    return this.ids.length ? this.shape : undefined;
  }

  get movement(): Matrix {
    return this.moved ?? IDENTITY;
  }

  /** The frame around them as it is shown. */
  get box(): Box | undefined {
    return this.shown && transformBox(this.shown.box, this.movement);
  }

  // ---- picking

  /** Picks the line at a place, the topmost of several. @param adds to what is picked, or takes it away again. */
  async pickAt(x: number, y: number, reach: number, adds: boolean): Promise<void> {
    const layers = pickableLayers(this.session).map(({ id }) => id);
    const line = await this.answer(() => this.session.client.lineAt(layers, x, y, reach), undefined);
    const found = line === undefined ? [] : this.withGroups([line]);
    const text = line === undefined ? labelAt(this.session.model, x, y, reach) : undefined;
    if (text) this.tell(`“${cutText(text.letters.label.text, TOLD_LETTERS)}” ${IS_TEXT}`);
    if (!adds) return this.set(found);
    if (line === undefined) return;
    const without = new Set(this.ids.includes(line) ? found : []);
    this.set(without.size ? this.ids.filter((id) => !without.has(id)) : [...new Set([...this.ids, ...found])]);
  }

  /** Lines, and all that belong to a group with one of them. */
  private withGroups(ids: string[]): string[] {
    const { strokes } = this.session.model;
    const groups = new Set(ids.flatMap((id) => strokes.get(id)?.group ?? []));
    if (!groups.size) return ids;
    const all = new Set(ids);
    for (const stroke of strokes.values())
      if (!stroke.deleted && stroke.group && groups.has(stroke.group)) all.add(stroke.id);
    return [...all];
  }

  /** The loop that is being drawn, `[x, y, ...]` in paper px. */
  loop: number[] | undefined;

  /** A loop begins, or goes on, there. */
  drawLoop({ x, y }: { x: number; y: number }): void {
    (this.loop ??= []).push(x, y);
    this.tellShown();
  }

  dropLoop(): void {
    this.loop = undefined;
    this.tellShown();
  }

  /** The loop is drawn: what lies within it is picked. */
  async closeLoop(adds: boolean, takes: LoopTakes = 'both'): Promise<void> {
    const { loop } = this;
    this.dropLoop();
    if (loop && loop.length >= 6) await this.pickIn(Float64Array.from(loop), adds, takes);
  }

  /** Picks the lines within a loop `[x, y, ...]`, paper px. */
  async pickIn(loop: Float64Array, adds: boolean, takes: LoopTakes = 'both'): Promise<void> {
    const layers = pickableLayers(this.session).map(({ id }) => id);
    const within = await this.answer(() => this.session.client.linesIn(layers, loop), []);
    const { strokes } = this.session.model;
    const isTaken = (id: string) => takes === 'both' || (strokes.get(id)?.pour !== undefined) === (takes === 'colour');
    const found = this.withGroups(within.filter(isTaken));
    this.set(adds ? [...new Set([...this.ids, ...found])] : found);
  }

  /** Picks all lines of the layers that can be picked which suit. */
  pickAll(suits: (stroke: Stroke) => boolean): void {
    const layers = new Set(pickableLayers(this.session).map(({ id }) => id));
    const found: string[] = [];
    for (const stroke of this.session.model.strokes.values())
      if (!stroke.deleted && layers.has(stroke.layerId) && suits(stroke)) found.push(stroke.id);
    this.set(found);
  }

  clear(): void {
    if (this.count) this.set([]);
  }

  /** The sheet has changed: what does not stand any more, or lies on a layer that is hidden or locked now, is let go. */
  refresh(): void {
    if (!this.count || this.moved || this.restyling) return;
    const layers = new Set(pickableLayers(this.session).map(({ id }) => id));
    this.set(this.strokes.flatMap(({ id, layerId }) => (layers.has(layerId) ? id : [])));
  }

  private set(ids: string[]): void {
    this.dropRestyle();
    this.ids = ids;
    const { strokes } = this.session.model;
    this.pours = strokes.hasPours ? ids.filter((id) => strokes.get(id)?.pour).length : 0;
    if (!ids.length) this.shape = undefined;
    this.tellPicked();
    this.lookAt();
  }

  private readonly lookAt = oneAtATime(async () => {
    const { ids } = this;
    if (!ids.length) return;
    const level = Math.round(Math.log2(this.session.stage?.deviceScale ?? 1));
    const shape = await this.answer(() => this.session.client.shapeOf(ids, level, MOST_SHOWN), undefined);
    if (ids !== this.ids || !shape || this.moved) return;
    this.shape = shape;
    this.tellShown();
  });

  // ---- moving

  /** Begins a movement that is shown until it ends or is dropped. */
  beginMove(): void {
    this.moved = IDENTITY;
  }

  /** Goes on with it. @param by in paper px, after what was moved already. */
  moveOn(by: Matrix): void {
    if (!this.moved) return;
    this.moved = compose(by, this.moved);
    const { ids, moved } = this;
    this.show(() => this.fieldOf('matrix', this.strokesOf(ids), (s) => compose(moved, s.matrix)));
    this.tellShown();
  }

  /** Keeps it. */
  async endMove(label = 'Move'): Promise<void> {
    const { moved } = this;
    this.moved = this.pending = undefined;
    if (!moved || isIdentity(moved)) return;
    // Until the worker has told where they lie now.
    this.shape = this.shape && movedShape(this.shape, moved);
    await this.act(label, [this.fieldOf('matrix', this.strokes, (s) => compose(moved, s.matrix))], true);
  }

  /** Takes it back. */
  dropMove(): void {
    if (!this.moved) return;
    this.moved = undefined;
    this.showKept('matrix');
    this.tellShown();
    this.lookAt();
  }

  /** One movement about the middle of what is picked, as a step: scaled, turned, mirrored, shifted by paper px. */
  async transform(
    how: { scale?: number; turnDeg?: number; mirrors?: boolean; dx?: number; dy?: number },
    label: string,
  ) {
    const box = this.shown?.box;
    if (!box) return;
    const middle = [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2] as const;
    this.moved = turnAbout(middle, how);
    await this.endMove(label);
  }

  // ---- everything else

  delete(): Promise<void> {
    const { strokes } = this;
    return this.act(`Delete ${lineCount(strokes.length)}`, [this.fieldOf('deleted', strokes, () => true)]);
  }

  recolour(colour: string): Promise<void> {
    const inked = this.restyledOf(this.ids);
    return this.act(`Colour ${lineCount(inked.length)}`, [this.fieldOf('colour', inked, () => colour)]);
  }

  /** Shows the picked lines made anew, until {@link restyle} keeps them, or something else is picked. */
  previewRestyle(how: Restyle): void {
    const restyling = { ...this.restyling, ...how, settings: { ...this.restyling?.settings, ...how.settings } };
    this.restyling = restyling;
    const { ids } = this;
    this.show(() => this.restyleOf(ids, restyling));
  }

  /** What was shown and not kept is gone. */
  private dropRestyle(): void {
    if (!this.restyling) return;
    this.restyling = undefined;
    this.showKept('pen');
  }

  async restyle(how: Restyle, label: string): Promise<void> {
    this.previewRestyle(how);
    const change = this.restyleOf(this.ids, this.restyling!);
    this.restyling = this.pending = undefined;
    await this.act(label, [change], true);
  }

  /** Puts them in front of all others of their layers, or behind them. */
  restack(to: 'front' | 'back'): Promise<void> {
    const { strokes: table } = this.session.model;
    const changes = [...grouped(this.strokes, layerIdOf)].map(([layerId, strokes]) => {
      const edge = to === 'front' ? table.topOrderOf(layerId) : table.bottomOrderOf(layerId);
      const orders = (to === 'front' ? ordersAbove : ordersBelow)(edge === undefined ? [] : [edge], strokes.length);
      const places = new Map(strokes.sort(byOrder).map(({ id }, i) => [id, orders[i]]));
      return this.fieldOf('order', strokes, ({ id }) => places.get(id)!);
    });
    return this.act(to === 'front' ? 'To the front' : 'To the back', changes);
  }

  /** Moves them beyond the next line of their layers that lies over them, or under them. */
  async step(side: 'up' | 'down'): Promise<void> {
    const changes: Change[] = [];
    for (const strokes of grouped(this.strokes, layerIdOf).values()) {
      const sorted = strokes.sort(byOrder);
      const ids = sorted.map(({ id }) => id);
      const gap = await this.answer(() => this.session.client.gapBeyond(ids, side), undefined);
      const orders = gap && ordersBetween(gap.below, gap.above, sorted.length);
      const places = new Map(ids.map((id, i) => [id, orders?.[i] ?? '']));
      if (orders) changes.push(this.fieldOf('order', sorted, ({ id }) => places.get(id)!));
    }
    await this.act(side === 'up' ? 'One up' : 'One down', changes);
  }

  /** Moves them to another layer, on top of what is there. */
  toLayer(layer: Layer): Promise<void> {
    const strokes = this.strokes.filter((s) => s.layerId !== layer.id).sort(byOrder);
    const top = this.session.topOrderOf(layer.id);
    const orders = ordersAbove(top === undefined ? [] : [top], strokes.length);
    const places = new Map(strokes.map(({ id }, i) => [id, orders[i]]));
    return this.act(`To ${layer.name}`, [
      this.fieldOf('layerId', strokes, () => layer.id),
      this.fieldOf('order', strokes, ({ id }) => places.get(id)!),
    ]);
  }

  /** Whether some of them belong to a group. */
  get hasGroup(): boolean {
    return this.strokes.some((s) => s.group);
  }

  /** From now on they are picked together. */
  group(): Promise<void> {
    const group = nanoid();
    return this.act(`Group ${lineCount(this.count)}`, [this.fieldOf('group', this.strokes, () => group)]);
  }

  ungroup(): Promise<void> {
    const members = this.strokes.filter((s) => s.group);
    return this.act(`Ungroup ${lineCount(members.length)}`, [this.fieldOf('group', members, () => null)]);
  }

  copy(): Promise<boolean> {
    const copied = this.copyNow();
    copying = copied;
    return copied;
  }

  private async copyNow(): Promise<boolean> {
    const { ids, session } = this;
    const box = this.box ?? this.page;
    const copies = await this.answer(() => session.client.copiesOf(ids), []);
    if (!copies.length) return false;
    const copied = { id: nanoid(), sheetId: session.card.id, at: Date.now(), box, copies };
    keepCopied(copied);
    // Where other windows and programs cannot be served, the tabs of this browser have it.
    this.leaving = systemClipboard()
      .then((clipboard) => clipboard.leaveLines(this.session, copied))
      .catch(() => undefined);
    return true;
  }

  async cut(): Promise<void> {
    if (!(await this.copy())) return;
    // Of lines that are gone there is no drawing.
    await this.leaving;
    await this.delete();
  }

  /** Puts down what was copied last, in whichever window, and picks it. */
  async paste(): Promise<void> {
    // A quick hand pastes before the copies have come.
    await copying.catch(() => undefined);
    const own = lastCopied();
    const copied = await systemClipboard().then(
      (clipboard) => clipboard.lastAnywhere(own, this.tell),
      () => own,
    );
    if (!copied) return;
    const { layer, obstacle } = landing(this.session);
    if (!layer || obstacle)
      return this.tell(
        layer
          ? `${layer.name} is ${obstacle === 'locked' ? 'locked' : 'hidden'}, so nothing was pasted. Open it in the stack, and paste again.`
          : 'No layer is chosen, so nothing was pasted. Choose one in the stack, and paste again.',
      );
    await this.putDown('Paste', copied, () => layer.id);
  }

  /** Copies beside themselves, in their own layers. */
  async duplicate(): Promise<void> {
    const copies = await this.answer(() => this.session.client.copiesOf(this.ids), []);
    const box = this.box ?? this.page;
    if (copies.length)
      await this.putDown('Duplicate', { sheetId: this.session.card.id, box, copies }, (line) => line.stroke.layerId);
  }

  private get page(): Box {
    const { widthPx, heightPx } = this.session.paper;
    return { x0: 0, y0: 0, x1: widthPx, y1: heightPx };
  }

  private async putDown(
    label: string,
    { sheetId, box, copies }: Copied,
    layerOf: (line: CopiedLine) => string,
  ): Promise<void> {
    const { card, model, stage } = this.session;
    const beside = BESIDE_PX / (stage?.view.scale ?? 1);
    const here = this.page;
    // What would lie beside another paper comes to its middle.
    const isBeside = sheetId !== card.id && !overlaps(box, here);
    const [dx, dy] = isBeside ? between(box, here) : [beside, beside];
    const { changes, parts, ids } = pasted(copies, {
      layerOf,
      ordersOn: (layerId, count) => {
        const top = this.session.topOrderOf(layerId);
        return ordersAbove(top === undefined ? [] : [top], count);
      },
      moved: [1, 0, 0, 1, dx, dy],
      // Its parts name samples that are here.
      isSameSheet:
        sheetId === card.id && copies.every(({ stroke: { stands } }) => !stands || model.strokes.has(stands.of)),
      newId: nanoid,
    });
    if (isTooLarge(changes, parts)) return this.tell(tooMany(ids.length));
    await this.session.act(`${label} ${lineCount(ids.length)}`, changes, { parts });
    this.set(ids);
  }

  // ---- steps

  private async act(label: string, changes: Change[], isPreviewed = false): Promise<void> {
    const some = changes.filter((c) => c.op === 'put' || c.ids.length);
    if (!some.length) return;
    if (isTooLarge(some)) {
      if (isPreviewed) for (const c of some) if (c.op === 'set') this.show(() => ({ ...c, after: c.before }));
      this.tell(tooMany(this.count));
    } else await this.session.act(label, some);
    this.set(this.strokes.map(({ id }) => id));
  }

  private restyleOf(ids: readonly string[], how: Restyle): Assign {
    const unpressed = new Set(this.shape?.unpressed);
    return this.fieldOf('pen', this.restyledOf(ids), ({ id, pen, matrix }) =>
      restyled(pen, ownSize(how, lengthScale(matrix)), !unpressed.has(id)),
    );
  }

  private fieldOf<F extends keyof Stroke & string>(
    field: F,
    strokes: readonly Stroke[],
    after: (stroke: Stroke) => Stroke[F],
  ): Assign {
    return {
      op: 'set',
      table: 'strokes',
      field,
      ids: strokes.map(({ id }) => id),
      // What JSON knows of it: absent is null.
      before: strokes.map((s) => s[field] ?? null),
      after: strokes.map(after),
    };
  }

  /** Shows what is not kept: the latest, one after the other. */
  private show(change: () => Assign): void {
    this.pending = change;
    this.showPending();
  }

  /** Shows a field of the lines that are picked now as the sheet has it. */
  private showKept<F extends keyof Stroke & string>(field: F): void {
    const { ids } = this;
    this.show(() => this.fieldOf(field, this.strokesOf(ids), (s) => s[field]));
  }

  private readonly showPending = oneAtATime(async () => {
    const { pending } = this;
    this.pending = undefined;
    if (pending) await this.session.preview([pending()]);
  });

  private answer<T>(ask: () => Promise<T>, otherwise: T): Promise<T> {
    return answered(this.session, this.tell, ask, otherwise);
  }

  private tellPicked(): void {
    for (const listener of this.pickedListeners) listener();
    this.tellShown();
  }

  private tellShown(): void {
    for (const listener of this.shownListeners) listener();
  }
}

function movedShape({ box, lines, unpressed }: PickedShape, matrix: Matrix): PickedShape {
  const factor = lengthScale(matrix);
  const along = (line: Float32Array) => {
    const out = line.slice();
    for (let at = 0; at < out.length; at += 3) {
      [out[at], out[at + 1]] = apply(matrix, line[at], line[at + 1]);
      out[at + 2] *= factor;
    }
    return out;
  };
  return { box: transformBox(box, matrix), lines: lines.map(along), unpressed };
}

/** What brings the middle of a box to that of another. */
const between = (from: Box, to: Box): [dx: number, dy: number] => [
  (to.x0 + to.x1 - from.x0 - from.x1) / 2,
  (to.y0 + to.y1 - from.y0 - from.y1) / 2,
];

const layerIdOf = (stroke: Stroke): string => stroke.layerId;

/** Sizes as they lie on the paper, as those of a line that was scaled since. */
function ownSize(how: Restyle, scale: number): Restyle {
  const { sizePx, sizeAddPx } = how;
  return {
    ...how,
    ...(sizePx === undefined ? {} : { sizePx: sizePx / scale }),
    ...(sizeAddPx === undefined ? {} : { sizeAddPx: sizeAddPx / scale }),
  };
}

/** How wide a line's pen is on the paper, px: with all that it was scaled by since. */
export const sizeOnPaper = ({ pen, matrix }: Pick<Stroke, 'pen' | 'matrix'>): number =>
  pen.sizePx * lengthScale(matrix);
