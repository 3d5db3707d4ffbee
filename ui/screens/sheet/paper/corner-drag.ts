import { apply, compose, invert, lengthScale, type Matrix } from '../../../../core/geometry/matrix';
import { viewMatrix, type View } from '../../../../core/geometry/view';
import type { HandlePlaces, Point } from './handle-places';

/** A corner of a frame as it was when it was taken, and where the pointer took its handle; screen px. */
export interface TakenCorner {
  places: Pick<HandlePlaces, 'corners' | 'centre' | 'scaleAt'>;
  index: number;
  from: Point;
}

/** Keys that are held while a corner is dragged. */
export interface HeldKeys {
  /** Width and height change each by itself; otherwise they keep their proportion. */
  frees: boolean;
  /** The frame's middle stays; otherwise the opposite corner does. */
  centred: boolean;
}

/** A frame never becomes smaller than this part of itself in one drag, nor turns over. */
const LEAST_FACTOR = 0.02;

/** A handle that stands over what stays, as one does where all of a frame is out of sight, scales nothing. */
const factorOf = (now: number, before: number): number =>
  Math.abs(before) < 1 ? 1 : Math.max(LEAST_FACTOR, now / before);

/** What dragging a corner to a place does to the frame, on the screen. The corner keeps its distance from the pointer. */
export function cornerScaling({ places, index, from }: TakenCorner, to: Point, { frees, centred }: HeldKeys): Matrix {
  const { corners, centre, scaleAt } = places;
  const [px, py] = centred ? centre : corners[(index + 2) % 4];
  // The frame's own directions.
  const [ux, uy] = unit(corners[0], corners[1]);
  const [vx, vy] = unit(corners[0], corners[3]);
  const inFrame = (x: number, y: number): Point => {
    const area = ux * vy - uy * vx;
    return [(x * vy - y * vx) / area, (ux * y - uy * x) / area];
  };
  const handle = scaleAt[index];
  const [a0, b0] = inFrame(handle[0] - px, handle[1] - py);
  const [a, b] = inFrame(handle[0] + to[0] - from[0] - px, handle[1] + to[1] - from[1] - py);
  const both = factorOf(a * a0 + b * b0, a0 * a0 + b0 * b0);
  const [fa, fb] = frees ? [factorOf(a, a0), factorOf(b, b0)] : [both, both];
  const toScreen: Matrix = [ux, uy, vx, vy, px, py];
  return compose(toScreen, compose([fa, 0, 0, fb, 0, 0], invert(toScreen)));
}

/** A movement on the screen that keeps proportions, as one of two fingers: from a place to a place, a factor, a turn. */
export interface Gesture {
  from: Point;
  to: Point;
  factor: number;
  turnDeg: number;
}

/** @param change without a mirror. About the place that stays, where there is one near. */
export function gestureOf(change: Matrix): Gesture {
  const [a, b, c, d, e, f] = change;
  const [factor, turnDeg] = [lengthScale(change), (Math.atan2(b, a) * 180) / Math.PI];
  const area = (1 - a) * (1 - d) - b * c;
  const from: Point = Math.abs(area) < 1e-9 ? [0, 0] : [((1 - d) * e + c * f) / area, (b * e + (1 - a) * f) / area];
  return { from, to: apply(change, ...from), factor, turnDeg };
}

/** What a change on the screen is on the paper. */
export function onPaper(change: Matrix, view: View): Matrix {
  const toScreen = viewMatrix(view);
  return compose(invert(toScreen), compose(change, toScreen));
}

function unit([x0, y0]: Point, [x1, y1]: Point): Point {
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  return [(x1 - x0) / length, (y1 - y0) / length];
}
