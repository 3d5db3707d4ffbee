import type { Point as Place } from '../geometry/homography';
import { componentsOf, type Components } from '../picture/components';
import type { Picture } from '../picture/warp';
import { lengthOf } from '../geometry/length';
import { closedPath, fittedPath } from '../stroke/fitted-path';
import { flattened, type StrokePath } from '../stroke/path';
import { emptySamples } from '../stroke/samples';
import { Spine, spineFrom } from '../stroke/spine';
import { centreLine, withTips } from './centre-lines';
import { COVERED, coverageOf, within, type Coverage } from './coverage';
import { squaredDistances } from './distance';
import { joinedOverGaps } from './gaps';
import { joined } from './joining';
import { outlinesOf, patchesOf } from './patches';
import { contractBridges, graphOf, pruneSpurs, type Graph, type Point } from './skeleton-graph';
import { straightenStairs, thin } from './thinning';

/** What decides which lines are found. */
export interface TraceRule {
  /** What hangs together and covers less than a disc of this diameter is no line, px. */
  specksPx: number;
  /** What is wider is a solid patch, px; absent: by the lines' own widths. */
  widestPx?: number;
  /** Ends that lie ahead of each other are joined over so much paper, px; absent: by the lines' own widths. */
  gapPx?: number;
  /** Only what lies within; absent: all. */
  loop?: readonly Place[];
}

/** What a picture's ink is, px of the picture: before it is simplified. */
export interface Traced {
  width: number;
  height: number;
  /** The middles of lines with the radii of their ink. */
  lines: Spine[];
  /** Whether each of them goes around. */
  closed: boolean[];
  /** Outlines of solid patches, whole ones with their holes. */
  patches: Place[][];
  /** Middles of what was dropped, with its radius. */
  specks: { x: number; y: number; r: number }[];
  /** Where lines meet. */
  junctions: Place[];
}

/** A line is a patch where it is so many times wider than lines are, and wider than this. */
const PATCH_TIMES = 3.2;
const LEAST_PATCH_PX = 7;
/** Broken lines are joined over so many of their widths. */
const GAP_WIDTHS = 2;

/**
 * Finds the lines of a picture: its ink thinned to middles, joined where it runs on, each with its width.
 * @returns yields the part that is done, 0 to 1.
 */
export function* traced(picture: Picture, { specksPx, widestPx, gapPx, loop }: TraceRule): Generator<number, Traced> {
  const all = coverageOf(picture);
  const coverage = loop ? within(all, loop) : all;
  const { width, height } = coverage;
  yield 0.08;
  const mask = new Uint8Array(width * height);
  for (let i = 0; i < mask.length; i++) if (coverage.data[i] >= COVERED) mask[i] = 1;
  const ink = componentsOf(mask, width, height);
  const specks = takeSpecks(mask, ink, coverage, specksPx);
  yield 0.2;
  const squared = squaredDistances(mask, width, height);
  yield 0.35;
  const typical = typicalWidth(squared, width);
  const widest = widestPx ?? Math.max(LEAST_PATCH_PX, PATCH_TIMES * typical);
  const patches = patchesOf(mask, squared, width, height, widest / 2);
  yield 0.42;
  const padded = withMargin(mask, patches.mask, width, height);
  thin(padded, width + 2);
  straightenStairs(padded, width + 2);
  yield 0.6;
  const radiusAt = (at: number): number => {
    const [x, y] = [(at % (width + 2)) - 1, Math.floor(at / (width + 2)) - 1];
    return Math.max(0.5, Math.sqrt(squared[y * width + x]) - 0.5);
  };
  const graph = graphOf(padded, width + 2, radiusAt);
  pruneSpurs(graph);
  contractBridges(graph);
  pruneSpurs(graph);
  yield 0.7;
  const tipped = joined(graph).map((chain) => withTips(chain, coverage, patches.mask));
  const chains = joinedOverGaps(tipped, gapPx ?? GAP_WIDTHS * typical);
  const lines: Spine[] = [];
  const closed: boolean[] = [];
  for (const [n, chain] of chains.entries()) {
    const line = centreLine(chain, coverage);
    if (line.count) {
      lines.push(line);
      closed.push(chain.closed);
    }
    if (n % 200 === 0) yield 0.7 + (0.25 * n) / chains.length;
  }
  for (const { x, y, r } of dotsOf(ink, graph.dots, mask, patches.mask, padded, width)) {
    lines.push(spineFrom([[x, y, r]]));
    closed.push(false);
  }
  return {
    ...{ width, height, lines, closed, specks },
    patches: patches.count ? outlinesOf(patches, coverage) : [],
    junctions: junctionsOf(graph),
  };
}

const junctionsOf = (graph: Graph): Place[] =>
  [...graph.nodes].flatMap(({ x, y, branches }): Place[] => (branches.size > 2 ? [[x, y]] : []));

/** Takes out of the mask and the coverage what is too small, and tells where it was. */
function takeSpecks(
  mask: Uint8Array,
  { labels, areas }: Components,
  { width, data }: Coverage,
  specksPx: number,
): Traced['specks'] {
  const least = (Math.PI / 4) * specksPx * specksPx;
  const sums = new Map<number, { x: number; y: number }>();
  if (!areas.some((area, label) => label > 0 && area < least)) return [];
  for (let i = 0; i < mask.length; i++) {
    const label = labels[i];
    if (!label || areas[label] >= least) continue;
    const sum = sums.get(label) ?? { x: 0, y: 0 };
    sum.x += (i % width) + 0.5;
    sum.y += Math.floor(i / width) + 0.5;
    sums.set(label, sum);
    mask[i] = 0;
    data[i] = 0;
  }
  return [...sums].map(([label, sum]) => middleOf(sum, areas[label]));
}

/** How wide lines are, px: by the middles of what there is; nothing where there is none. */
function typicalWidth(squared: Float32Array, width: number): number {
  const counts = new Uint32Array(256);
  let total = 0;
  for (let i = width; i < squared.length - width; i++) {
    const d = squared[i];
    // A middle: no neighbour is deeper.
    if (!d || d < squared[i - 1] || d < squared[i + 1] || d < squared[i - width] || d < squared[i + width]) continue;
    counts[Math.min(255, Math.round(2 * Math.sqrt(d)))]++;
    total++;
  }
  let twice = 0;
  for (let sum = 0; total > 0 && twice < 255 && (sum += counts[twice]) < total / 2;) twice++;
  return Math.max(0, twice - 1);
}

/** The mask without its patches, with a margin of a pixel all around. */
function withMargin(mask: Uint8Array, solid: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array((width + 2) * (height + 2));
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, at = (y + 1) * (width + 2) + 1; x < width; x++, i++, at++) out[at] = mask[i] && !solid[i] ? 1 : 0;
  return out;
}

/**
 * Ink that is a dot: as large as it is, about its middle. @param left the dots that thinning has left; of what comes
 * down to a square of two by two it leaves nothing. @param solid what was not thinned.
 */
function dotsOf(
  { labels, areas }: Components,
  left: readonly Point[],
  mask: Uint8Array,
  solid: Uint8Array,
  thinned: Uint8Array,
  width: number,
): Point[] {
  const sums = new Map<number, { x: number; y: number }>();
  const beside: Point[] = [];
  for (const dot of left) {
    const label = labels[Math.floor(dot.y) * width + Math.floor(dot.x)];
    // What is left beside a patch is only a part of its ink.
    if (areas[label] > MOST_DOT * (dot.r + 1) ** 2) beside.push(dot);
    else sums.set(label, { x: 0, y: 0 });
  }
  for (const label of lost(labels, areas, mask, solid, thinned, width)) sums.set(label, { x: 0, y: 0 });
  if (!sums.size) return beside;
  for (let i = 0; i < labels.length; i++) {
    const sum = labels[i] ? sums.get(labels[i]) : undefined;
    if (!sum) continue;
    sum.x += (i % width) + 0.5;
    sum.y += Math.floor(i / width) + 0.5;
  }
  return [...beside, ...[...sums].map(([label, sum]) => middleOf(sum, areas[label]))];
}

/** A dot covers no more than this many times the square of its radius. */
const MOST_DOT = 6;

/** The numbers of what thinning has left nothing of. */
function lost(
  labels: Int32Array,
  areas: Int32Array,
  mask: Uint8Array,
  solid: Uint8Array,
  thinned: Uint8Array,
  width: number,
): number[] {
  // What was dropped before is in no mask.
  const [isFound, isThere] = [new Uint8Array(areas.length), new Uint8Array(areas.length)];
  for (let i = 0, at = width + 3; i < mask.length; at += 2)
    for (let x = 0; x < width; x++, i++, at++) {
      if (!mask[i]) continue;
      isThere[labels[i]] = 1;
      if (thinned[at] || solid[i]) isFound[labels[i]] = 1;
    }
  return [...isThere.keys()].filter((label) => isThere[label] && !isFound[label]);
}

/** The middle of ink, and the radius of a disc as large. */
const middleOf = ({ x, y }: { x: number; y: number }, area: number): Point => ({
  x: x / area,
  y: y / area,
  r: Math.sqrt(area / Math.PI),
});

/** A line as a stroke's path; the widths of its nodes are parts of a size. */
export interface TracedPath {
  path: StrokePath;
  sizePx: number;
}

/** Lines simplified. */
export interface Simplified {
  strokes: TracedPath[];
  /** Nodes in all. */
  points: number;
  /** How far a path lies from its line at most, px. */
  errorPx: number;
}

/** Widths may be off by this much of what places may be, and by so much at least, px. */
const RADIUS_PART = 0.8;
const LEAST_RADIUS_PX = 0.4;
/** A bit less is aimed at: places are rounded, and not all are looked at. */
const AIMED = 0.85;
/** Places nearer to each other than this much of what they may be off are not all looked at. */
const SPACING = 2.6;

/** Lines as paths of few nodes. @param nearPx how far they may lie off, px of the picture. */
export function simplified({ lines, closed }: Traced, nearPx: number): Simplified {
  const near = { px: AIMED * nearPx, radiusPx: Math.max(LEAST_RADIUS_PX, RADIUS_PART * nearPx) };
  const out: Simplified = { strokes: [], points: 0, errorPx: 0 };
  const work = emptySamples();
  lines.forEach((line, n) => {
    let widest = 0;
    for (let i = 0; i < line.count; i++) widest = Math.max(widest, line.data[3 * i + 2]);
    const sizePx = 2 * widest;
    let open = fittedPath(thinnedOut(line, Math.max(1, SPACING * nearPx)), sizePx, near);
    let error = errorOf(line, flattened(open, work), nearPx);
    if (error > nearPx) {
      open = fittedPath(line, sizePx, near);
      error = errorOf(line, flattened(open, work), nearPx);
    }
    out.errorPx = Math.max(out.errorPx, error);
    const path = closed[n] && open.nodes.length > 2 ? closedPath(open) : open;
    out.strokes.push({ path, sizePx });
    out.points += path.nodes.length;
  });
  return out;
}

/** Where a line turns by more within a place it is a corner: that is kept. The cosine. */
const STRAIGHT_COS = 0.9;

/** A line's places at least so far apart, with its ends and corners. */
function thinnedOut({ data, count }: Spine, apartPx: number): Spine {
  const out = new Spine(count);
  let last = -1;
  for (let i = 0; i < count; i++) {
    const [x, y, r] = [data[3 * i], data[3 * i + 1], data[3 * i + 2]];
    const isEnd = i === 0 || i === count - 1;
    if (!isEnd) {
      const [ax, ay] = [x - data[3 * last], y - data[3 * last + 1]];
      const [bx, by] = [data[3 * i + 3] - x, data[3 * i + 4] - y];
      const [a, b] = [lengthOf(ax, ay), lengthOf(bx, by)];
      if (a < apartPx && ax * bx + ay * by > STRAIGHT_COS * a * b) continue;
    }
    out.push(x, y, r);
    last = i;
  }
  return out;
}

/** How far a line's places are from a path at most, px: each is looked for near the last one. */
function errorOf({ data, count }: Spine, path: ReturnType<typeof flattened>, nearPx: number): number {
  const perPx = 2 ** path.unitLog2;
  const [xs, ys] = [path.x, path.y];
  let worst = 0;
  let at = 0;
  const farFrom = (k: number, x: number, y: number): number => {
    const [ax, ay, bx, by] = [xs[k] / perPx, ys[k] / perPx, xs[k + 1] / perPx, ys[k + 1] / perPx];
    const [dx, dy] = [bx - ax, by - ay];
    const length = dx * dx + dy * dy;
    const t = length > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / length)) : 0;
    return lengthOf(ax + t * dx - x, ay + t * dy - y);
  };
  const lengthAt = (k: number) => lengthOf(xs[k + 1] - xs[k], ys[k + 1] - ys[k]) / perPx;
  for (let i = 0; i < count && path.count > 1; i++) {
    const [x, y] = [data[3 * i], data[3 * i + 1]];
    let [best, nearest] = [farFrom(at, x, y), at];
    const gone = i > 0 ? lengthOf(x - data[3 * i - 3], y - data[3 * i - 2]) : 0;
    // To both sides: at a hairpin the nearest one may have been on the other side.
    for (const step of [1, -1])
      for (
        let k = at + step, along = 0;
        k >= 0 && k + 1 < path.count && along < 2 * (best + gone) + LOOK_PX;
        k += step
      ) {
        along += lengthAt(k);
        const far = farFrom(k, x, y);
        if (far >= best) continue;
        [best, nearest] = [far, k];
      }
    // Where lines lie beside themselves the search may have lost its way.
    if (best > nearPx)
      for (let k = 0; k + 1 < path.count; k++) {
        const far = farFrom(k, x, y);
        if (far < best) [best, nearest] = [far, k];
      }
    at = nearest;
    worst = Math.max(worst, best);
  }
  return worst;
}

/** So far further along a path than seems needed the nearest place is looked for. */
const LOOK_PX = 1.5;
