import { AreaMap, OUTSIDE } from '../areas/area-map';
import type { Rings } from '../geometry/rings';
import { Closing } from '../areas/closing';
import { inkLine, type InkLine } from '../areas/ink-line';
import type { InkLines } from '../areas/ink-lines';
import { grow, type Box } from '../geometry/box';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import { Inside } from './shape-inside';

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

interface Made {
  ink: InkStore;
  key: string;
  /** What the ink counted when its lines were the same as these for the last time. */
  revision: number;
  window: Box;
  isWhole: boolean;
  map: AreaMap;
  lines: readonly InkLine[];
  edge: number;
}

/**
 * Finds the areas that lines enclose. Only the lines around a place are looked at: an area that lies wholly in a window is
 * the same whatever lies outside. The last window is kept until its lines change.
 */
export class AreaFinder {
  private made: Made | undefined;

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
      const found = area === OUTSIDE ? undefined : foundArea(made, area);
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
      const one = foundArea(made, area);
      return made.isWhole || holds(made.window, one.inside.box) ? one : undefined;
    };
    return { map: made.map, found };
  }

  private *windowOver(ink: InkStore, paper: PaperSize, bounds: Bounds, window: Box): Generator<Pause, Made> {
    const key = keyOf(paper, bounds);
    const made = this.madeFor(ink, paper, bounds, window);
    if (made) {
      if (made.revision === ink.revision) return made;
      const { revision } = ink;
      const now = yield* this.linesIn(ink, bounds, made.isWhole ? undefined : made.window);
      if (now.length === made.edge && now.every((line, n) => line === made.lines[n])) {
        made.revision = revision;
        return made;
      }
    }
    const { revision } = ink;
    const isWhole = holds(window, boxOf(paper));
    const lines = yield* this.linesIn(ink, bounds, isWhole ? undefined : window);
    const closing = new Closing(bounds.gapPx);
    yield* closing.follow([...lines, edgeOf(paper)]);
    const map = new AreaMap(closing);
    return (this.made = { ink, key, revision, window, isWhole, map, lines: map.segments.lines, edge: lines.length });
  }

  /** What was made for a window or a larger one; its lines may have changed since. */
  private madeFor(ink: InkStore, paper: PaperSize, bounds: Bounds, window: Box): Made | undefined {
    const { made } = this;
    const fits = made?.ink === ink && made.key === keyOf(paper, bounds) && (made.isWhole || holds(made.window, window));
    return fits ? made : undefined;
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

function foundArea({ map, edge }: Made, area: number): FoundArea {
  const rings = map.ringsOf(area);
  return { rings, inside: new Inside(rings), reachesEdge: map.linesAround(area).has(edge) };
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
