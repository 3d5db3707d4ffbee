import type { Point } from '../geometry/homography';
import { scaling } from '../geometry/matrix';
import { pathData } from '../formats/svg-path';
import { inkOutline } from '../stroke/nib-outline';
import { OutlineWorkspace } from '../stroke/outline';
import { flattened, type StrokePath } from '../stroke/path';
import { movedPath } from '../stroke/pulls';
import { emptySamples, PRESSURE_MAX } from '../stroke/samples';
import { Spine } from '../stroke/spine';
import { patchPaths } from './patch-paths';
import { simplified, type Traced, type TracedPath } from './trace';

/** What a page comes to, to be looked at and kept: px of the page. */
export interface TracedPage {
  strokes: TracedPath[];
  /** Solid patches as closed paths. */
  patches: StrokePath[];
  /** Middles of what was dropped, with radii: three values each. */
  specks: Float32Array;
  /** Nodes of lines and patches, two values each. */
  nodes: Float32Array;
  /** How far a line lies from its ink's middle at most. */
  errorPx: number;
  junctions: number;
  /** Path data of all lines' outlines, and of all patches, in px of the picture that was traced; `scale` of those to one of the page. */
  lineShape: string;
  patchShape: string;
  scale: number;
}

/** How finely outlines are made, px of the picture that was traced. */
const OUTLINE_PX = 0.25;

/**
 * The traced lines simplified, in px of the page.
 * @param scale px of the picture that was traced to one of the page. @param nearPx px of the page.
 */
export function tracedPage(traced: Traced, scale: number, nearPx: number): TracedPage {
  const { strokes, errorPx } = simplified(traced, nearPx * scale);
  const patches = patchPaths(traced.patches, Math.max(0.5, nearPx * scale));
  const toPage = scaling(1 / scale);
  const page = {
    strokes: strokes.map(({ path, sizePx }) => ({ path: movedPath(path, toPage), sizePx: sizePx / scale })),
    patches: patches.map((path) => movedPath(path, toPage)),
  };
  const nodes = [...page.strokes.map(({ path }) => path), ...page.patches].flatMap((path) => path.nodes);
  return {
    ...page,
    specks: Float32Array.from(traced.specks.flatMap(({ x, y, r }) => [x / scale, y / scale, r / scale])),
    nodes: Float32Array.from(nodes.flatMap(({ x, y }) => [x, y])),
    errorPx: errorPx / scale,
    junctions: traced.junctions.length,
    lineShape: shapeOf(strokes),
    patchShape: patches.map(dataOf).join(''),
    scale,
  };
}

function shapeOf(strokes: readonly TracedPath[]): string {
  const work = new OutlineWorkspace();
  const samples = emptySamples();
  const parts: string[] = [];
  for (const { path, sizePx } of strokes) {
    const { x, y, pressure, count, unitLog2 } = flattened(path, samples);
    const spine = new Spine(count);
    const perPx = 2 ** unitLog2;
    for (let i = 0; i < count; i++) spine.push(x[i] / perPx, y[i] / perPx, ((pressure[i] / PRESSURE_MAX) * sizePx) / 2);
    parts.push(pathData(inkOutline(spine, OUTLINE_PX, work)));
  }
  return parts.join('');
}

function dataOf({ nodes }: StrokePath): string {
  const at = (x: number, y: number) => `${x.toFixed(2)} ${y.toFixed(2)}`;
  const [first] = nodes;
  const curves = nodes.map((a, i) => {
    const b = nodes[(i + 1) % nodes.length];
    return `C${at(a.x + a.outX, a.y + a.outY)} ${at(b.x + b.inX, b.y + b.inY)} ${at(b.x, b.y)}`;
  });
  return `M${at(first.x, first.y)}${curves.join('')}Z`;
}

/** A loop on the page, px of the picture that was traced. */
export const loopAt = (loop: readonly Point[], scale: number): Point[] => loop.map(([x, y]) => [x * scale, y * scale]);
