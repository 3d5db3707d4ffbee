import { decodeSamples } from './codec';
import { emptySamples } from './samples';
import { OWN, Spine } from './spine';
import type { MeasuredSpine, SampleRange } from './spine-maker';
import { pointAt } from './spine-place';
import { valueAt } from './value-at';

// What stands of a line ends straight where it was cut. A path that was made of such a part stands from a hair beyond its
// first sample, or to a hair before its last: so it ends straight, too.

/** Which ends of a line were cut. */
export interface CutEnds {
  start: boolean;
  end: boolean;
}

export const UNCUT: CutEnds = { start: false, end: false };

/** What is cut off where nothing but the shape of the end is meant, in parts of the way to the next sample. */
const HAIR = 1e-3;

const lastSample = (bytes: Uint8Array): number => decodeSamples(bytes, false, emptySamples()).count - 1;

/** Which ends of what stands of packed samples were cut. */
export function cutEnds(bytes: Uint8Array, stands: SampleRange | undefined): CutEnds {
  return stands ? { start: stands.from > 0, end: stands.to < lastSample(bytes) } : UNCUT;
}

/** Whether all of packed samples stands, but for the shape of its ends. */
export function isWhole(bytes: Uint8Array, stands: SampleRange | undefined): boolean {
  return !stands || (stands.from <= 2 * HAIR && stands.to >= lastSample(bytes) - 2 * HAIR);
}

/** What stands of a line whose ends are to be cut; undefined: all of it, round. */
export function standsCut(bytes: Uint8Array, { start, end }: CutEnds): SampleRange | undefined {
  if (!start && !end) return undefined;
  const last = lastSample(bytes);
  return last > 4 * HAIR ? { from: start ? HAIR : 0, to: end ? last - HAIR : last } : undefined;
}

/** The points of a line from one sample to another, with one where each of these lies. */
export function standingPart({ spine, samples }: MeasuredSpine, { from, to }: SampleRange): Spine {
  const places = Float64Array.from({ length: spine.count }, (_, i) => i);
  const placeOf = (sample: number) => valueAt(samples, places, spine.count, sample);
  const [first, last] = [placeOf(from), placeOf(to)];
  const between = [...places].filter((place) => place > first && place < last);
  const part = new Spine();
  const { own } = spine;
  if (own) part.ownAt = (place, into, at) => writeOwn(own, spine.count, place, into, at);
  for (const place of [first, ...between, last]) part.push(...pointAt(spine, place), place);
  return part;
}

/** What a place between two points has of its own. */
function writeOwn(own: Float64Array, count: number, place: number, into: Float64Array, at: number): void {
  const i = Math.min(count - 1, Math.floor(place));
  const [p, q] = [OWN * i, OWN * Math.min(count - 1, i + 1)];
  for (let k = 0; k < OWN; k++) into[at + k] = own[p + k] + (place - i) * (own[q + k] - own[p + k]);
}
