import { useCallback, useState } from 'react';
import { keep, readKept } from '../../../store/kept';
import type { Stop } from '../stops/stop';

const KEY = 'hush-line-foot-heights';
/** On the very first visit, until a frame later: about a third of a phone. */
const FIRST_GUESS_PX = 260;

/** No foot is higher. */
const MOST_PX = 700;

type Heights = Record<string, number>;

/** How high the bars below the paper stand at each stop of a phone, CSS px, safe area included. */
export interface FootHeights {
  of(stop: Stop): number;
  /** What has been laid out. @param isOpen the tray stands open over the paper, which it does not push away. */
  tell(stop: Stop, px: number, isOpen: boolean): void;
}

/** Heights are measured; those of the last visit stand until then, so that a sheet opens where it will stay. */
export function useFootHeights(width: number): FootHeights {
  const [heights, setHeights] = useState<{ kept: Heights; measured: Heights }>(() => ({
    kept: readKept<Heights>(KEY, {}),
    measured: {},
  }));
  const keyOf = useCallback((stop: Stop) => `${stop.route} ${width}`, [width]);
  return {
    of: (stop) => heights.measured[keyOf(stop)] ?? usable(heights.kept[keyOf(stop)]) ?? FIRST_GUESS_PX,
    tell: (stop, px, isOpen) =>
      setHeights((before) => {
        const key = keyOf(stop);
        const known = before.measured[key];
        // While one draws nothing may move: there the first height stands.
        if (px === known || isOpen || (stop.tool && known !== undefined)) return before;
        const measured = { ...before.measured, [key]: px };
        keep(KEY, { ...before.kept, ...measured });
        return { ...before, measured };
      }),
  };
}

/** A kept height may be anything: other pages of this address share the store. */
const usable = (px: unknown): number | undefined => (typeof px === 'number' && px > 0 && px < MOST_PX ? px : undefined);
