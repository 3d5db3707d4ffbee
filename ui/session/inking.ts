import { nanoid } from 'nanoid';
import type { Box } from '../../core/geometry/box';
import { between, FIRST_FRAME } from '../../core/geometry/frame';
import { IDENTITY } from '../../core/geometry/matrix';
import { isInkable, type InkableLayer, type Layer, type Stroke } from '../../core/sheet/entities';
import { fieldChange } from '../../core/sheet/layer-changes';
import { groupsOf, isLocked, isVisible } from '../../core/sheet/layer-tree';
import { cutText, MAX_NAME } from '../../core/sheet/words';
import { erasingChanges } from '../../core/sheet/erasing';
import type { ErasedStroke } from '../../core/sheet/erased-strokes';
import { orderAbove, orderBelow } from '../../core/sheet/orders';
import type { PaperSize } from '../../core/sheet/paper';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import type { Catch, Place } from '../../core/stroke/met-ends';
import type { HandPoint } from '../../core/stroke/samples';
import { eraserPen, type Eraser } from '../../core/stroke/eraser';
import type { Form } from '../../core/stroke/form';
import { pathOf } from '../../core/stroke/forms';
import { encodePath } from '../../core/stroke/pack-path';
import type { NodeKind, StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Fill, type Pen, type PenKind, type PenSettings } from '../../core/stroke/pen';
import { OutOfReach } from '../../workers/sheet-client';
import type { WetInk } from '../canvas/paper-screen';
import type { WetTarget } from '../canvas/stage';
import { Catching } from './catching';
import type { HandStroke } from './hand-stroke';
import type { HeldStroke } from './journal';
import type { SheetSession } from './session';

/** What is in the hand when a stroke begins. */
export interface HandTool {
  kind: PenKind;
  sizePx: number;
  steady: number;
  settings: PenSettings;
  colour: string;
  /** The line goes under the layer's others. */
  beneath: boolean;
  /** How readily its ends meet lines. */
  catching: Catch;
  /** What the hand makes, and whether what it encloses is ink, too. */
  form: Form;
  /** What points that are tapped out are. */
  pointKind: NodeKind;
  fill?: Fill;
  /** It erases instead. */
  eraser?: Eraser;
}

/** What an eraser leaves has no colour; it is kept and shown as this. */
const ERASER_COLOUR = '#000000';

/** Why ink cannot land on a layer right now. */
export type Obstacle = 'none' | 'hidden' | 'locked';

/** The layer that ink is meant for, and what keeps it from landing there. */
export function landing(session: SheetSession): { layer?: InkableLayer; obstacle?: Obstacle } {
  const { settings, layers } = session.model;
  const layer = settings.target === null ? undefined : layers.get(settings.target);
  if (!isInkable(layer) || layer.deleted) return { obstacle: 'none' };
  if (isLocked(layer, layers)) return { layer, obstacle: 'locked' };
  const isSeen = isVisible(layer, layers) && session.stage?.isLookedAt(layer.id) !== false;
  if (!isSeen || (layer.kind === 'rough' && !settings.scaffoldingShown)) return { layer, obstacle: 'hidden' };
  return { layer };
}

/** Ink is held where its layer takes none; an erasure is not: there is nothing to keep of it. */
function nothingErased(obstacle: Obstacle, layer: InkableLayer | undefined): string {
  if (!layer || obstacle === 'none') return 'No layer is chosen, so nothing was erased. Choose one in the stack.';
  return obstacle === 'locked'
    ? `${layer.name} is locked, so nothing was erased. Unlock it in the stack to erase there.`
    : `${layer.name} is hidden, so nothing was erased. Show it in the stack to erase there.`;
}

/** Turns what the hand does on the stage into steps of the sheet. */
export class Inking {
  private current: { tool: HandTool; pen: Pen; target: WetTarget; hasPressure: boolean; rest: () => void } | undefined;
  private held: HeldStroke[] = [];
  private readonly catching: Catching;
  private onMeet: (at: Place | undefined) => void = () => {};
  /** A line was placed, to be bent, and is on this device's disk. */
  onBend: (stroke: Stroke, path: StrokePath) => void = () => {};
  /** The last stroke of this visit, for the pen's preview. */
  lastHand: HandStroke | undefined;
  private readonly lastOrder = new Map<string, string>();
  private readonly firstOrder = new Map<string, string>();
  /** What others had done when `lastOrder` was read. */
  private foreignSeen = 0;

  /**
   * @param onHeld strokes are held (or no longer): the interface offers the ways out.
   * @param tell says to the artist why nothing happened.
   */
  constructor(
    private readonly session: SheetSession,
    private readonly onHeld: (held: readonly HeldStroke[]) => void,
    private readonly tell: (text: string) => void,
  ) {
    this.catching = new Catching(session, (at) => this.onMeet(at));
  }

  /** Strokes that were held when the page was last open. */
  async restoreHeld(): Promise<void> {
    this.setHeld(await this.session.journal.held(this.session.card.id));
  }

  begin(tool: HandTool, hasPressure: boolean): void {
    const { stage } = this.session;
    if (!stage) return;
    const { layer, obstacle } = landing(this.session);
    const { eraser } = tool;
    if (eraser && obstacle) return this.tell(nothingErased(obstacle, layer));
    const pen = eraser
      ? eraserPen(eraser, hasPressure, stage.view.scale)
      : filled(makePen(tool.kind, tool.sizePx, tool.steady, hasPressure, stage.view.scale, tool.settings), tool.fill);
    const target: WetTarget = { layerId: obstacle ? null : layer!.id, erases: eraser !== undefined };
    this.current?.rest();
    // Until it is a step, its places are of the paper as it is.
    this.current = { tool, pen, target, hasPressure, rest: this.session.holdPaper() };
    this.catching.begin(eraser || tool.form !== 'freehand' ? 'off' : tool.catching, target.layerId);
    stage.beginStroke(pen, eraser ? ERASER_COLOUR : tool.colour, target);
  }

  /** Tells where the stroke under the nib would meet a line now, paper px. @returns stops telling. */
  watchMeetings(onMeet: (at: Place | undefined) => void): () => void {
    this.onMeet = onMeet;
    return () => (this.onMeet = () => {});
  }

  /** What the hand's way has become, where it makes a form. @param isEven its sides are as long as each other. */
  pathOf(hand: readonly HandPoint[], isEven: boolean): StrokePath | undefined {
    const { current } = this;
    if (!current || current.tool.eraser) return undefined;
    const { form, pointKind } = current.tool;
    return pathOf(form, hand[0], hand[hand.length - 1], { isEven, kind: pointKind });
  }

  /** The nib is there now, paper px. */
  follow(at: Place): void {
    this.catching.follow(at);
  }

  drop(): void {
    this.current?.rest();
    this.current = undefined;
    this.catching.stop();
    this.session.stage?.discardStroke();
  }

  /** @returns when the stroke is on this device's disk. */
  async end(): Promise<void> {
    const { current } = this;
    this.current = undefined;
    await this.ended(current).finally(() => current?.rest());
  }

  private async ended(current: Inking['current']): Promise<void> {
    const { stage } = this.session;
    const done = stage?.endStroke();
    if (!current || !stage || !done) return;
    const { pen, tool, target } = current;
    const { path } = done;
    const isPlain = tool.eraser !== undefined || path !== undefined || tool.catching === 'off';
    const samples = isPlain ? done.samples : await this.catching.met(done.samples);
    const bytes = path ? encodePath(path) : encodeSamples(samples);
    if (!tool.eraser && !path)
      this.lastHand = {
        bytes,
        hasPressure: pen.widthFrom === 'pressure' || current.hasPressure,
        handScale: pen.handScale,
      };
    if (
      isOffPaper(done.area, this.session.paper) ||
      (path && tool.form !== 'points' && isNothing(path, stage.view.scale))
    ) {
      if (done.leftover) stage.forget(done.leftover);
      return;
    }
    if (target.layerId === null) return this.hold({ bytes, pen, colour: tool.colour, beneath: tool.beneath });
    if (tool.eraser) return this.erase(target.layerId, bytes, pen, done.leftover);
    // Only with all strokes there is it known which is the lowest.
    if (tool.beneath) await this.session.ready;
    const { stroke, part } = this.makeStroke(target.layerId, bytes, pen, tool);
    await this.session.act(LABELS[tool.form], [putRows('strokes', stroke)], { parts: [part], leftover: done.leftover });
    if (path && (tool.form === 'bend' || tool.form === 'points')) this.onBend(stroke, path);
  }

  private async erase(layerId: string, bytes: Uint8Array, pen: Pen, leftover: WetInk | undefined): Promise<void> {
    const { session } = this;
    const strokes = await this.erased(layerId, bytes, pen);
    if (strokes.length && pen.fades) {
      const { stroke, part } = this.makeStroke(layerId, bytes, pen, { colour: ERASER_COLOUR });
      return session.act('Erase softly', [putRows('strokes', stroke)], { parts: [part], leftover });
    }
    const mark = { id: nanoid(), layerId, pen, engine: ENGINE };
    const changes = erasingChanges(strokes, mark, (id) => session.model.strokes.get(id), nanoid);
    if (!changes.length) {
      if (leftover) session.stage?.forget(leftover);
      return;
    }
    await session.act('Erase', changes, { parts: [[mark.id, bytes]], leftover });
  }

  /** The strokes under an eraser; none, and that is said, where they cannot be had. */
  private async erased(layerId: string, bytes: Uint8Array, pen: Pen): Promise<ErasedStroke[]> {
    try {
      await this.session.ready;
      return await this.session.client.erased(layerId, bytes, pen);
    } catch (error) {
      if (!(error instanceof OutOfReach)) throw error;
      this.tell(
        'The lines there are not on this device yet, and the server cannot be reached, so nothing was erased. Try again when it can.',
      );
      return [];
    }
  }

  private makeStroke(
    layerId: string,
    bytes: Uint8Array,
    pen: Pen,
    { colour, beneath = false }: { colour: string; beneath?: boolean },
    id: string = nanoid(),
  ): { stroke: Stroke; part: [string, Uint8Array] } {
    const order = beneath ? this.orderBeneath(layerId) : this.orderOnTop(layerId);
    const stroke: Stroke = {
      id,
      deleted: false,
      layerId,
      order,
      colour,
      pen,
      matrix: IDENTITY,
      engine: ENGINE,
    };
    return { stroke, part: [stroke.id, bytes] };
  }

  private orderOnTop(layerId: string): string {
    const last = this.lastOrderOf(layerId);
    const order = orderAbove(last === undefined ? [] : [last]);
    this.lastOrder.set(layerId, order);
    return order;
  }

  private orderBeneath(layerId: string): string {
    const lowest = [this.session.model.strokes.bottomOrderOf(layerId), this.firstOrder.get(layerId)];
    const order = orderBelow(lowest.filter((known) => known !== undefined));
    this.firstOrder.set(layerId, order);
    return order;
  }

  /** The place of a layer's topmost stroke; read anew when others have drawn meanwhile. */
  private lastOrderOf(layerId: string): string | undefined {
    if (this.foreignSeen !== this.session.foreignChanges) this.lastOrder.clear();
    this.foreignSeen = this.session.foreignChanges;
    return this.lastOrder.get(layerId) ?? this.session.topOrderOf(layerId);
  }

  // ---- strokes whose layer takes no ink

  private async hold(stroke: Omit<HeldStroke, 'id' | 'sheetId'>): Promise<void> {
    const held: HeldStroke = { id: nanoid(), sheetId: this.session.card.id, on: this.session.frame, ...stroke };
    this.setHeld([...this.held, held]);
    await this.session.journal.hold(held);
  }

  /** Opens the layer (unlocks it, shows it) and lands the held strokes on it. */
  async openTarget(): Promise<void> {
    const { layer } = landing(this.session);
    if (!layer) return;
    const { settings, layers } = this.session.model;
    const all = [layer, ...groupsOf(layer, layers)];
    const isShut = all.some(({ locked }) => locked);
    const changes: Change[] = [...fieldChange(all, 'locked', () => false), ...fieldChange(all, 'visible', () => true)];
    if (layer.kind === 'rough' && !settings.scaffoldingShown)
      changes.push(assign('sheet', settings, 'scaffoldingShown', true));
    await this.session.act(isShut ? `Unlock ${layer.name}` : `Show ${layer.name}`, changes, { undoable: false });
    await this.landHeld(layer.id, []);
  }

  /** Makes a new ink layer above everything and lands the held strokes on it. */
  async newLayerForHeld(): Promise<void> {
    const layer = newLayer(this.session, 'ink');
    await this.landHeld(layer.id, [
      putRows('layers', layer),
      assign('sheet', this.session.model.settings, 'target', layer.id),
    ]);
  }

  async dropHeld(): Promise<void> {
    const ids = this.held.map((h) => h.id);
    this.setHeld([]);
    await this.session.journal.release(ids);
  }

  private async landHeld(layerId: string, first: Change[]): Promise<void> {
    if (this.held.some((h) => h.beneath)) await this.session.ready;
    // Under its own id a stroke lands once, even where another tab lands it too.
    const made = this.held.map((h) => {
      const { stroke, part } = this.makeStroke(layerId, h.bytes, h.pen, h, h.id);
      // The paper may be another by now.
      return { stroke: { ...stroke, matrix: between(h.on ?? FIRST_FRAME, this.session.frame) }, part };
    });
    const ids = this.held.map((h) => h.id);
    const changes = made.length ? [...first, putRows('strokes', ...made.map((m) => m.stroke))] : first;
    await this.session.act(made.length > 1 ? 'Ink lines' : 'Ink line', changes, { parts: made.map((m) => m.part) });
    this.setHeld([]);
    await this.session.journal.release(ids);
  }

  private setHeld(held: HeldStroke[]): void {
    this.held = held;
    this.session.stage?.setHeld(held.map((h) => ({ bytes: h.bytes, pen: h.pen, colour: h.colour })));
    this.onHeld(held);
  }
}

const LABELS: Record<Form, string> = {
  freehand: 'Ink line',
  bend: 'Ink line',
  points: 'Ink line',
  box: 'Ink box',
  oval: 'Ink oval',
};

/** A form that is smaller than this, CSS px, was not meant. */
const LEAST_FORM_PX = 2;

function isNothing({ nodes }: StrokePath, scale: number): boolean {
  const [{ x, y }] = nodes;
  return nodes.every((one) => Math.hypot(one.x - x, one.y - y) * scale < LEAST_FORM_PX);
}

const filled = (pen: Pen, fill: Fill | undefined): Pen => (fill ? { ...pen, fill } : pen);

/** Whether nothing of a stroke can show on the paper. @param area paper px. */
const isOffPaper = ({ x0, y0, x1, y1 }: Box, paper: PaperSize): boolean =>
  x1 <= 0 || y1 <= 0 || x0 >= paper.widthPx || y0 >= paper.heightPx;

const BASE_NAMES = { rough: 'Rough', ink: 'Lines', colour: 'Colour', text: 'Text', group: 'Group' } as const;

/** A layer for the top of the stack, with a name that is free. */
export function newLayer<K extends keyof typeof BASE_NAMES>(
  session: SheetSession,
  kind: K,
): Extract<Layer, { kind: K }> {
  const layers = [...session.model.layers.values()];
  const name = freeName(BASE_NAMES[kind], session.model.stack());
  const order = orderAbove(layers.map((l) => l.order));
  const layer = { id: nanoid(), deleted: false, name, order, visible: true, locked: false, opacity: 1, kind };
  return layer as unknown as Extract<Layer, { kind: K }>;
}

/** A name that no layer has: with a number behind it, where need be. */
export function freeName(base: string, stack: readonly Layer[]): string {
  const names = new Set(stack.map((l) => l.name));
  let name = cutText(base);
  for (let n = 2; names.has(name); n++) name = `${cutText(base, MAX_NAME - 5)} ${n}`;
  return name;
}
