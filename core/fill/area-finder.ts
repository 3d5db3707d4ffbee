import { AreaMap, OUTSIDE } from '../areas/area-map';
import type { Rings } from '../geometry/rings';
import { Closing, type Gap } from '../areas/closing';
import { inkLine, type InkLine } from '../areas/ink-line';
import type { InkLines } from '../areas/ink-lines';
import { grow, intersection, isEmpty, type Box } from '../geometry/box';
import type { InkStore } from '../sheet/ink-store';
import { BREATH, finish, type Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import { KnownShapes } from './known-shapes';
import type { Inside } from './shape-inside';

/** What closes shapes: the lines of some layers, and gaps up to so many px between them. */
export interface Bounds {
  against: readonly string[];
  gapPx: number;
}

/** An area between lines. */
export interface FoundArea {
  rings: Rings;
  inside: Inside;
  /** The paper's edge is a part of its border. */
  reachesEdge: boolean;
  /** The lines around it, by their numbers; the paper's edge has no id. */
  lines: readonly InkLine[];
  /** The gaps between them that its border goes over. */
  gaps(): Gap[];
}

/** Colour goes so far beyond the paper, px: its edge is covered wholly. */
const BEYOND_PX = 2;
/** The first window around a place has so much of the paper's longer side to each side, and so many px at least. */
const FIRST_PART = 1 / 12;
const LEAST_PX = 160;
/** A window of fewer strokes is too small, if the next has fewer than so many. */
const FEW = 100;
const FEW_AFTER = 400;
/** Lines a little outside a window decide what their ends meet within it, in gaps and px. */
const MARGIN_GAPS = 3;
const MARGIN_PX = 24;

/** What is made of the lines in a window, and followed from edit to edit. */
interface Made {
  ink: InkStore;
  key: string;
  window: Box;
  isWhole: boolean;
  closing: Closing;
  /** The paper's edge, the last of the lines. */
  edge: InkLine;
  /** How many lines there are, with the edge. */
  count: number;
  /** What the ink counted when its lines were these for the last time. */
  revision: number;
  map: AreaMap;
  /** What of that was begun, and left off. */
  work: Generator<Pause, void> | undefined;
}

/** Windows are kept while they have so many lines together; the one that was used last is, however many it has. */
const MOST_LINES = 20_000;
/** Of a window that is so much of the paper all lines are looked at. */
const MOST_PART = 0.3;

/**
 * Finds the areas that lines enclose. Only the lines around a place are looked at: an area that lies wholly in a window is
 * the same whatever lies outside. Windows are kept: after an edit only what lies at the lines that changed is looked at anew.
 * What was found is true until the next is looked for: one thing after the other.
 */
export class AreaFinder {
  /** Of borders that were looked at. */
  shapes = new KnownShapes();
  /** The one that was used last is the last. */
  private windows: Made[] = [];

  constructor(private readonly kept: InkLines) {}

  /** The area around a place; undefined: it lies on no paper. */
  *around(
    ink: InkStore,
    paper: PaperSize,
    bounds: Bounds,
    x: number,
    y: number,
  ): Generator<Pause, FoundArea | undefined> {
    const first = Math.max(LEAST_PX, FIRST_PART * Math.max(paper.widthPx, paper.heightPx));
    for (let half = first; ; half *= 2) {
      const window = windowAround(x, y, half);
      const isAtHand = this.madeFor(ink, paper, bounds, window) || holds(window, boxOf(paper));
      // Of few lines a larger window costs little more, and more often has all that is needed.
      const next = windowAround(x, y, 2 * half);
      if (!isAtHand && hasFewer(FEW, ink, bounds, window) && hasFewer(FEW_AFTER, ink, bounds, next)) continue;
      const made = yield* this.windowOver(ink, paper, bounds, window);
      const area = made.map.areaAt(x, y);
      if (area === OUTSIDE && made.isWhole) return undefined;
      const found = area === OUTSIDE ? undefined : foundArea(made, area, this.shapes);
      if (found && (made.isWhole || holds(made.window, found.inside.box))) return found;
    }
  }

  /** The areas of all the paper, or of those of a part of it that lie wholly within it. */
  *within(
    ink: InkStore,
    paper: PaperSize,
    bounds: Bounds,
    window = boxOf(paper),
  ): Generator<Pause, { map: AreaMap; found(area: number): FoundArea | undefined }> {
    const made = yield* this.windowOver(ink, paper, bounds, window);
    const found = (area: number) => {
      const one = foundArea(made, area, this.shapes);
      return made.isWhole || holds(made.window, one.inside.box) ? one : undefined;
    };
    return { map: made.map, found };
  }

  private *windowOver(ink: InkStore, paper: PaperSize, bounds: Bounds, window: Box): Generator<Pause, Made> {
    const known = this.madeFor(ink, paper, bounds, window);
    if (known?.revision === ink.revision) return this.used(known);
    const made = this.used(known ?? newWindow(ink, paper, bounds, window));
    // What was begun before goes on where it was left.
    if (made.work) yield* goOn(made);
    while (made.revision !== ink.revision) {
      const { revision } = ink;
      const lines = yield* this.linesIn(ink, bounds, made.isWhole ? undefined : made.window);
      made.work = follow(made, lines, revision);
      yield* goOn(made);
    }
    return this.used(made);
  }

  /** It was used last; those that were not for long are let go. */
  private used(made: Made): Made {
    // One that lies in this one is looked up in this one from now on.
    const isLeftOut = (one: Made) => one.ink !== made.ink || (one.key === made.key && holds(made.window, one.window));
    const windows = this.windows.filter((one) => !isLeftOut(one));
    windows.push(made);
    let lines = windows.reduce((sum, { count }) => sum + count, 0);
    while (windows.length > 1 && lines > MOST_LINES) lines -= windows.shift()!.count;
    this.windows = windows;
    return made;
  }

  /** Nothing is kept any more. */
  forget(): void {
    this.windows = [];
    this.shapes = new KnownShapes();
  }

  /** A window, or a larger one, that is there; its lines may have changed since. */
  private madeFor(ink: InkStore, paper: PaperSize, bounds: Bounds, window: Box): Made | undefined {
    const key = keyOf(paper, bounds);
    const fits = (one: Made) => one.ink === ink && one.key === key && (one.isWhole || holds(one.window, window));
    return this.windows.findLast(fits);
  }

  private linesIn(ink: InkStore, { against, gapPx }: Bounds, window: Box | undefined): Generator<Pause, InkLine[]> {
    return this.kept.of(ink, against, window && grow(window, MARGIN_GAPS * gapPx + MARGIN_PX));
  }
}

/** The paper's edge as a line. */
function edgeOf({ widthPx, heightPx }: PaperSize): InkLine {
  const [x0, y0, x1, y1] = [-BEYOND_PX, -BEYOND_PX, widthPx + BEYOND_PX, heightPx + BEYOND_PX];
  return inkLine('', '', Float64Array.of(x0, y0, 0, x1, y0, 0, x1, y1, 0, x0, y1, 0, x0, y0, 0));
}

/** Brings a window up to the lines of a revision. */
function* follow(made: Made, lines: readonly InkLine[], revision: number): Generator<Pause, void> {
  made.count = lines.length + 1;
  if (yield* made.closing.follow([...lines, made.edge])) {
    yield BREATH;
    made.map = yield* AreaMap.of(made.closing);
    yield BREATH;
  }
  made.revision = revision;
}

/** Unlike `yield*`, it does not end the work where it is left off. */
function* goOn(made: Made): Generator<Pause, void> {
  for (let step = made.work!.next(); !step.done; step = made.work!.next()) yield step.value;
  made.work = undefined;
}

/** A window whose lines are still to come. */
function newWindow(ink: InkStore, paper: PaperSize, bounds: Bounds, window: Box): Made {
  const all = boxOf(paper);
  const isWhole = areaOf(intersection(window, all)) > MOST_PART * areaOf(all);
  const closing = new Closing(bounds.gapPx);
  return {
    ...{ ink, key: keyOf(paper, bounds), window: isWhole ? all : window, isWhole, closing, edge: edgeOf(paper) },
    ...{ count: 0, revision: NaN, map: finish(AreaMap.of(closing)), work: undefined },
  };
}

const areaOf = (box: Box): number => (isEmpty(box) ? 0 : (box.x1 - box.x0) * (box.y1 - box.y0));

function foundArea({ map, edge }: Made, area: number, shapes: KnownShapes): FoundArea {
  const rings = map.ringsOf(area);
  const { lines } = map.segments;
  const reachesEdge = map.isBeside(area, lines.indexOf(edge));
  return { rings, inside: shapes.insideOf(rings), reachesEdge, lines, gaps: () => map.gapsOf(area) };
}

const windowAround = (x: number, y: number, half: number): Box => ({
  x0: x - half,
  y0: y - half,
  x1: x + half,
  y1: y + half,
});

const hasFewer = (count: number, ink: InkStore, { against }: Bounds, box: Box): boolean =>
  against.reduce((sum, layerId) => sum + ink.find(layerId, box).length, 0) < count;

const keyOf = (paper: PaperSize, bounds: Bounds): string => JSON.stringify([paper, bounds]);

/** All of the paper. */
export const boxOf = ({ widthPx, heightPx }: PaperSize): Box => ({ x0: 0, y0: 0, x1: widthPx, y1: heightPx });

const holds = (a: Box, b: Box): boolean => a.x0 <= b.x0 && a.y0 <= b.y0 && a.x1 >= b.x1 && a.y1 >= b.y1;
