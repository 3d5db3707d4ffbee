import type { PathCommand } from 'opentype.js';
import type { Label, LabelWords } from '../sheet/entities';
import { plainNode, type PathNode, type StrokePath } from '../stroke/path';
import { LABEL_PX } from './label-size';
import type { Letters } from './set-line';

/** A label's letters where they belong: the first line's baseline at 0, the line's beginning, middle or end at 0. */
export interface LaidLabel {
  /** Closed curves, letter by letter; what one winds around is ink, by the nonzero rule. */
  contours: PathNode[][][];
  box: Label['box'];
}

/** Lays out the letters of a label. Lines that are empty take their place. */
export function laidLabel(letters: Letters, { text, align, spacing }: LabelWords): LaidLabel {
  const contours: PathNode[][][] = [];
  let [x0, x1] = [Infinity, -Infinity];
  const lines = text.split('\n');
  lines.forEach((words, n) => {
    const line = letters.set(words);
    const width = line.width * LABEL_PX;
    const left = align === 'left' ? 0 : align === 'right' ? -width : -width / 2;
    [x0, x1] = [Math.min(x0, left), Math.max(x1, left + width)];
    for (const { glyph, x } of line.letters) {
      const found = contoursOf(letters.outlines(glyph, left + x * LABEL_PX, n * spacing * LABEL_PX, LABEL_PX));
      if (found.length) contours.push(found);
    }
  });
  const y1 = ((lines.length - 1) * spacing + letters.below) * LABEL_PX;
  return { contours, box: [x0, -letters.above * LABEL_PX, x1, y1] };
}

/** Closed curves of an outline, each without its last node where that is its first again. */
function contoursOf(commands: readonly PathCommand[]): PathNode[][] {
  const all: PathNode[][] = [];
  let nodes: PathNode[] = [];
  const end = () => {
    const [first, last] = [nodes[0], nodes[nodes.length - 1]];
    if (nodes.length > 1 && first.x === last.x && first.y === last.y) {
      [first.inX, first.inY] = [last.inX, last.inY];
      nodes.pop();
    }
    if (nodes.length > 1) all.push(nodes);
    nodes = [];
  };
  const curve = (x1: number, y1: number, x2: number, y2: number, x: number, y: number) => {
    const before = nodes[nodes.length - 1];
    [before.outX, before.outY] = [x1 - before.x, y1 - before.y];
    nodes.push({ ...plainNode(x, y, 'corner'), inX: x2 - x, inY: y2 - y });
  };
  for (const c of commands) {
    if (c.type === 'M') {
      end();
      nodes.push(plainNode(c.x, c.y, 'corner'));
    } else if (c.type === 'L') nodes.push(plainNode(c.x, c.y, 'corner'));
    else if (c.type === 'C') curve(c.x1, c.y1, c.x2, c.y2, c.x, c.y);
    else if (c.type === 'Q') {
      // A parabola as a cubic is exact.
      const { x, y } = nodes[nodes.length - 1];
      const third = (from: number, q: number) => from + (2 / 3) * (q - from);
      curve(third(x, c.x1), third(y, c.y1), third(c.x, c.x1), third(c.y, c.y1), c.x, c.y);
    } else end();
  }
  end();
  return all.map((ring) => ring.map(smoothed));
}

/** The cosine of a turn that is none. */
const STRAIGHT = Math.cos((2 * Math.PI) / 180);

function smoothed(node: PathNode): PathNode {
  const { inX, inY, outX, outY } = node;
  const long = Math.hypot(inX, inY) * Math.hypot(outX, outY);
  return long > 0 && -(inX * outX + inY * outY) / long > STRAIGHT ? { ...node, kind: 'smooth' } : node;
}

/**
 * Closed curves as one: straight from each to the next and, in the end, back the same way. What is between there and back
 * encloses nothing and has no width, so that it is drawn neither filled nor as a line. Where it comes by a curve again it is
 * as wide as that for a moment: so no place of it is left out, however coarsely the line is drawn.
 * @returns undefined where there is nothing to be drawn.
 */
export function joinedContours(contours: readonly (readonly PathNode[])[]): StrokePath | undefined {
  if (!contours.length) return undefined;
  const nodes: PathNode[] = [];
  const at = ({ x, y }: PathNode, width: number) => nodes.push(plainNode(x, y, 'corner', width));
  contours.forEach((ring, n) => {
    const [first] = ring;
    if (n > 0) at(first, 0);
    nodes.push({ ...first, kind: 'corner', inX: 0, inY: 0 }, ...ring.slice(1));
    nodes.push({ ...first, kind: 'corner', outX: 0, outY: 0 });
    if (contours.length > 1) at(first, 0);
  });
  for (let n = contours.length - 2; n >= 0; n--) {
    const [first] = contours[n];
    at(first, 0);
    if (n > 0) nodes.push(plainNode(first.x, first.y, 'corner', 1), plainNode(first.x, first.y, 'corner', 0));
  }
  return { closed: true, nodes };
}
