/** The pens of this engine, named after the real tools. */
export const PEN_KINDS = ['fineliner', 'dip'] as const;
export type PenKind = (typeof PEN_KINDS)[number];

/** Where the width of a stroke comes from. */
export const WIDTH_SOURCES = ['pressure', 'speed', 'even'] as const;
export type WidthSource = (typeof WIDTH_SOURCES)[number];

/** The version of the formulas in `core/stroke` and `core/raster`, kept with each stroke. */
export const ENGINE = 1;

/** Everything besides the samples that shapes a stroke. */
export interface Pen {
  kind: PenKind;
  /** Full width in paper px, > 0. */
  sizePx: number;
  /** Smoothing, 0 (as the hand gave it) to 100. */
  steady: number;
  widthFrom: WidthSource;
  /** Width at no pressure (or at high speed) as a part of `sizePx`, 0 to 1. */
  smallest: number;
  /** Longest taper at either end, paper px. */
  taperInPx: number;
  taperOutPx: number;
  /** CSS px per paper px when the stroke was drawn: turns paper speed into hand speed. */
  handScale: number;
}

/** What is set by choosing a pen; lengths in multiples of its size. */
const CHARACTER: Record<PenKind, { varies: boolean; smallest: number; taperIn: number; taperOut: number }> = {
  fineliner: { varies: false, smallest: 1, taperIn: 0, taperOut: 0 },
  dip: { varies: true, smallest: 0.12, taperIn: 2.5, taperOut: 4 },
};

/** The pen for a stroke about to begin. */
export function makePen(kind: PenKind, sizePx: number, steady: number, hasPressure: boolean, handScale: number): Pen {
  const c = CHARACTER[kind];
  return {
    kind,
    sizePx,
    steady,
    widthFrom: !c.varies ? 'even' : hasPressure ? 'pressure' : 'speed',
    smallest: c.smallest,
    taperInPx: c.taperIn * sizePx,
    taperOutPx: c.taperOut * sizePx,
    handScale,
  };
}

/** Hand speed (CSS px per ms) at which a speed-made width is half way to its smallest. */
const HALF_SPEED = 1.2;

/** How much of the pen's range a pressure 0 to 1 opens: rises fast, levels off. */
export const openingOfPressure = (p: number): number => p * (2 - p);

/** How much of the range a hand speed (CSS px per ms, >= 0) opens: 1 at rest, 1/2 at 1.2 px/ms. */
export function openingOfSpeed(speed: number): number {
  const v = speed / HALF_SPEED;
  return 1 / (1 + v * v);
}

/** Radius in paper px for an opening 0 to 1. */
export const radiusOf = (pen: Pen, opening: number): number =>
  (pen.sizePx / 2) * (pen.smallest + (1 - pen.smallest) * opening);
