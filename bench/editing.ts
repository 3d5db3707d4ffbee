import { Loop } from '../core/geometry/loop';
import type { Matrix } from '../core/geometry/matrix';
import type { Stroke } from '../core/sheet/entities';
import type { InkStore } from '../core/sheet/ink-store';
import type { Pause } from '../core/sheet/ink-work';
import { linesNear } from '../core/sheet/lines-near';
import { linesIn } from '../core/sheet/picking';
import { encodeSamples } from '../core/stroke/pack-samples';
import { makePen } from '../core/stroke/pen';
import { restyled } from '../core/stroke/restyle';
import { handSamples, random } from '../tests/measures/strokes';
import { openedInk, strokeEntity } from '../tests/measures/sheets';
import { figure, median, type Figure } from './report';

const SIDE = 3000;
const KINDS = 200;

/** A sheet of `count` strokes, and the samples of each. */
function manyStrokes(count: number): { ink: InkStore; samples: Map<string, Uint8Array> } {
  const rnd = random(count);
  const shapes = Array.from({ length: KINDS }, (_, i) => {
    const [angle, length] = [rnd() * 6.28, 40 + rnd() * 160];
    return encodeSamples(
      handSamples((u) => [length * u * Math.cos(angle) + 12 * Math.sin(u * 5), length * u * Math.sin(angle)], {
        ms: 400,
        seed: i + 1,
      }),
    );
  });
  const samples = new Map<string, Uint8Array>();
  const strokes = Array.from({ length: count }, (_, i): Stroke => {
    const id = `k${i}`;
    samples.set(id, shapes[i % KINDS]);
    const matrix: Matrix = [1, 0, 0, 1, 200 + rnd() * (SIDE - 400), 200 + rnd() * (SIDE - 400)];
    return strokeEntity(id, {
      order: `a${String(i).padStart(7, '0')}`,
      pen: makePen('dip', 3 + (i % 9), 30, true, 1),
      matrix,
    });
  });
  return { ink: openedInk(strokes, [], samples, []), samples };
}

/** Runs work to its end; samples are at hand as soon as they are asked for. */
function run<T>(ink: InkStore, samples: ReadonlyMap<string, Uint8Array>, work: Generator<Pause, T>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    if (Array.isArray(value) && value.length)
      ink.provide(value as string[], new Map((value as string[]).map((id) => [id, samples.get(id)!])));
  }
}

/** A loop drawn by hand around the middle of the paper. */
const loopOf = (radius: number, n = 160): Loop =>
  new Loop(
    Array.from({ length: n }, (_, i) => {
      const r = radius * (1 + 0.08 * Math.sin(i / 5));
      return [SIDE / 2 + r * Math.cos((6.283 * i) / n), SIDE / 2 + r * Math.sin((6.283 * i) / n)];
    }).flat(),
  );

const timesOf = (times: number, work: () => void): number =>
  median(
    Array.from({ length: times }, () => {
      const began = performance.now();
      work();
      return performance.now() - began;
    }),
  );

/** Picking among many strokes, and making picked ones anew, in the worker. */
export function editing(): Figure[] {
  const figures: Figure[] = [];
  for (const count of [1000, 100000]) {
    const { ink, samples } = manyStrokes(count);
    let picked: string[] = [];
    const lasso = timesOf(9, () => (picked = run(ink, samples, linesIn(ink, ['lines'], loopOf(250)))));
    const wide = timesOf(3, () => run(ink, samples, linesIn(ink, ['lines'], loopOf(1200))));
    const touch = timesOf(25, () => run(ink, samples, linesNear(ink, 'lines', SIDE / 2, SIDE / 2, 12)));
    figures.push(
      figure(
        `editing: loop of 500 px over ${count} strokes (${picked.length} picked)`,
        lasso,
        'ms',
        undefined,
        'at most 50 at 100,000',
      ),
      figure(`editing: loop of 2,400 px over ${count} strokes`, wide, 'ms'),
      figure(`editing: touch among ${count} strokes`, touch, 'ms'),
    );
    if (count < 100000) continue;
    const some = picked.slice(0, 500);
    let factor = 1;
    const restyle = timesOf(9, () => {
      factor = factor === 1 ? 1.4 : 1;
      const strokes = ink.standing(some).map((r) => r.stroke);
      ink.follow(
        strokes.map((s) => ({
          kind: 'assign' as const,
          table: 'strokes' as const,
          id: s.id,
          field: 'pen',
          value: restyled(s.pen, { sizeFactor: factor === 1 ? 1 / 1.4 : 1.4 }, true),
        })),
        new Map(),
      );
    });
    figures.push(figure(`editing: ${some.length} picked lines made anew, boxes measured`, restyle, 'ms'));
  }
  return figures;
}
