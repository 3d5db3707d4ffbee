import { encodeSamples } from '../../../core/stroke/codec';
import { SampleRecorder } from '../../../core/stroke/samples';

export interface HandStroke {
  bytes: Uint8Array;
  hasPressure: boolean;
}

let last: HandStroke | undefined;

/** Remembers the stroke that the pen's preview shows. */
export function rememberStroke(stroke: HandStroke): void {
  last = stroke;
}

/** The last stroke of this visit; before the first, a plain wave. */
export function lastHandStroke(): HandStroke {
  return (last ??= { bytes: wave(), hasPressure: true });
}

function wave(): Uint8Array {
  const recorder = new SampleRecorder(5);
  for (let i = 0; i <= 90; i++) {
    const u = i / 90;
    recorder.add({
      x: 10 + 170 * u,
      y: 33 + 16 * Math.sin(u * 8.5),
      tMs: i * 8,
      pressure: 0.15 + 0.7 * Math.sin(Math.PI * u) * (0.6 + 0.4 * Math.sin(u * 8.5)),
      altitudeDeg: 60,
      azimuthDeg: 40,
    });
  }
  return encodeSamples(recorder.samples());
}
