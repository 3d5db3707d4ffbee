import fitCurve from 'fit-curve';
import simplify from 'simplify-js';
import { fittedPath } from '../core/stroke/fitted-path';
import { encodeSamples } from '../core/stroke/pack-samples';
import { encodePath } from '../core/stroke/pack-path';
import { ENGINE, makePen } from '../core/stroke/pen';
import { SpineMaker } from '../core/stroke/spine-maker';
import { pointAt } from '../core/stroke/spine-place';
import { spineFrom, type Spine } from '../core/stroke/spine';
import { nearestOn } from '../core/sheet/lines-near';
import { handSamples, random } from '../tests/measures/strokes';
import { alternate, figure, type Figure } from './report';

const STROKES = 1000;
const FIT_PX = 0.5;

/** How far the middles of two lines lie from each other at most, px. */
function apart(a: Spine, b: Spine): number {
  const thin = spineFrom(Array.from({ length: b.count }, (_, i) => [b.data[3 * i], b.data[3 * i + 1], 0]));
  let most = 0;
  for (let i = 0; i < a.count; i++) {
    const [x, y] = pointAt(a, i);
    most = Math.max(most, nearestOn(thin, x, y).gap);
  }
  return most;
}

/**
 * Points that drawn lines need as paths: number and largest error on 1,000 strokes of a dip pen (whose widths are fitted
 * as well), and of an even one against fit-curve with the same error allowed; time for all of them.
 */
export function points(): Figure[] {
  const rnd = random(3);
  const maker = new SpineMaker();
  const [dip, even] = [makePen('dip', 9, 35, true, 1), makePen('fineliner', 5, 35, true, 1)];
  const lines = { dip: [] as Spine[], even: [] as Spine[] };
  for (let n = 0; n < STROKES; n++) {
    const [x, y, l, bend, wave, turn] = [
      3000 * rnd(),
      3000 * rnd(),
      60 + 400 * rnd(),
      90 * rnd(),
      2 + 5 * rnd(),
      6.3 * rnd(),
    ];
    const bytes = encodeSamples(
      handSamples(
        (u) => {
          const [p, q] = [l * u, bend * Math.sin(wave * u)];
          return [x + p * Math.cos(turn) - q * Math.sin(turn), y + p * Math.sin(turn) + q * Math.cos(turn)];
        },
        { ms: 300 + 900 * rnd(), seed: n + 1 },
      ),
    );
    lines.dip.push(maker.measured(bytes, dip, ENGINE, 0.1).spine);
    lines.even.push(maker.measured(bytes, even, ENGINE, 0.1).spine);
  }
  const places = lines.even.map((line) =>
    Array.from({ length: line.count }, (_, i) => [line.data[3 * i], line.data[3 * i + 1]]),
  );
  let [worst, nodes, evenNodes, theirs] = [0, 0, 0, 0];
  lines.dip.forEach((line) => {
    const path = fittedPath(line, dip.sizePx);
    nodes += path.nodes.length;
    worst = Math.max(
      worst,
      apart(line, maker.ofBytes(encodePath(path), makePen('fineliner', 9, 0, false, 1), ENGINE, 0.02)),
    );
  });
  for (const line of lines.even) evenNodes += fittedPath(line, even.sizePx).nodes.length;
  let simplified = 0;
  for (const one of places) {
    theirs += fitCurve(one, FIT_PX * FIT_PX).length + 1;
    simplified += simplify(
      one.map(([x, y]) => ({ x, y })),
      FIT_PX,
      true,
    ).length;
  }
  const [ours, other] = alternate(
    2,
    () => lines.even.forEach((line) => fittedPath(line, even.sizePx)),
    () => places.forEach((one) => fitCurve(one, FIT_PX * FIT_PX)),
  );
  const spinePoints = lines.dip.reduce((sum, line) => sum + line.count, 0);
  return [
    figure('points: of a dip pen, a stroke', nodes / STROKES, 'points', nodes / spinePoints, 'the spine'),
    figure('points: largest error', worst, 'px', undefined, 'at most 0.5 px'),
    figure('points: of an even pen, a stroke', evenNodes / STROKES, 'points', evenNodes / theirs, 'fit-curve'),
    figure('points: the same', evenNodes / STROKES, 'points', evenNodes / simplified, 'simplify-js, straight pieces'),
    figure('points: 1,000 strokes', ours, 'ms', ours / other, 'fit-curve'),
  ];
}
