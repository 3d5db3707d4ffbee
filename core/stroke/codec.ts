import { withinTurn } from '../geometry/degrees';
import { BitReader, BitWriter } from './bits';
import { decodePath, flattened, isPath } from './path';
import { CHANNELS, emptySamples, type Samples } from './samples';
import { unzigzag, zigzag } from './zigzag';

const VERSION = 1;
/** Two minutes of a pen at 1000 Hz: a longer stroke goes on as another. */
export const MAX_SAMPLES = 1 << 17;
const MAX_K = 24;

/**
 * Packs samples: a version byte, the quantum, the count, then each channel on its own.
 * A constant channel is one value. Any other is its first value, its first difference, and its
 * second differences in Rice code, with the one parameter k that makes the channel shortest.
 * A steady hand has small second differences, so a sample of x, y and t takes under 4 bytes.
 *
 * @returns a new array; `decodeSamples` gives back every value exactly.
 * @throws {RangeError} no samples, or too many (over 131,072).
 * @see Rice (1979), "Some practical universal noiseless coding techniques", JPL 79-22.
 */
export function encodeSamples(samples: Samples): Uint8Array {
  if (samples.count < 1 || samples.count > MAX_SAMPLES)
    throw new RangeError(`a stroke has 1 to ${MAX_SAMPLES} samples, not ${samples.count}`);
  const out = new BitWriter();
  out.bits(VERSION, 8);
  out.bits(samples.unitLog2, 8);
  out.varint(samples.count);
  for (const name of CHANNELS) {
    const values = name === 'azimuth' ? unwrapped(samples.azimuth, samples.count) : samples[name];
    writeChannel(out, values, samples.count);
  }
  return out.bytes();
}

/**
 * Reads what {@link encodeSamples} wrote. The input is not modified; `byteOffset` is honoured.
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
  if (version !== VERSION) throw new RangeError(`stroke data of version ${version}, expected ${VERSION}`);
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

function writeChannel(out: BitWriter, values: Int32Array, count: number): void {
  if (isConstant(values, count)) {
    out.bits(0, 5);
    out.varint(zigzag(values[0]));
    return;
  }
  const residuals = secondDifferences(values, count);
  const k = bestK(residuals);
  out.bits(k + 1, 5);
  out.varint(zigzag(values[0]));
  out.varint(zigzag(values[1] - values[0]));
  for (const r of residuals) out.rice(r, k);
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

function isConstant(values: Int32Array, count: number): boolean {
  for (let i = 1; i < count; i++) if (values[i] !== values[0]) return false;
  return true;
}

/** Zigzagged second differences: count - 2 values, each >= 0. */
function secondDifferences(v: Int32Array, count: number): Float64Array {
  const out = new Float64Array(count - 2);
  for (let i = 2; i < count; i++) out[i - 2] = zigzag(v[i] - 2 * v[i - 1] + v[i - 2]);
  return out;
}

/** The Rice parameter with the shortest total: q + 1 + k bits a value. */
function bestK(residuals: Float64Array): number {
  let best = 0;
  let least = Infinity;
  for (let k = 0; k <= MAX_K; k++) {
    let bits = residuals.length * (k + 1);
    const size = 2 ** k;
    for (const r of residuals) bits += Math.floor(r / size);
    if (bits < least) {
      least = bits;
      best = k;
    }
  }
  return best;
}

/** Angles without the jump from 359 to 0, so that differences stay small. */
function unwrapped(degrees: Int32Array, count: number): Int32Array {
  const out = Int32Array.from(degrees);
  for (let i = 1; i < count; i++) {
    const turn = ((((degrees[i] - degrees[i - 1]) % 360) + 540) % 360) - 180;
    out[i] = out[i - 1] + turn;
  }
  return out;
}
