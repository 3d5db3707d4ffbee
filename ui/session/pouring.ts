import { nanoid } from 'nanoid';
import type { Bounds } from '../../core/fill/area-finder';
import { POUR_PEN } from '../../core/fill/pour-path';
import type { PourShape } from '../../core/fill/pour-shape';
import type { PourTarget } from '../../core/fill/pouring';
import { Inside, type Place } from '../../core/fill/shape-inside';
import type { UnfilledShape } from '../../core/fill/unfilled';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Rings } from '../../core/geometry/rings';
import { isInkable, type ColourLayer, type InkableLayer, type Layer, type Stroke } from '../../core/sheet/entities';
import { isFlat } from '../../core/sheet/laid-parts';
import { grouped } from '../../core/sheet/grouped';
import { isLocked, isVisible } from '../../core/sheet/layer-tree';
import { shownInks } from '../../core/sheet/sent-layers';
import { orderBelow, ordersAbove, ordersBelow, ordersBetween } from '../../core/sheet/orders';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { ENGINE } from '../../core/stroke/pen';
import { OutOfReach } from '../../workers/sheet-client';
import { firstCheckDials } from './checking';
import { ColourPicker } from './colour-picker';
import { bridgesOver, shutWords, type Bridges } from './bridging';
import { landing, newLayer, type Obstacle } from './inking';
import { RunningOut, type PourWay } from './running-out';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** A shape under the pen that will be poured when it lifts. */
interface HeldShape {
  target: PourTarget;
  inside: Inside;
}

/** A shape and its colour. */
type Poured = Pick<PourShape, 'bytes' | 'seed'> & { colour: string };

const TOO_MUCH = 'That is too much for one step, so nothing was poured. Pour a part of it first.';
/** After a change of the ink, until shapes without colour are looked for anew. */
const AFTER_MS = 300;
/** A drag looks at the shapes that it crosses every so many CSS px. */
const EVERY_PX = 6;
const MOST_HELD = 400;

/** Pours colour into the shapes between lines: what is held is shown, and poured when the pen lifts. */
export class Pouring {
  /** The borders of what is held, paper px. */
  readonly held = new Watched<readonly Rings[]>([]);
  /** A loop that is being drawn, paper px. */
  readonly lasso = new Watched<readonly Place[]>([]);
  /** The shape under the pen is being looked for. */
  readonly busy = new Watched(false);
  /** Gaps up to this are closed, paper px. */
  readonly gapPx: Watched<number>;
  /** Small shapes that were left without colour; undefined: they are not known yet. */
  readonly unfilled = new Watched<readonly UnfilledShape[] | undefined>(undefined);
  /** They are shown on the paper. */
  readonly showing = new Watched(false);
  /** The layer is made by the first pour. */
  readonly makesLayer = new Watched(false);
  /** Pours whose lines enclose them no longer. */
  readonly opened = new Watched<readonly Stroke[]>([]);
  readonly picker: ColourPicker;
  readonly runningOut: RunningOut;
  private shapes: HeldShape[] = [];
  private asking: Promise<void> = Promise.resolve();
  private stroke = 0;
  private last: Place | undefined;
  /** What is held could not be looked for, which was said. */
  private hasFailed = false;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;
  /** Of which touch it is being looked whether it runs out of a shape. */
  private lookedAt: number | undefined;
  /** Where ink landed before. */
  private inkTarget: string | null | undefined;
  /** Where colour lands of itself. */
  private ownTarget: string | null = null;

  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string) => void,
    private readonly warn: (text: string) => void,
  ) {
    this.picker = new ColourPicker(session, warn);
    this.runningOut = new RunningOut(session);
    this.gapPx = new Watched(firstCheckDials(session.paper).gapPx);
  }

  // ---- where colour lands

  /** Colour lands on a colour layer by itself while the stop is open. @returns ends it: ink lands where it did. */
  begin(): () => void {
    const { session } = this;
    const { settings } = session.model;
    const target = this.target();
    this.ownTarget = settings.target;
    if (target?.kind !== 'colour') {
      this.inkTarget = settings.target;
      const colour = session.model.stack().findLast(isFlat);
      if (colour) void this.retarget(colour);
      else this.makesLayer.set(true);
    }
    void this.look();
    const unwatch = session.stage?.watchInk(() => {
      this.lookSoon();
      // What is looked at, or asked about, may be another shape now.
      if (this.lookedAt === this.stroke) this.drop();
      this.letGo();
    });
    return () => {
      unwatch?.();
      clearTimeout(this.soon);
      this.drop();
      this.picker.end();
      this.makesLayer.set(false);
      const ink = this.inkTarget === undefined || this.inkTarget === null ? undefined : session.model.layers.get(this.inkTarget); // prettier-ignore
      this.inkTarget = undefined;
      if (ink && !ink.deleted && this.target()?.kind === 'colour') void this.retarget(ink);
    };
  }

  /** Colour lands on this layer now: chosen by the artist, or made, or no longer there since a pour was taken back. */
  followTarget(id: string | null): void {
    if (id === this.ownTarget || this.inkTarget === undefined) return;
    this.ownTarget = id;
    const isBack = id === this.inkTarget && this.colourLayers().length === 0;
    this.makesLayer.set(isBack);
    // Ink that the artist chose here is where lines land later, too.
    if (!isBack && this.target()?.kind !== 'colour') this.inkTarget = undefined;
  }

  private retarget(layer: Layer): Promise<void> {
    const { settings } = this.session.model;
    this.ownTarget = layer.id;
    return this.session.act(`Colour lands on ${layer.name}`, [assign('sheet', settings, 'target', layer.id)], {
      undoable: false,
    });
  }

  private target(): InkableLayer | undefined {
    const { settings, layers } = this.session.model;
    const layer = settings.target === null ? undefined : layers.get(settings.target);
    return isInkable(layer) && !layer.deleted ? layer : undefined;
  }

  private colourLayers(): ColourLayer[] {
    return this.session.model.stack().filter((layer) => layer.kind === 'colour');
  }

  private get bounds(): Bounds {
    return { against: shownInks(this.session.model).map(({ id }) => id), gapPx: this.gapPx.now() };
  }

  /** A layer for colour beneath all ink, and the changes that make it the target. */
  newColourLayer(): { layer: InkableLayer; changes: Change[] } {
    const { model } = this.session;
    const lowest = shownInks(model)[0] ?? model.stack().find(({ kind }) => kind === 'ink');
    const layer = newLayer(this.session, 'colour');
    if (lowest) {
      const beside = [...model.layers.values()].filter((one) => (one.parent ?? null) === (lowest.parent ?? null));
      const below = beside.map(({ order }) => order).filter((order) => order < lowest.order);
      const order = ordersBetween(below.length ? below.reduce((a, b) => (a > b ? a : b)) : undefined, lowest.order, 1);
      layer.order = order?.[0] ?? orderBelow(beside.map((one) => one.order));
      if (lowest.parent) layer.parent = lowest.parent;
    }
    this.ownTarget = layer.id;
    return { layer, changes: [putRows('layers', layer), assign('sheet', model.settings, 'target', layer.id)] };
  }

  /** Makes the colour layer now: what is painted by hand needs it before it begins. */
  makeLayer(): void {
    if (!this.makesLayer.now()) return;
    const { layer, changes } = this.newColourLayer();
    this.makesLayer.set(false);
    void this.session.act(`New layer ${layer.name}`, changes);
  }

  // ---- what is held

  start(): void {
    this.drop();
  }

  /** The pen is there, paper px: what lies between is held, too. */
  move(at: Place): void {
    const step = EVERY_PX / (this.session.stage?.view.scale ?? 1);
    const from = this.last ?? at;
    const length = Math.hypot(at[0] - from[0], at[1] - from[1]);
    if (this.last && length < step) return;
    this.last = at;
    const parts = Math.max(1, Math.ceil(length / step));
    for (let k = 1; k <= parts; k++) {
      const u = k / parts;
      this.hold([from[0] + u * (at[0] - from[0]), from[1] + u * (at[1] - from[1])]);
    }
  }

  private hold(at: Place): void {
    const { stroke } = this;
    this.asking = this.asking.then(async () => {
      const isHeld = () => this.shapes.some(({ inside }) => inside.holds(...at));
      if (stroke !== this.stroke || isHeld() || this.shapes.length >= MOST_HELD) return;
      this.busy.set(true);
      const target = await this.ask(at).catch((error: unknown) => void this.told(error));
      this.busy.set(false);
      if (stroke !== this.stroke || !target) return;
      // A drag goes through shapes; all that is around them is poured by a tap alone.
      if (target.reachesEdge && this.shapes.length) return;
      if (this.shapes.length === 1 && this.shapes[0].target.reachesEdge) this.shapes = [];
      this.shapes.push({ target, inside: new Inside(target.rings) });
      this.held.set(this.shapes.map((one) => one.target.rings));
    });
  }

  private ask(at: Place): Promise<PourTarget | undefined> {
    return this.session.client.colour<'target'>({ what: 'target', bounds: this.bounds, layerId: this.landingId(), at });
  }

  private landingId(): string | undefined {
    return this.makesLayer.now() ? undefined : this.target()?.id;
  }

  /** Says why there is no answer; whatever it was, the next touch asks again. */
  private told(error: unknown): void {
    this.hasFailed = true;
    if (!(error instanceof OutOfReach)) {
      console.error(error);
      return this.warn('The shape could not be looked for, so nothing was poured. Try again.');
    }
    this.warn('The lines there are not on this device yet, and the server cannot be reached, so nothing was poured. Try again when it can.'); // prettier-ignore
  }

  drop(): void {
    this.stroke++;
    this.runningOut.letGo();
    this.shapes = [];
    this.last = undefined;
    this.hasFailed = false;
    this.held.set([]);
    this.busy.set(false);
  }

  /** The pen has lifted: what is held is poured. @returns whether anything was. */
  async end(way: PourWay): Promise<boolean> {
    const { stroke, last } = this;
    await this.asking;
    if (stroke !== this.stroke) return false;
    const { hasFailed } = this;
    const shapes = this.shapes.map(({ target }) => target);
    if (shapes.length === 1 && (await this.runsOut(shapes[0], way))) return false;
    this.drop();
    if (!shapes.length) {
      if (last && !hasFailed) this.say('There is no shape that could be poured.');
      return false;
    }
    return this.pour(way.alike ? await this.allLike(shapes[0]) : shapes, way);
  }

  /** Whether it is asked about, or was given up; until that is known the shape is held. */
  private async runsOut(target: PourTarget, way: PourWay): Promise<boolean> {
    const { runningOut } = this;
    if (!runningOut.isDoubtful(target)) return false;
    const isAsked = await this.looked('pour', runningOut.looksAt(target, this.bounds, this.landingId(), way));
    if (isAsked) this.held.set(runningOut.question.now()!.outs.map((out) => out.target.rings));
    return isAsked !== false;
  }

  /** Whether something is asked about; undefined: it was given up for a newer touch or another edit, which is said. */
  private async looked(what: 'pour' | 'loop', looking: Promise<boolean>): Promise<boolean | undefined> {
    const { stroke } = this;
    this.busy.set(true);
    this.lookedAt = stroke;
    const isAsked = await looking.catch(() => false);
    if (stroke !== this.stroke) {
      this.runningOut.letGo();
      this.say(`The ${what} before was still being looked at, and was given up.`);
      return undefined;
    }
    this.lookedAt = undefined;
    this.busy.set(false);
    return isAsked;
  }

  /** Nothing is poured of what is asked about. */
  letGo(): void {
    if (this.runningOut.question.now()) this.drop();
  }

  /** Closes the gaps that colour runs out of, and pours what they close, in one step. @returns whether anything was. */
  async bridgeAndPour(): Promise<boolean> {
    const question = this.runningOut.question.now();
    if (!question) return false;
    const { strokes, parts, shut } = bridgesOver(this.session, this.runningOut.leaks());
    if (shut) {
      this.warn(shutWords(shut));
      return false;
    }
    this.drop();
    const { outs, rest, way, isLoop } = question;
    const targets = [...outs.map(({ target }) => target), ...(isLoop ? rest : [])];
    return this.pour(targets, { ...way, alike: false }, { strokes, parts });
  }

  /** Pours what is asked about as it is. @returns whether anything was. */
  async pourAllTheSame(): Promise<boolean> {
    const question = this.runningOut.question.now();
    if (!question) return false;
    this.drop();
    const { rest, way, isLoop } = question;
    if (isLoop || !way.alike) return this.pour(rest, { ...way, alike: false });
    return this.pour(await this.allLike(rest[0]), way);
  }

  /** A shape with colour stands for all of that colour, one without for all of its size. */
  private async allLike(first: PourTarget): Promise<PourTarget[]> {
    if (first.pouredId !== undefined) return [first];
    this.busy.set(true);
    const ask = { what: 'alike', bounds: this.bounds, layerId: this.landingId(), at: first.shape.seed } as const;
    const alike = await this.session.client.colour<'alike'>(ask).catch((error: unknown) => void this.told(error));
    this.busy.set(false);
    return alike ?? [];
  }

  /** Pours all shapes that lie within a loop `[x, y, ...]`, paper px. @returns whether any did. */
  async pourWithin(loop: Float64Array, way: PourWay): Promise<boolean> {
    this.drop();
    const { stroke, bounds, runningOut } = this;
    const layerId = this.landingId();
    this.busy.set(true);
    const within = await this.session.client
      .colour<'within'>({ what: 'within', bounds, layerId, loop })
      .catch((error: unknown) => void this.told(error));
    if (stroke !== this.stroke) return false;
    this.busy.set(false);
    if (!within) return false;
    const isAsked = await this.looked('loop', runningOut.looksWithin(loop, within, bounds, layerId, way));
    if (isAsked) {
      const { outs } = runningOut.question.now()!;
      this.held.set([...outs.map(({ target }) => target.rings), ...within.map(({ rings }) => rings)]);
    }
    if (isAsked !== false) return false;
    if (!within.length) this.say('No closed shape lies within that loop, so nothing was poured.');
    return within.length ? this.pour(within, { ...way, alike: false }) : false;
  }

  /** @param bridges lines that are drawn in the same step. */
  private async pour(
    targets: readonly PourTarget[],
    { colour, alike, tied }: PourWay,
    bridges: Pick<Bridges, 'strokes' | 'parts'> = { strokes: [], parts: [] },
  ): Promise<boolean> {
    const { session } = this;
    if (!targets.length) return false;
    const changes: Change[] = bridges.strokes.length ? [putRows('strokes', ...bridges.strokes)] : [];
    const { layer, obstacle } = landing(session);
    let onto: InkableLayer;
    if (this.makesLayer.now()) {
      const made = this.newColourLayer();
      changes.push(...made.changes);
      onto = made.layer;
    } else if (obstacle || !layer) {
      this.warn(nothingLanded(layer?.name, obstacle, { done: 'nothing was poured', to: 'pour' }));
      return false;
    } else onto = layer;
    const recoloured = this.poursOf(targets, alike).filter((stroke) => stroke.colour !== colour);
    if (recoloured.length)
      changes.push({ op: 'set', table: 'strokes', field: 'colour', ids: recoloured.map(({ id }) => id), before: recoloured.map((s) => s.colour), after: recoloured.map(() => colour) }); // prettier-ignore
    const fresh = targets.filter(({ pouredId }) => pouredId === undefined);
    const { strokes, parts } = this.poured(
      onto,
      fresh.map(({ shape }) => ({ ...shape, colour })),
      tied,
    );
    if (strokes.length) changes.push(putRows('strokes', ...strokes));
    parts.push(...bridges.parts);
    const count = strokes.length + recoloured.length;
    if (!count && !bridges.strokes.length) return true;
    if (isTooLarge(changes, parts)) {
      this.warn(TOO_MUCH);
      return false;
    }
    await session.ready;
    this.makesLayer.set(false);
    const label = count > 1 ? `Pour ${count} shapes` : 'Pour';
    const bridged = count ? `Bridge, and ${label.toLowerCase()}` : 'Bridge';
    await session.act(bridges.strokes.length ? bridged : label, changes, { parts });
    return true;
  }

  /** The pours that get another colour. */
  private poursOf(targets: readonly PourTarget[], alike: boolean): Stroke[] {
    const { strokes } = this.session.model;
    const own = targets.flatMap(({ pouredId }) => (pouredId === undefined ? [] : (strokes.get(pouredId) ?? [])));
    if (!alike || !own.length) return own;
    const [{ layerId, colour }] = own;
    return [...strokes.values()].filter((s) => s.pour && !s.deleted && s.layerId === layerId && s.colour === colour);
  }

  /** New pours on a layer, which may be one that is about to be made. */
  private poured(
    layer: InkableLayer,
    shapes: readonly Poured[],
    tied: boolean,
  ): { strokes: Stroke[]; parts: [string, Uint8Array][] } {
    const { strokes: table } = this.session.model;
    // Solid blacks and whites lie among lines: beneath all of them.
    const lowest = layer.kind === 'ink' ? table.bottomOrderOf(layer.id) : undefined;
    const topmost = table.topOrderOf(layer.id);
    const orders =
      lowest === undefined
        ? ordersAbove(topmost === undefined ? [] : [topmost], shapes.length)
        : ordersBelow([lowest], shapes.length);
    const { bounds } = this;
    const parts: [string, Uint8Array][] = [];
    const strokes = shapes.map(({ bytes, seed, colour }, n): Stroke => {
      const id = nanoid();
      parts.push([id, bytes]);
      return {
        ...{ id, deleted: false, layerId: layer.id, order: orders[n], colour, pen: POUR_PEN },
        ...{ matrix: IDENTITY, engine: ENGINE, tied, pour: { seeds: [seed], ...bounds } },
      };
    });
    return { strokes, parts };
  }

  // ---- what was left out

  lookSoon(): void {
    clearTimeout(this.soon);
    this.soon = setTimeout(() => void this.look(), AFTER_MS);
  }

  private async look(): Promise<void> {
    const { session } = this;
    const own = ++this.asked;
    const { model } = session;
    await session.ready;
    this.opened.set(model.strokes.hasPours ? this.openPours() : []);
    if (!model.strokes.hasPours) return this.unfilled.set([]);
    const shown = model.stack().filter((layer) => isInkable(layer) && isVisible(layer, model.layers));
    // What lies on a shade is no colour of a shape.
    const colourIds = shown.flatMap((layer) => (isFlat(layer) ? layer.id : []));
    const inkIds = shown.flatMap((layer) => (layer.kind === 'ink' ? layer.id : []));
    const found = await session.client
      .colour<'unfilled'>({ what: 'unfilled', bounds: this.bounds, colourIds, inkIds })
      .catch(() => undefined);
    if (own === this.asked && found) this.unfilled.set(found);
  }

  /** Each gets the colour that lies beside it, on the layer of that; what lies on a locked one stays, which is said. */
  async fillAll(): Promise<void> {
    const { model } = this.session;
    const beside = ({ besideId }: UnfilledShape) => model.strokes.get(besideId);
    const standing = (this.unfilled.now() ?? []).filter((shape) => beside(shape)?.deleted === false);
    const changes: Change[] = [];
    const parts: [string, Uint8Array][] = [];
    let [count, shut] = [0, 0];
    for (const [layerId, shapes] of grouped(standing, (shape) => beside(shape)!.layerId)) {
      const layer = model.layers.get(layerId);
      if (!isInkable(layer) || layer.deleted || isLocked(layer, model.layers)) {
        shut += shapes.length;
        continue;
      }
      const made = this.poured(layer, shapes.map((shape): Poured => ({ bytes: shape.bytes, seed: [shape.x, shape.y], colour: beside(shape)!.colour })), true); // prettier-ignore
      changes.push(putRows('strokes', ...made.strokes));
      parts.push(...made.parts);
      count += made.strokes.length;
    }
    const shapesOf = (n: number) => `${n} small ${n === 1 ? 'shape' : 'shapes'}`;
    if (shut) this.warn(`${shapesOf(shut)} not filled: the colour beside lies on a locked layer. Unlock it in the stack to fill there.`); // prettier-ignore
    if (!count) return;
    if (isTooLarge(changes, parts)) return this.warn(TOO_MUCH);
    this.unfilled.set([]);
    await this.session.act(`Fill ${shapesOf(count)}`, changes, { parts });
  }

  private openPours(): Stroke[] {
    const { strokes, layers } = this.session.model;
    return [...strokes.values()].filter(
      (s) => s.pour?.isOpen && !s.deleted && layers.get(s.layerId)?.deleted === false,
    );
  }
}

/** Why nothing came to lie on a layer, and the way out. @param done what was not done, @param to what is wanted. */
export function nothingLanded(
  name: string | undefined,
  obstacle: Obstacle | undefined,
  { done, to }: { done: string; to: string },
): string {
  if (!name || obstacle === 'none') return `No layer is chosen, so ${done}. Choose one in the stack.`;
  return obstacle === 'locked'
    ? `${name} is locked, so ${done}. Unlock it in the stack to ${to} there.`
    : `${name} is hidden, so ${done}. Show it in the stack to ${to} there.`;
}
