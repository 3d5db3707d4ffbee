import { makePen } from '../core/stroke/pen';
import { Spine } from '../core/stroke/spine';
import { SpineBuilder } from '../core/stroke/spine-builder';
import { spineOf } from '../core/stroke/spine-maker';
import { pointAt } from '../core/stroke/spine-place';
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
  type KnownPath,
  type Trouble,
} from '../tests/measures/line-error';
import { loop, loopPlaces, missedBy, tipPlaces, tips } from '../tests/measures/small-forms';
import { handPoints } from '../tests/measures/strokes';
import { figure, median, type Figure } from './report';

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

const SPEEDS = [500, 1000, 2000];
const zigzagAt = (leg: number, speed: number) => followed(zigzag(leg, 6), { hz: 240, speed, trouble: 'none', seed: 1 });
const cornerAt = (steady: number, speed: number): number =>
  Math.max(
    ...[60, 73.3, 101.7].map((leg) =>
      cornerMiss(spineOf(zigzagAt(leg, speed), makePen('fineliner', 2, steady, true, 1), 0.05), leg, 6),
    ),
  );

function ofSteady(steady: number): Figure[] {
  const tremor = tremorLeft((samples, pen) => spineOf(samples, pen, 0.05), steady);
  const lag = Math.max(...SPEEDS.map((speed) => lagOf(steady, speed)));
  const lagMs = Math.max(...SPEEDS.map((speed) => (1000 * lagOf(steady, speed)) / speed));
  return [
    figure(`line, steady ${steady}: a tremor of 1.28 px leaves`, tremor, 'px'),
    ...SPEEDS.map((speed) =>
      figure(`line, steady ${steady}: corners at ${speed} px/s missed by`, cornerAt(steady, speed), 'px'),
    ),
    ...[4, 6].map((radius) =>
      figure(`line, steady ${steady}: a loop of radius ${radius} px missed by`, smallMiss(loop(radius), steady), 'px'),
    ),
    ...[15, 30, 45].map((tip) =>
      figure(`line, steady ${steady}: tips of ${tip} degrees missed by`, smallMiss(tips(tip, LEG_PX, 5), steady), 'px'),
    ),
    figure(`line, steady ${steady}: what is drawn ends behind the nib by at most`, lag, 'CSS px'),
    figure(`line, steady ${steady}: that is, at 500 to 2,000 px/s`, lagMs, 'ms'),
    figure(`line, steady ${steady}: a sample at 5,000 over one at 100`, costGrowth(steady), 'times (at most 1.1)'),
  ];
}

/** A leg that no device samples evenly. */
const LEG_PX = 51.7;
/** At 60, 120 and 240 Hz and 60 and 100 px/s: what a hand slows down to in small forms. */
function smallMiss(path: KnownPath, steady: number): number {
  const places = path.radiusPx ? loopPlaces(path) : tipPlaces(LEG_PX, 5);
  const pen = makePen('fineliner', 2, steady, true, 1);
  return Math.max(
    ...[60, 120, 240].flatMap((hz) =>
      [60, 100].map((speed) =>
        missedBy(spineOf(followed(path, { hz, speed, trouble: 'none', seed: 1 }), pen, 0.05), path, places),
      ),
    ),
  );
}

/** How far behind the newest sample the line ends that is shown, CSS px. */
function lagOf(steady: number, speed: number): number {
  const builder = new SpineBuilder(makePen('fineliner', 4, steady, true, 1), 0.1);
  const tail = new Spine();
  let most = 0;
  for (const { x, y, tMs, pressure } of handPoints(zigzagAt(101.7, speed))) {
    builder.push(x, y, tMs, pressure);
    builder.settle();
    builder.tail(tail);
    const [ex, ey] = pointAt(tail, tail.count - 1);
    most = Math.max(most, Math.hypot(x - ex, y - ey));
  }
  return most;
}

/** What a frame of four samples costs late in a stroke over what it costs early: settling and the tail. */
function costGrowth(steady: number): number {
  const path = straight(26000);
  const points = [...handPoints(followed(path, { hz: 240, speed: 1200, trouble: 'jitter', seed: 3 }))];
  const times = { early: [] as number[], late: [] as number[] };
  const tail = new Spine();
  for (let run = 0; run < 12; run++) {
    const builder = new SpineBuilder(makePen('dip', 4, steady, true, 1), 0.1);
    const sum = { early: 0, late: 0 };
    for (let i = 0; i + 4 <= Math.min(points.length, 5060); i += 4) {
      const began = performance.now();
      for (const { x, y, tMs, pressure } of points.slice(i, i + 4)) builder.push(x, y, tMs, pressure);
      builder.settle();
      builder.tail(tail);
      const took = performance.now() - began;
      if (Math.abs(i - 100) < 60) sum.early += took;
      if (Math.abs(i - 5000) < 60) sum.late += took;
    }
    // The first runs warm up.
    if (run < 4) continue;
    times.early.push(sum.early);
    times.late.push(sum.late);
  }
  return median(times.late) / median(times.early);
}
