import { encodeSamples } from '../../core/stroke/pack-samples';
import { SampleRecorder } from '../../core/stroke/samples';

/** A stroke as a hand gave it, for the pen's preview. */
export interface HandStroke {
  bytes: Uint8Array;
  hasPressure: boolean;
  /** CSS px per paper px when it was drawn. */
  handScale: number;
}

/** A plain wave, for as long as the artist has drawn nothing; with pressure where the device gives some. */
export function plainWave(hasPressure: boolean): HandStroke {
  const recorder = new SampleRecorder(5);
  let tMs = 0;
  for (let i = 0; i <= 90; i++) {
    const u = i / 90;
    // Slow in the bends, fast between them, as a hand is.
    tMs += 6 + 8 * Math.abs(Math.sin(u * 8.5));
    recorder.add({
      x: 10 + 170 * u,
      y: 33 + 16 * Math.sin(u * 8.5),
      tMs,
      pressure: hasPressure ? 0.15 + 0.7 * Math.sin(Math.PI * u) * (0.6 + 0.4 * Math.sin(u * 8.5)) : 0.5,
      altitudeDeg: 60,
      azimuthDeg: 40,
    });
  }
  return { bytes: encodeSamples(recorder.samples()), hasPressure, handScale: 1 };
}
