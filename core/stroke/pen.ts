/** The pens of this engine, named after the real tools. */
export const PEN_KINDS = ['fineliner', 'dip'] as const;
export type PenKind = (typeof PEN_KINDS)[number];

/** Where the width of a stroke comes from. */
export const WIDTH_SOURCES = ['pressure', 'speed', 'even'] as const;
export type WidthSource = (typeof WIDTH_SOURCES)[number];

/** The version of the formulas in `core/stroke` and `core/raster`, kept with each stroke. */
export const ENGINE = 3;

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

/** However wide the nib: a taper is a movement of the hand, CSS px. */
const LONGEST_TAPER_PX = 240;

/** The pen for a stroke about to begin. */
export function makePen(kind: PenKind, sizePx: number, steady: number, hasPressure: boolean, handScale: number): Pen {
  const c = CHARACTER[kind];
  return {
    kind,
    sizePx,
    steady,
    widthFrom: !c.varies ? 'even' : hasPressure ? 'pressure' : 'speed',
    smallest: c.smallest,
    taperInPx: Math.min(c.taperIn * sizePx, LONGEST_TAPER_PX / handScale),
    taperOutPx: Math.min(c.taperOut * sizePx, LONGEST_TAPER_PX / handScale),
    handScale,
  };
}

/** Pressures from the lightest touch that a hand controls to a firm one; both common practice, no source. */
const LIGHT = 0.1;
const FIRM = 0.9;

/** How much of the pen's range a pressure 0 to 1 opens: evenly from 0.1 to 0.9. */
export const openingOfPressure = (p: number): number => Math.min(1, Math.max(0, (p - LIGHT) / (FIRM - LIGHT)));

/** Hand speeds in CSS px per ms between which people trace (measured: 60 to 400 px/s). */
const SLOW = 0.06;
const FAST = 0.4;

/** How much of the range a hand speed (CSS px per ms, >= 0) opens: all of it when slow, none when fast. */
export function openingOfSpeed(speed: number): number {
  const v = Math.min(1, Math.max(0, (speed - SLOW) / (FAST - SLOW)));
  return (1 - v) / (1 + v);
}

/** Radius in paper px for an opening 0 to 1. */
export const radiusOf = (pen: Pen, opening: number): number =>
  (pen.sizePx / 2) * (pen.smallest + (1 - pen.smallest) * opening);
