import { lengthOfLine, type InkLine } from '../areas/ink-line';

/** A line of which a part is too thin. */
export interface ThinLine {
  id: string;
  layerId: string;
  /** The middle of its longest thin part. */
  x: number;
  y: number;
  /** Of that part: its mean width and its length, px. */
  widthPx: number;
  lengthPx: number;
  /** So many times as wide it has no thin part; at most {@link MOST_FACTOR}. */
  factor: number;
}

const MOST_FACTOR = 8;
const FACTOR_STEP = 1.08;
/** An end that is thin is the line's point, unless more than this part of the line is thin there. */
const POINT_PART = 0.5;
/** A thin part is at least so many limits long. */
const LEAST_PART = 3;

/**
 * Lines with a part narrower than `leastPx`, but for their points. Longest part first.
 * @returns with `widths`: how much of all lines, px, is in each class of width between `classesPx` (ascending), and beyond.
 */
export function findThin(
  lines: readonly InkLine[],
  leastPx: number,
  classesPx: readonly number[] = [],
): { thin: ThinLine[]; widths: Float64Array } {
  const thin: ThinLine[] = [];
  const widths = new Float64Array(classesPx.length + 1);
  for (const line of lines) {
    const found = thinPart(line, leastPx, (width, length) => (widths[classOf(width, classesPx)] += length));
    if (found) thin.push({ ...found, factor: factorFor(line, leastPx) });
  }
  return { thin: thin.sort((a, b) => b.lengthPx - a.lengthPx), widths };
}

function classOf(width: number, classesPx: readonly number[]): number {
  let n = 0;
  while (n < classesPx.length && width >= classesPx[n]) n++;
  return n;
}

/** How many times wider a line is whole: as if the limit were so many times less. */
function factorFor(line: InkLine, leastPx: number): number {
  let factor = FACTOR_STEP;
  while (factor < MOST_FACTOR && thinPart(line, leastPx / factor, () => undefined, leastPx)) factor *= FACTOR_STEP;
  return Math.min(MOST_FACTOR, factor);
}

/** The longest part of a line that is too thin. @param tell told of each segment. @param limitPx what lengths are measured by. */
function thinPart(
  line: InkLine,
  leastPx: number,
  tell: (width: number, length: number) => void,
  limitPx = leastPx,
): Omit<ThinLine, 'factor'> | undefined {
  let best: Omit<ThinLine, 'factor'> | undefined;
  const { id, layerId, data, count } = line;
  const total = lengthOfLine(line);
  let [length, ink, from] = [0, 0, 0];
  const close = (to: number) => {
    const isPoint = (from === 0 || to === count - 1) && length <= POINT_PART * total;
    if (!isPoint && length >= LEAST_PART * limitPx && (!best || length > best.lengthPx)) {
      const m = 3 * ((from + to) >> 1);
      best = { id, layerId, x: data[m], y: data[m + 1], widthPx: ink / length, lengthPx: length };
    }
    [length, ink, from] = [0, 0, to];
  };
  for (let i = 0; i + 1 < count; i++) {
    const a = 3 * i;
    const part = Math.hypot(data[a + 3] - data[a], data[a + 4] - data[a + 1]);
    const width = data[a + 2] + data[a + 5];
    tell(width, part);
    if (width < leastPx) {
      if (length === 0) from = i;
      length += part;
      ink += width * part;
    } else if (length > 0) close(i);
  }
  if (length > 0) close(count - 1);
  return best;
}
