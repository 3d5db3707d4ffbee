import { composeMaps, NO_CHANGE, ontoQuad, type Homography, type Quad } from '../geometry/homography';
import type { Size } from '../geometry/view';
import type { CurvePoints } from './tone-curve';

interface StepBase {
  id: string;
  /** Switched off, a step is kept and does nothing. */
  on: boolean;
}

/** Takes a part of the picture, upright: between four corners, given as parts of its width and height. */
export interface CropStep extends StepBase {
  kind: 'crop';
  corners: Quad;
  /** What it becomes, px of the original's size. */
  width: number;
  height: number;
}

/** Takes the colour out: ITU-R BT.709 luma. */
export interface GreyStep extends StepBase {
  kind: 'grey';
}

/** More light, or less: stops of 2, on light, not on coded values. */
export interface ExposureStep extends StepBase {
  kind: 'exposure';
  stops: number;
}

/** A tone curve, the same for each channel. */
export interface CurveStep extends StepBase {
  kind: 'curve';
  points: CurvePoints;
}

/** Dark becomes light and light dark. */
export interface InvertStep extends StepBase {
  kind: 'invert';
}

/** Black becomes a colour, white stays white. */
export interface TintStep extends StepBase {
  kind: 'tint';
  colour: string;
  /** 0 to 1. */
  amount: number;
}

/** A Gaussian blur. */
export interface BlurStep extends StepBase {
  kind: 'blur';
  /** Its deviation, px of the original's size. */
  px: number;
}

/** Flat greys: what lies between two thresholds becomes one value, from black to white by even steps. */
export interface ToneStepsStep extends StepBase {
  kind: 'steps';
  /** One fewer than values, rising, of luma from 0 to 1. */
  thresholds: readonly number[];
  /** 1: instead of the picture; less: over it. */
  amount: number;
}

/** A faint map of the edges. */
export interface EdgesStep extends StepBase {
  kind: 'edges';
  /** What is finer is smoothed over: a deviation, px of the original's size. */
  px: number;
  /** 0 to 1: more finds fainter edges. */
  sensitivity: number;
  /** 1: instead of the picture; less: over it. */
  amount: number;
}

/** The light on a page made even: its paper becomes white. */
export interface EvenStep extends StepBase {
  kind: 'even';
  /** Dark patches that are narrower are drawn, not shadow: a part of the longer side. */
  reach: number;
}

/** Paper becomes clear, and what is dark becomes black lines. */
export interface LiftStep extends StepBase {
  kind: 'lift';
  /** Luma of the paper and of a line, 0 to 1. */
  paper: number;
  line: number;
  /** 0 to 1: how much of what lies between survives. */
  keep: number;
  /** Specks of a smaller diameter are dropped, px of the original's size. */
  specks: number;
}

/** One thing that was done to a picture. */
export type RecipeStep =
  | CropStep
  | GreyStep
  | ExposureStep
  | CurveStep
  | InvertStep
  | TintStep
  | BlurStep
  | ToneStepsStep
  | EdgesStep
  | EvenStep
  | LiftStep;
export type RecipeKind = RecipeStep['kind'];

/** What was done to a picture, first to last; the original is never changed. */
export type Recipe = readonly RecipeStep[];

/** The steps that do something. */
export const activeSteps = (recipe: Recipe | null | undefined): RecipeStep[] => (recipe ?? []).filter(({ on }) => on);

/** The size of what a recipe makes of a picture, px of the original's size. */
export function resultSize(picture: Size, recipe: Recipe | null | undefined): Size {
  return activeSteps(recipe).reduce<Size>(
    (size, step) => (step.kind === 'crop' ? { width: step.width, height: step.height } : size),
    { width: picture.width, height: picture.height },
  );
}

/** From places in the result to those in the original, px of the original's size. */
export function sourceMap(picture: Size, recipe: Recipe | null | undefined): Homography {
  let size: Size = picture;
  let map = NO_CHANGE;
  for (const step of activeSteps(recipe)) {
    if (step.kind !== 'crop') continue;
    map = composeMaps(map, ontoQuad(step.width, step.height, cornersIn(step.corners, size)));
    size = { width: step.width, height: step.height };
  }
  return map;
}

/** Corners that are parts of a size, in its px. */
export const cornersIn = (corners: Quad, { width, height }: Size): Quad =>
  corners.map(([x, y]) => [x * width, y * height]) as unknown as Quad;

/** Corners in px as parts of a size. */
export const partsOf = (corners: Quad, { width, height }: Size): Quad =>
  corners.map(([x, y]) => [x / width, y / height]) as unknown as Quad;
