import { EVEN_PRESSURE, openingAt, type PressureCurve } from './pressure-curve';

/** The pens of this engine, named after the real tools. */
export const PEN_KINDS = ['fineliner', 'dip', 'brush'] as const;
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
  /** How much of what lies beneath is covered, 0 to 1; absent: all of it. A stroke does not darken where it crosses itself. */
  opacity?: number;
  /** Absent: {@link EVEN_PRESSURE}. */
  press?: PressureCurve;
}

/** What an artist sets of a pen beside its size and how steady it is. */
export interface PenSettings {
  /** Width at no pressure, as a part of the size, 0 to 1. */
  smallest: number;
  /** Longest tapers, in multiples of the size. */
  taperIn: number;
  taperOut: number;
  /** 0 to 1. */
  opacity: number;
  press: PressureCurve;
}

/** The longest taper that can be set, in multiples of the size. */
export const MOST_TAPER = 16;
/** Ink that covers less than this cannot be seen. */
export const LEAST_OPACITY = 0.05;

/** Whether a pen's width comes from the hand, and what is set by choosing it. */
const CHARACTER: Record<PenKind, { varies: boolean; settings: PenSettings }> = {
  fineliner: { varies: false, settings: { smallest: 1, taperIn: 0, taperOut: 0, opacity: 1, press: EVEN_PRESSURE } },
  dip: { varies: true, settings: { smallest: 0.12, taperIn: 2.5, taperOut: 4, opacity: 1, press: EVEN_PRESSURE } },
  // From a hair to its belly (common practice, no source).
  brush: { varies: true, settings: { smallest: 0.03, taperIn: 5, taperOut: 9, opacity: 1, press: EVEN_PRESSURE } },
};

/** A pen as it comes. */
export const settingsOf = (kind: PenKind): PenSettings => CHARACTER[kind].settings;
/** Whether the width of a pen's line comes from the hand. */
export const variesWidth = (kind: PenKind): boolean => CHARACTER[kind].varies;

/** However wide the nib: a taper is a movement of the hand, CSS px. */
const LONGEST_TAPER_PX = 240;

/** The pen for a stroke about to begin. @param settings where they are not those that it comes with. */
export function makePen(
  kind: PenKind,
  sizePx: number,
  steady: number,
  hasPressure: boolean,
  handScale: number,
  settings: PenSettings = settingsOf(kind),
): Pen {
  const varies = variesWidth(kind);
  return {
    kind,
    sizePx,
    steady,
    widthFrom: !varies ? 'even' : hasPressure ? 'pressure' : 'speed',
    smallest: varies ? settings.smallest : 1,
    taperInPx: Math.min(settings.taperIn * sizePx, LONGEST_TAPER_PX / handScale),
    taperOutPx: Math.min(settings.taperOut * sizePx, LONGEST_TAPER_PX / handScale),
    handScale,
    ...(settings.opacity < 1 ? { opacity: Math.max(LEAST_OPACITY, settings.opacity) } : {}),
    ...(varies && !isEven(settings.press) ? { press: settings.press } : {}),
  };
}

const isEven = ({ light, firm, middle }: PressureCurve): boolean =>
  light === EVEN_PRESSURE.light && firm === EVEN_PRESSURE.firm && middle === EVEN_PRESSURE.middle;

/** How much of the pen's range a pressure 0 to 1 opens. */
export const openingOfPressure = (p: number, { press = EVEN_PRESSURE }: Pick<Pen, 'press'> = {}): number =>
  openingAt(p, press);

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
