import { nanoid } from 'nanoid';
import { compose, IDENTITY, invert } from '../../core/geometry/matrix';
import type { Stroke } from '../../core/sheet/entities';
import { mendingChanges } from '../../core/sheet/mending';
import type { CopiedLine } from '../../core/sheet/picking';
import type { Assign } from '../../core/sheet/steps';
import { decodePath, encodePath, isPath, type StrokePath } from '../../core/stroke/path';
import { movedPath, movedPen, nearestOnPath, nodeAt, pulled, withNode, withoutNode } from '../../core/stroke/pulls';
import { answered, pickableLayers } from './pickable';
import type { SheetSession } from './session';

/** A line is touched within so many CSS px of its middle, a place where it is pulled within as many. */
const REACH_PX = 16;
/** A movement that is shorter is none, CSS px. */
const STILL_PX = 4;

type Place = { x: number; y: number };

/** A line in the hand, as it lies on the paper. */
interface HeldLine {
  id: string;
  path: StrokePath;
  erasures: CopiedLine['erasures'];
}

/** One pull: which node goes, from where, and what the line would be. */
interface Pull {
  path: StrokePath;
  at: number;
  /** The node was there before: a touch that does not move takes it away. */
  isOld: boolean;
  first: Place;
  hasMoved: boolean;
}

/** Pulls a line that was set by its nodes until it lies where it should: each pulled place stays put while others go. */
export class Bending {
  private held: HeldLine | undefined;
  private pull: Pull | undefined;
  /** What lines in the hand were before and after pulls, by id: an undo brings one of them back. */
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

  /** Where the line in the hand is held, paper px; undefined: none is in the hand. */
  get nodes(): readonly Place[] | undefined {
    return (this.pull?.path ?? this.held?.path)?.nodes;
  }

  /** Takes a line into the hand that has just been drawn. */
  hold({ id }: Stroke, path: StrokePath): void {
    this.take({ id, path, erasures: [] });
  }

  /** Takes the line at a place into the hand; says so where it was drawn by hand. */
  async holdAt({ x, y }: Place): Promise<void> {
    const reach = REACH_PX / this.scale;
    for (const { id } of pickableLayers(this.session)) {
      const { client } = this.session;
      const near = await this.answer(() => client.linesNear(id, x, y, reach), []);
      const nearest = near.reduce<(typeof near)[number] | undefined>(
        (a, b) => (a && a.gap <= b.gap ? a : b),
        undefined,
      );
      if (!nearest) continue;
      const [copy] = await this.answer(() => client.copiesOf([nearest.id]), []);
      if (!copy) continue;
      if (!isPath(copy.bytes) || copy.stroke.stands) return this.tell(BY_HAND);
      const path = movedPath(decodePath(copy.bytes), copy.stroke.matrix);
      return this.take({ id: copy.stroke.id, path, erasures: copy.erasures });
    }
    this.release();
  }

  release(): void {
    if (!this.held) return;
    this.drop();
    this.held = undefined;
    this.tellShown();
  }

  /** The sheet has changed: a line that is gone is let go, one that an undo has brought back is taken again. */
  refresh(): void {
    if (!this.held || this.pull) return;
    const stands = (id: string) => this.session.model.strokes.get(id)?.deleted === false;
    if (stands(this.held.id)) return;
    const back = [...this.known.values()].reverse().find(({ id }) => stands(id));
    if (back) this.take(back);
    else this.release();
  }

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
    const stroke = held && this.session.model.strokes.get(held.id);
    if (!held || !stroke) return;
    const node = nodeAt(held.path, at, REACH_PX / this.scale);
    const made = node === undefined ? withNode(held.path, nearestOnPath(held.path, at)) : { path: held.path, at: node };
    this.pull = { ...made, isOld: node !== undefined, first: at, hasMoved: false };
  }

  move(to: Place): void {
    const { pull, held } = this;
    if (!pull || !held) return;
    if (!pull.hasMoved) {
      if (Math.hypot(to.x - pull.first.x, to.y - pull.first.y) * this.scale < STILL_PX) return;
      pull.hasMoved = true;
      this.show(held.id);
    }
    pull.path = pulled(pull.path, pull.at, to);
    this.session.stage?.redrawPath(pull.path);
    this.tellShown();
  }

  /** What was pulled stays so. @returns when that is on this device's disk. */
  async end(): Promise<void> {
    const { pull, held } = this;
    this.pull = undefined;
    if (!pull || !held) return;
    const isInner = pull.at > 0 && pull.at < pull.path.nodes.length - 1;
    if (pull.hasMoved) return this.keep(held, pull.path, 'Bend line');
    if (pull.isOld && (isInner || pull.path.closed))
      return this.keep(held, withoutNode(pull.path, pull.at), 'Take a bend away');
    this.tellShown();
  }

  drop(): void {
    const { pull, held } = this;
    this.pull = undefined;
    if (!pull || !held) return;
    if (pull.hasMoved) {
      this.session.stage?.discardStroke();
      void this.session.preview([this.deletedOf(held.id, false)]);
    }
    this.tellShown();
  }

  /** From now on the line is drawn wet, and not as it was. */
  private show(id: string): void {
    const { stage } = this.session;
    const stroke = this.session.model.strokes.get(id);
    if (!stage || !stroke) return;
    stage.beginStroke(movedPen(stroke.pen, stroke.matrix), stroke.colour, { layerId: stroke.layerId, erases: false });
    void this.session.preview([this.deletedOf(id, true)]);
  }

  private async keep(held: HeldLine, path: StrokePath, label: string): Promise<void> {
    const { stage, model } = this.session;
    const leftover = stage?.endStroke()?.leftover;
    const stroke = model.strokes.get(held.id);
    if (!stroke || stroke.deleted) return;
    const whole = { ...stroke, pen: movedPen(stroke.pen, stroke.matrix), matrix: IDENTITY };
    // What erased it lies where it did, though the line itself has no matrix now.
    const back = invert(stroke.matrix);
    const erasures = held.erasures.map((one) => ({ ...one, then: compose(one.then, back) }));
    const { changes, parts } = mendingChanges({ bytes: encodePath(path), erasures }, whole, nanoid);
    const [[id]] = parts;
    this.take({ id, path, erasures });
    await this.session.act(label, changes, { parts, leftover });
  }

  private take(line: HeldLine): void {
    this.held = line;
    this.known.delete(line.id);
    this.known.set(line.id, line);
    this.tellShown();
  }

  private deletedOf(id: string, deleted: boolean): Assign {
    return { op: 'set', table: 'strokes', field: 'deleted', ids: [id], before: [!deleted], after: [deleted] };
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

const BY_HAND =
  'This line was drawn by hand or has been cut, so it has no places to pull yet. Mend draws a part of it anew.';
