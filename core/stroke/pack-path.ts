import { withinTurn } from '../geometry/degrees';
import { BitWriter } from './bit-writer';
import {
  CLOSED,
  LEANING,
  MOST_PACKED_NODES,
  NODE_KINDS,
  PATH_VERSION,
  STRENGTH_MAX,
  UNITS,
  type StrokePath,
} from './path';
import { PRESSURE_MAX } from './samples';
import { zigzag } from './zigzag';

/** Packs a path. @throws {RangeError} no nodes, or more than {@link MOST_PACKED_NODES}. */
export function encodePath({ closed, nodes }: StrokePath): Uint8Array {
  if (nodes.length < 1 || nodes.length > MOST_PACKED_NODES)
    throw new RangeError(`a path has 1 to ${MOST_PACKED_NODES} nodes, not ${nodes.length}`);
  const out = new BitWriter();
  out.bits(PATH_VERSION, 8);
  // Nodes that nothing is said of lie as the one before.
  let lean = nodes.find((node) => node.lean)?.lean;
  out.bits((closed ? CLOSED : 0) | (lean ? LEANING : 0), 8);
  out.varint(nodes.length);
  let [x, y] = [0, 0];
  const units = (v: number) => Math.round(v * UNITS);
  for (const node of nodes) {
    out.bits(NODE_KINDS.indexOf(node.kind), 2);
    out.bits(Math.round(Math.min(1, Math.max(0, node.width)) * PRESSURE_MAX), 10);
    lean = node.lean ?? lean;
    if (lean) {
      out.bits(Math.round(Math.min(1, Math.max(0, lean.strength)) * STRENGTH_MAX), 7);
      out.bits(withinTurn(Math.round(lean.nibDeg)), 9);
    }
    const [nx, ny] = [units(node.x), units(node.y)];
    for (const v of [nx - x, ny - y, units(node.inX), units(node.inY), units(node.outX), units(node.outY)])
      out.varint(zigzag(v));
    [x, y] = [nx, ny];
  }
  return out.bytes();
}
