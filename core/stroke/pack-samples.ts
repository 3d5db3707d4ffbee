import { BitWriter } from './bit-writer';
import { MAX_SAMPLES, SAMPLES_VERSION } from './codec';
import { CHANNELS, type Samples } from './samples';
import { zigzag } from './zigzag';

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
  out.bits(SAMPLES_VERSION, 8);
  out.bits(samples.unitLog2, 8);
  out.varint(samples.count);
  for (const name of CHANNELS) {
    const values = name === 'azimuth' ? unwrapped(samples.azimuth, samples.count) : samples[name];
    writeChannel(out, values, samples.count);
  }
  return out.bytes();
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
