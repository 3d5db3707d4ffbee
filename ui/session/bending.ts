import { nanoid } from 'nanoid';
import { compose, IDENTITY, invert } from '../../core/geometry/matrix';
import type { Stroke } from '../../core/sheet/entities';
import { replacementChanges } from '../../core/sheet/replacing';
import type { CopiedLine } from '../../core/sheet/picking';
import { assign } from '../../core/sheet/steps';
import { fittedPath } from '../../core/stroke/fitted-path';
import { encodePath } from '../../core/stroke/pack-path';
import { decodePath, isPath, MOST_NODES, type NodeKind, type PathNode, type StrokePath } from '../../core/stroke/path';
import type { Pen } from '../../core/stroke/pen';
import {
  closedPath,
  goneOnTo,
  movedPath,
  movedPen,
  nearestOnPath,
  nodeAt,
  pulled,
  untaperedPen,
  withNode,
  withNodeAs,
  withoutNode,
  type NodeChange,
} from '../../core/stroke/pulls';
import type { Spine } from '../../core/stroke/spine';
import { cutEnds, isWhole, standingPart, standsCut, UNCUT, type CutEnds } from '../../core/stroke/cut-ends';
import '../../core/stroke/engine-1/provided';
import { SpineMaker } from '../../core/stroke/spine-maker';
import { answered, pickableLayers } from './pickable';
import type { SheetSession } from './session';

/** A line is touched within so many CSS px of its middle, a node of it within as many. */
const REACH_PX = 16;
/** A movement that is shorter is none, CSS px. */
const STILL_PX = 4;

type Place = { x: number; y: number };

/** A line in the hand, as it lies on the paper. */
interface HeldLine {
  id: string;
  path: StrokePath;
  /** It is drawn with this. */
  pen: Pen;
  erasures: CopiedLine['erasures'];
  /** Its ends that were cut: straight, not round. */
  cut: CutEnds;
}

/** One pull: which node goes, and what the line would be. */
interface Pull {
  path: StrokePath;
  at: number;
  /** The node was there before. */
  isOld: boolean;
  first: Place;
  hasMoved: boolean;
}

/** Pulls a line by its nodes until it lies where it should: each pulled place stays put while others go. */
export class Bending {
  private held: HeldLine | undefined;
  private pull: Pull | undefined;
  private chosen: number | undefined;
  /** What the line in the hand was before and after pulls, by id: an undo brings one of them back. */
  private readonly known = new Map<string, HeldLine>();
  private readonly listeners = new Set<() => void>();

  /** @param tell says to the artist why nothing happened. */
  constructor(
    private readonly session: SheetSession,
    private readonly tell: (text: string) => void,
  ) {}

  /** Tells when something else is in the hand, or has another shape. @returns stops telling. */
  watchShown(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** The nodes of the line in the hand, paper px; undefined: none is in the hand. */
  get nodes(): readonly PathNode[] | undefined {
    return (this.pull?.path ?? this.held?.path)?.nodes;
  }

  /** The node that was touched last: something can be said of it. */
  get chosenNode(): number | undefined {
    return this.chosen;
  }

  // ---- what is in the hand

  /** Takes a line into the hand that has just been drawn. */
  hold({ id, pen }: Stroke, path: StrokePath): void {
    this.chosen = undefined;
    this.known.clear();
    this.take({ id, path, pen, erasures: [], cut: UNCUT });
  }

  /** Chooses the next node of the line in the hand, or the first. */
  chooseNext(): void {
    const count = this.held?.path.nodes.length ?? 0;
    if (!count) return;
    this.chosen = this.chosen === undefined ? 0 : (this.chosen + 1) % count;
    this.tellShown();
  }

  /** Takes a line into the hand: one that was drawn by hand, as a path of few nodes. @returns whether it can be. */
  async holdLine(id: string): Promise<boolean> {
    const [copy] = await this.answer(() => this.session.client.copiesOf([id]), []);
    if (!copy) return false;
    this.chosen = undefined;
    this.known.clear();
    this.take(heldLine(copy));
    return true;
  }

  /** {@link holdLine}, of the line at a place; where there is none, the one in the hand is let go. */
  async holdAt({ x, y }: Place): Promise<void> {
    const layers = pickableLayers(this.session).map(({ id }) => id);
    const id = await this.answer(() => this.session.client.lineAt(layers, x, y, REACH_PX / this.scale), undefined);
    if (id !== undefined && (await this.holdLine(id))) return;
    this.release();
  }

  release(): void {
    if (!this.held) return;
    this.drop();
    this.held = this.chosen = undefined;
    this.known.clear();
    this.tellShown();
  }

  /** The sheet has changed: a line that is gone is let go, one that an undo has brought back is taken again. */
  refresh(): void {
    if (!this.held || this.pull) return;
    if (this.stands(this.held.id)) return;
    const back = [...this.known.values()].reverse().find(({ id }) => this.stands(id));
    this.chosen = undefined;
    if (back) this.take(back);
    else this.release();
  }

  private stands(id: string): boolean {
    return this.session.model.strokes.get(id)?.deleted === false;
  }

  private take(line: HeldLine): void {
    this.held = line;
    this.known.delete(line.id);
    this.known.set(line.id, line);
    this.tellShown();
  }

  // ---- pulls

  /** Whether a touch there pulls the line in the hand. */
  reaches(at: Place): boolean {
    if (!this.held) return false;
    const { path } = this.held;
    const reach = REACH_PX / this.scale;
    return nodeAt(path, at, reach) !== undefined || nearestOnPath(path, at).away <= reach;
  }

  /** A touch that {@link reaches} it: the place there goes along. */
  begin(at: Place): void {
    const { held } = this;
    if (!held || !this.stands(held.id)) return;
    const node = nodeAt(held.path, at, REACH_PX / this.scale);
    if (node === undefined && held.path.nodes.length >= MOST_NODES) return;
    const made = node === undefined ? withNode(held.path, nearestOnPath(held.path, at)) : { path: held.path, at: node };
    this.pull = { ...made, isOld: node !== undefined, first: at, hasMoved: false };
    this.chosen = made.at;
    this.tellShown();
  }

  /** Goes on to one more node, which is pulled as long as the pen is down. */
  goOn(to: Place, kind: NodeKind): void {
    const { held } = this;
    if (!held || !this.stands(held.id) || held.path.nodes.length >= MOST_NODES) return;
    const path = goneOnTo(held.path, to, kind);
    const at = path.nodes.length - 1;
    this.pull = { path, at, isOld: false, first: to, hasMoved: true };
    this.chosen = at;
    this.draw(held);
    this.session.stage?.redrawPath(path);
    this.tellShown();
  }

  move(to: Place): void {
    const { pull, held } = this;
    if (!pull || !held) return;
    if (!pull.hasMoved) {
      if (Math.hypot(to.x - pull.first.x, to.y - pull.first.y) * this.scale < STILL_PX) return;
      pull.hasMoved = true;
      this.draw(held);
    }
    pull.path = pulled(pull.path, pull.at, to);
    this.session.stage?.redrawPath(pull.path);
    this.tellShown();
  }

  /**
   * What was pulled stays so.
   * @param tapped what a touch of a node that does not move it does, beside choosing it.
   * @returns when that is on this device's disk.
   */
  async end(tapped: (at: number) => Promise<void> | void = () => {}): Promise<void> {
    const { pull, held } = this;
    this.pull = undefined;
    if (!pull || !held) return;
    if (pull.hasMoved) return this.keep(held, pull.path, 'Bend line');
    if (pull.isOld) await tapped(pull.at);
    else this.chosen = undefined;
    this.tellShown();
  }

  drop(): void {
    const { pull, held } = this;
    this.pull = undefined;
    if (!pull || !held) return;
    if (pull.hasMoved) {
      this.session.stage?.discardStroke();
      const stroke = this.session.model.strokes.get(held.id);
      if (stroke) void this.session.preview([assign('strokes', stroke, 'deleted', stroke.deleted)]);
    }
    this.tellShown();
  }

  // ---- what is said of nodes

  /** Says something of the node that was touched last. */
  async change(how: NodeChange, label: string): Promise<void> {
    const { held, chosen } = this;
    if (held && chosen !== undefined) await this.keep(held, withNodeAs(held.path, chosen, how), label);
  }

  /** Moves the node that was touched last, paper px. */
  async nudge(dx: number, dy: number): Promise<void> {
    const { held, chosen } = this;
    if (!held || chosen === undefined) return;
    const { x, y } = held.path.nodes[chosen];
    await this.keep(held, pulled(held.path, chosen, { x: x + dx, y: y + dy }), 'Move point');
  }

  /** Takes away the node that was touched last; of the last two none goes. */
  async takeAway(): Promise<void> {
    const { held, chosen } = this;
    if (!held || chosen === undefined || held.path.nodes.length < 3) return;
    this.chosen = undefined;
    await this.keep(held, withoutNode(held.path, chosen), 'Take a point away');
  }

  /** The line goes on from its last node to its first, and is done. */
  async close(): Promise<void> {
    const { held } = this;
    if (held) await this.keep({ ...held, cut: UNCUT }, closedPath(held.path), 'Close line');
    this.release();
  }

  // ---- ink

  /** From now on the line is drawn wet, and not as it was. */
  private draw({ id, pen }: HeldLine): void {
    const { stage, model } = this.session;
    const stroke = model.strokes.get(id);
    if (!stage || !stroke) return;
    stage.beginStroke(pen, stroke.colour, { layerId: stroke.layerId, erases: false });
    void this.session.preview([assign('strokes', stroke, 'deleted', true)]);
  }

  private async keep(held: HeldLine, path: StrokePath, label: string): Promise<void> {
    const { stage, model } = this.session;
    const leftover = stage?.endStroke()?.leftover;
    const stroke = model.strokes.get(held.id);
    if (!stroke || stroke.deleted) {
      if (leftover) stage.forget(leftover);
      return;
    }
    const whole = { ...stroke, pen: held.pen, matrix: IDENTITY };
    // What erased it lies where it did, though the line itself has no matrix now.
    const back = invert(stroke.matrix);
    const erasures = held.erasures.map((one) => ({ ...one, then: compose(one.then, back) }));
    const bytes = encodePath(path);
    const stands = standsCut(bytes, held.cut);
    const { changes, parts } = replacementChanges(whole, { bytes, stands, erasures }, nanoid);
    const [[id]] = parts;
    this.take({ ...held, id, path, erasures });
    await this.session.act(label, changes, { parts, leftover });
  }

  private get scale(): number {
    return this.session.stage?.view.scale ?? 1;
  }

  private answer<T>(ask: () => Promise<T>, otherwise: T): Promise<T> {
    return answered(this.session, this.tell, ask, otherwise);
  }

  private tellShown(): void {
    for (const listener of this.listeners) listener();
  }
}

function widest({ data, count }: Spine): number {
  let most = 0;
  for (let at = 2; at < 3 * count; at += 3) most = Math.max(most, data[at]);
  return most;
}

const maker = new SpineMaker();
/** How finely lines are looked at that are made into nodes, paper px. */
const FINE_PX = 0.1;

/** A line with its nodes, as it lies on the paper. */
function heldLine({ stroke, bytes, erasures }: CopiedLine): HeldLine {
  const { id, matrix, engine, pen, stands } = stroke;
  const cut = cutEnds(bytes, stands);
  if (isPath(bytes) && isWhole(bytes, stands))
    return { id, path: movedPath(decodePath(bytes), matrix), pen: movedPen(pen, matrix), erasures, cut };
  const measured = maker.measured(bytes, pen, engine, FINE_PX);
  const spine = stands ? standingPart(measured, stands) : measured.spine;
  // A pencil that lay down was wider than its size.
  const sizePx = Math.max(pen.sizePx, 2 * widest(spine));
  const own = fittedPath(spine, sizePx);
  return { id, path: movedPath(own, matrix), pen: movedPen({ ...untaperedPen(pen), sizePx }, matrix), erasures, cut };
}
