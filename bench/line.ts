import { makePen } from '../core/stroke/pen';
import { spineOf } from '../core/stroke/spine-maker';
import {
  circle,
  cornerMiss,
  followed,
  jitterOf,
  lineError,
  sShape,
  straight,
  tremorLeft,
  TROUBLES,
  zigzag,
  type Trouble,
} from '../tests/measures/line-error';
import { figure, type Figure } from './report';

/** How far the line is from what the hand followed, under everything that devices do to samples. */
export function line(): Figure[] {
  return [
    ...[35, 100].flatMap((steady) => TROUBLES.flatMap((trouble) => underTrouble(trouble, steady))),
    ...[0, 35, 70, 100].flatMap(ofSteady),
  ];
}

/** The worst of straight, circle and S at 60, 120, 240 Hz and 80, 200, 600 px/s, by pressure and by speed. */
function underTrouble(trouble: Trouble, steady: number): Figure[] {
  const worst = { offPx: 0, turnDeg: 0, widthChange: 0 };
  for (const path of [straight(300), circle(100), sShape(80)])
    for (const hz of [60, 120, 240])
      for (const speed of [80, 200, 600])
        for (const hasPressure of [true, false]) {
          const samples = followed(path, { hz, speed, trouble, seed: hz + speed });
          const error = lineError(spineOf(samples, makePen('dip', 12, steady, hasPressure, 1), 0.1), path, 12, 50);
          worst.offPx = Math.max(worst.offPx, error.offPx - jitterOf(trouble));
          worst.turnDeg = Math.max(worst.turnDeg, error.turnDeg);
          worst.widthChange = Math.max(worst.widthChange, error.widthChange);
        }
  return [
    figure(`line at ${steady}, ${trouble}: off the path beyond the jitter`, worst.offPx, 'px (at most 0.3)'),
    figure(`line at ${steady}, ${trouble}: sharpest turn beyond the path's own`, worst.turnDeg, 'degrees (at most 20)'),
    figure(`line at ${steady}, ${trouble}: width change within a width`, 100 * worst.widthChange, '% (at most 15)'),
  ];
}

function ofSteady(steady: number): Figure[] {
  let corner = 0;
  for (const speed of [500, 1000, 2000])
    for (const leg of [60, 73.3, 101.7]) {
      const samples = followed(zigzag(leg, 6), { hz: 240, speed, trouble: 'none', seed: 1 });
      corner = Math.max(corner, cornerMiss(spineOf(samples, makePen('fineliner', 2, steady, true, 1), 0.05), leg, 6));
    }
  const tremor = tremorLeft((samples, pen) => spineOf(samples, pen, 0.05), steady);
  return [
    figure(`line, steady ${steady}: a tremor of 1.28 px leaves`, tremor, 'px'),
    figure(`line, steady ${steady}: corners missed by`, corner, 'px'),
  ];
}
