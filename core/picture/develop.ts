import { areaScale, composeMaps, type Homography } from '../geometry/homography';
import type { Size } from '../geometry/view';
import { adjustRows, pixelWork, type PixelStep } from './adjust';
import { blurred } from './blur';
import { edgeMap } from './edges';
import { evenRows, lightOf } from './even-light';
import { dropSpecks } from './lift';
import { activeSteps, resultSize, sourceMap, type Recipe, type RecipeStep } from './recipe';
import { averaged } from './shrink';
import { makePicture, warpRows, type Picture } from './warp';

/** Rows that are worked on between two looks at whether to go on. */
const STRIP = 64;
/** A source is not made so small that fewer of its px than this stand for a px of the result. */
const LEAST_DENSITY = 0.9;

/** The size of what a recipe makes of a picture, made smaller by `scale`; never less than a pixel. */
export function developedSize(picture: Size, recipe: Recipe, scale: number): Size {
  const { width, height } = resultSize(picture, recipe);
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** Lines are lifted off pictures of at least this longer side, px: in smaller ones they are lost in their paper. */
const LEAST_LIFT_SIDE_PX = 1200;

/** How many times finer, each way, a recipe is worked out than its result is wanted: a power of two. */
export function workFactor(picture: Size, recipe: Recipe, scale: number): number {
  if (!activeSteps(recipe).some(({ kind }) => kind === 'lift')) return 1;
  const { width, height } = resultSize(picture, recipe);
  const longest = Math.max(width, height);
  let factor = 1;
  while (longest * scale * factor < LEAST_LIFT_SIDE_PX && scale * factor * 2 <= 1) factor *= 2;
  return factor;
}

/**
 * How far a source may be made smaller first, so that a result of `scale` has the source's pixels and passes none over:
 * a power of a half, at most 1. By the place where the recipe shows the most of the source.
 */
export function sourceScale(picture: Size, recipe: Recipe, scale: number): number {
  const map = sourceMap(picture, recipe);
  const { width, height } = resultSize(picture, recipe);
  const places: [number, number][] = [
    [0.5, 0.5],
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ];
  const densest = Math.min(...places.map(([u, v]) => Math.sqrt(areaScale(map, u * width, v * height))));
  let found = 1;
  const work = scale * workFactor(picture, recipe, scale);
  while (((found / 2) * Math.max(1e-6, densest)) / work >= LEAST_DENSITY) found /= 2;
  return found;
}

/**
 * Makes of a picture what its recipe says. All that moves pixels is one map, so that they are mixed once.
 * @param picture the original's size, which the recipe's pixels mean.
 * @param source the picture, made smaller (`sourceScale`).
 * @param scale px of the result to a px of the original's size.
 * @param memo what earlier work of the same source came to.
 * @returns yields the part that is done, 0 to 1.
 */
export function* develop(
  picture: Size,
  source: Picture,
  recipe: Recipe,
  scale: number,
  memo?: DevelopMemo,
): Generator<number, Picture, void> {
  const size = developedSize(picture, recipe, scale);
  const factor = workFactor(picture, recipe, scale);
  const [width, height] = [size.width * factor, size.height * factor];
  const full = resultSize(picture, recipe);
  const fromTarget: Homography = [full.width / width, 0, 0, 0, full.height / height, 0, 0, 0, 1];
  const toSource: Homography = [source.width / picture.width, 0, 0, 0, source.height / picture.height, 0, 0, 0, 1];
  const map = composeMaps(toSource, composeMaps(sourceMap(picture, recipe), fromTarget));
  const steps = activeSteps(recipe);
  const isMoved = steps.some(({ kind }) => kind === 'crop') || width !== source.width || height !== source.height;
  const stages = stagesOf(steps);
  const crops = steps.filter(({ kind }) => kind === 'crop');
  const plan = memo?.plan(
    JSON.stringify([picture, width, height, crops]),
    stages.map((stage) => JSON.stringify(stage)),
  );
  let done = plan?.from ?? 0;
  const part = (u: number) => (done + u) / (stages.length + 1);
  const target = plan?.made ?? makePicture(width, height);
  if (plan?.made) yield part(0);
  else if (isMoved)
    for (let row = 0; row < height; row += STRIP) {
      warpRows(source, target, map, row, Math.min(height, row + STRIP));
      yield part(row / height);
    }
  else target.data.set(source.data);
  let made = target;
  for (const [n, stage] of stages.entries()) {
    if (n < (plan?.from ?? 0)) continue;
    if (n === plan?.keepAt) memo?.keep(n, made);
    done++;
    if (stage.kind === 'whole') {
      const work = wholeWork(made, stage.step, width / full.width);
      let step = work.next();
      for (; !step.done; step = work.next()) yield part(step.value);
      made = step.value;
    } else {
      const works = pixelWork(stage.steps);
      for (let row = 0; row < height; row += STRIP) {
        adjustRows(made, works, row, Math.min(height, row + STRIP));
        yield part(row / height);
      }
      const specks = stage.steps.findLast((s) => s.kind === 'lift')?.specks ?? 0;
      if (specks > 0) dropSpecks(made, specks * (width / full.width));
    }
  }
  return factor > 1 ? averaged(made, factor) : made;
}

/** Larger results are not kept. */
const MOST_KEPT_PX = 3e6;

/**
 * What a picture came to before the stage that changes from one time to the next: while a dial moves, what comes before
 * its step is not done again. For one source at a time.
 */
export class DevelopMemo {
  private last: { base: string; stages: readonly string[] } | undefined;
  private kept: { base: string; stages: readonly string[]; picture: Picture } | undefined;

  /** Where to begin, with what, and before which stage the picture is to be kept. */
  plan(base: string, stages: readonly string[]): { from: number; made?: Picture; keepAt: number } {
    const { last, kept } = this;
    let same = 0;
    if (last?.base === base) while (same < stages.length && stages[same] === last.stages[same]) same++;
    this.last = { base, stages };
    const fits = kept?.base === base && kept.stages.every((stage, n) => stage === stages[n]);
    if (!fits) this.kept = undefined;
    const from = fits ? kept.stages.length : 0;
    // Of no more than what has changed since; what moves pixels is worth it alone.
    const isMore = !fits || same > from;
    const keepAt = last?.base === base && isMore && same < stages.length ? same : -1;
    return { from, keepAt, ...(fits ? { made: copyOf(kept.picture) } : {}) };
  }

  /** Keeps a copy of what the first stages came to. */
  keep(stages: number, picture: Picture): void {
    if (!this.last || picture.width * picture.height > MOST_KEPT_PX) return;
    this.kept = { base: this.last.base, stages: this.last.stages.slice(0, stages), picture: copyOf(picture) };
  }
}

const copyOf = ({ width, height, data }: Picture): Picture => ({ width, height, data: data.slice() });

type WholeStep = Exclude<RecipeStep, PixelStep | { kind: 'crop' }>;
type Stage = { kind: 'whole'; step: WholeStep } | { kind: 'pixels'; steps: PixelStep[] };

/** What looks at more than a pixel. @param perPx px of the picture to a px of the original's size. */
function* wholeWork(picture: Picture, step: WholeStep, perPx: number): Generator<number, Picture> {
  if (step.kind === 'blur') return yield* blurred(picture, step.px * perPx);
  if (step.kind === 'edges') return yield* edgeMap(picture, step.px * perPx, step.sensitivity, step.amount);
  const light = lightOf(picture, step.reach);
  for (let row = 0; row < picture.height; row += STRIP) {
    evenRows(picture, light, row, Math.min(picture.height, row + STRIP));
    yield row / picture.height;
  }
  return picture;
}

/**
 * Steps in passes over the picture: what looks at one pixel at a time goes together, but for a lift, whose specks are
 * dropped before anything else. Crops are one map, before all.
 */
function stagesOf(steps: readonly RecipeStep[]): Stage[] {
  const stages: Stage[] = [];
  for (const step of steps) {
    const last = stages[stages.length - 1];
    if (step.kind === 'crop') continue;
    if (step.kind === 'blur' || step.kind === 'edges' || step.kind === 'even') stages.push({ kind: 'whole', step });
    else if (last?.kind === 'pixels' && ![step.kind, last.steps[last.steps.length - 1].kind].includes('lift'))
      last.steps.push(step);
    else stages.push({ kind: 'pixels', steps: [step] });
  }
  return stages;
}
