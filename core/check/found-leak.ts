import type { InkLine } from '../areas/ink-line';
import { bridgeOf, type Bridge } from './bridge';
import type { Leak } from './leaks';

/** A gap in what would be a closed shape, between lines of these ids, and the line that closes it. */
export interface FoundLeak extends Pick<Leak, 'gapPx' | 'runsOut' | 'areaPx'> {
  id: string;
  layerId: string;
  otherId: string;
  otherLayerId: string;
  x: number;
  y: number;
  bridge: Bridge;
}

/** A gap as it is told outside of the closing. @param lines of the closing, by their numbers. */
export function foundLeak(leak: Leak, lines: readonly InkLine[]): FoundLeak {
  const { end, at, gapPx, runsOut, areaPx } = leak;
  const [own, other] = [lines[end.line], lines[at.line]];
  // In the middle of what is open, from edge to edge.
  const way = Math.hypot(at.x - end.x, at.y - end.y) || 1;
  const middle = (end.r + gapPx / 2) / way;
  return {
    ...{ gapPx, runsOut, areaPx, id: own.id, layerId: own.layerId, otherId: other.id, otherLayerId: other.layerId },
    x: end.x + middle * (at.x - end.x),
    y: end.y + middle * (at.y - end.y),
    bridge: bridgeOf(leak, [middleWidth(own), middleWidth(other)]),
  };
}

/** Half of a line's width in its middle: an end that tapers is bridged by no hair. */
const middleWidth = ({ data, count }: InkLine): number => data[3 * (count >> 1) + 2];
