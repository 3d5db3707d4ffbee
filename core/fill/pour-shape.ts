import { type Rings, ringsSize } from '../geometry/rings';
import { apply, invert, type Matrix } from '../geometry/matrix';
import { encodePath, MOST_NODES, type StrokePath } from '../stroke/path';
import { pourPath } from './pour-path';
import { Inside, type Place } from './shape-inside';

/** An area that can be poured. */
export interface PourShape {
  /** Its packed path, to be kept as a stroke's samples. */
  bytes: Uint8Array;
  seed: Place;
  /** px2. */
  size: number;
}

/**
 * An area as the shape of a pour.
 * @param seed a place in it. @param matrix of the stroke that it is the shape of.
 * @returns undefined: it has no breadth, or its border is beyond what a path can hold.
 */
export function pourShape(rings: Rings, seed: Place, matrix?: Matrix): PourShape | undefined {
  const path = pourPath(rings);
  if (!path || path.nodes.length > MOST_NODES) return undefined;
  const size = ringsSize(rings);
  return size > 0 ? { bytes: encodePath(matrix ? moved(path, invert(matrix)) : path), seed, size } : undefined;
}

function moved({ closed, nodes }: StrokePath, matrix: Matrix): StrokePath {
  const [a, b, c, d] = matrix;
  const turned = (x: number, y: number): Place => [a * x + c * y, b * x + d * y];
  return {
    closed,
    nodes: nodes.map((node) => {
      const [x, y] = apply(matrix, node.x, node.y);
      const [inX, inY] = turned(node.inX, node.inY);
      const [outX, outY] = turned(node.outX, node.outY);
      return { ...node, x, y, inX, inY, outX, outY };
    }),
  };
}

/** A place well within a shape: of those that are spread over it the one that is farthest from its border in its row. */
export function placeWithin(rings: Rings): Place | undefined {
  const inside = new Inside(rings);
  const places = inside.places();
  if (!places.length) return undefined;
  const { x0, x1, y0, y1 } = inside.box;
  const reach = Math.max(x1 - x0, y1 - y0) / 24;
  let best: Place = places[0];
  let most = -1;
  for (const [x, y] of places) {
    let room = 0;
    for (const [dx, dy] of DIRECTIONS)
      for (let k = 1; k <= 6 && inside.holds(x + k * reach * dx, y + k * reach * dy); k++) room++;
    if (room > most) [best, most] = [[x, y], room];
  }
  return best;
}

const DIRECTIONS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;
