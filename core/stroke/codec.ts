import { withinTurn } from '../geometry/degrees';
import { BitReader } from './bits';
import { decodePath, flattened, isPath } from './path';
import { CHANNELS, emptySamples, type Samples } from './samples';
import { unzigzag } from './zigzag';

export const SAMPLES_VERSION = 1;
/** Two minutes of a pen at 1000 Hz: a longer stroke goes on as another. */
export const MAX_SAMPLES = 1 << 17;

/**
 * Reads what `encodeSamples` wrote. The input is not modified; `byteOffset` is honoured.
 * @param lean whether altitude and azimuth are wanted; without, they are left as they are in `into`.
 * @param into is filled and returned; its arrays are used again where they are long enough.
 * @throws {RangeError} not this format, another version, cut short, or an impossible count.
 */
export function decodeSamples(bytes: Uint8Array, lean = true, into: Samples = emptySamples()): Samples {
  decodeChannels(bytes, lean ? CHANNELS.length : LEANLESS, into);
  if (lean) for (let i = 0; i < into.count; i++) into.azimuth[i] = withinTurn(into.azimuth[i]);
  return into;
}

/** {@link decodeSamples} of `x` and `y` alone; the others are left as they are in `into`. */
export function decodePlaces(bytes: Uint8Array, into: Samples): Samples {
  decodeChannels(bytes, PLACES, into);
  return into;
}

/** So many of the channels are places, and all but altitude and azimuth. */
const PLACES = 2;
const LEANLESS = 4;

/** Reads the first `number` channels. */
function decodeChannels(bytes: Uint8Array, number: number, into: Samples): void {
  if (isPath(bytes)) {
    flattened(decodePath(bytes), into);
    return;
  }
  const input = new BitReader(bytes);
  const version = input.bits(8);
  if (version !== SAMPLES_VERSION)
    throw new RangeError(`stroke data of version ${version}, expected ${SAMPLES_VERSION}`);
  const unitLog2 = input.bits(8);
  if (unitLog2 > 12) throw new RangeError(`quantum 2^-${unitLog2} is finer than 2^-12`);
  const count = input.varint();
  if (count < 1 || count > MAX_SAMPLES) throw new RangeError(`impossible sample count ${count}`);
  into.unitLog2 = unitLog2;
  into.count = count;
  into.isPath = false;
  for (let i = 0; i < number; i++) {
    const name = CHANNELS[i];
    if (into[name].length < count) into[name] = new Int32Array(count);
    readChannel(input, into[name], count);
  }
}

function readChannel(input: BitReader, out: Int32Array, count: number): void {
  const head = input.bits(5);
  const first = unzigzag(input.varint());
  if (head === 0) {
    out.fill(first, 0, count);
    return;
  }
  if (count < 2) throw new RangeError('a channel that varies needs two samples');
  let delta = unzigzag(input.varint());
  out[0] = first;
  out[1] = first + delta;
  for (let i = 2; i < count; i++) {
    delta += unzigzag(input.rice(head - 1));
    out[i] = out[i - 1] + delta;
  }
}
