import { EVEN_PRESSURE, openingAt, type PressureCurve } from './pressure-curve';

/** The pens of this engine, named after the real tools. */
export const PEN_KINDS = ['fineliner', 'dip', 'brush', 'marker', 'pencil', 'wash'] as const;
export type PenKind = (typeof PEN_KINDS)[number];

/** Where the width of a stroke comes from. */
export const WIDTH_SOURCES = ['pressure', 'speed', 'even'] as const;
export type WidthSource = (typeof WIDTH_SOURCES)[number];

/** The version of the formulas in `core/stroke` and `core/raster`, kept with each stroke. */
export const ENGINE = 4;

/** How what a line encloses is filled. */
export const FILLS = ['with', 'alone'] as const;
export type Fill = (typeof FILLS)[number];

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
  /** How far a fast hand closes the nib, 0 to 1; absent: wholly where the width comes from speed, else not at all. */
  speed?: number;
  /** Tapers as parts of the stroke's length, 0 to 1, beside those in px; of a length of at most {@link MEASURED_PX}. */
  taperInPart?: number;
  taperOutPart?: number;
  /** The part of the radius over which the edge fades, 0 to 1; absent: hard. */
  soft?: number;
  /** How much the paper's grain shows through, 0 to 1; absent: not at all. */
  grain?: number;
  /** The thickness of a flat nib as a part of its width; absent: the nib is round. */
  flat?: number;
  /** Where a flat nib's width points, clockwise degrees from the right, 0 to 179. */
  nibDeg?: number;
  /** A flat nib lies across the pen and turns with it; `nibDeg` holds where a pen stands upright or has no tilt. */
  turns?: true;
  /** What a line encloses, its ends joined straight, is ink as well: with the line, or alone; absent: it is not. */
  fill?: Fill;
  /** A soft eraser: it takes away from all that lies below its stroke in the layer, where it would lay ink. */
  fades?: true;
}

/** What an artist sets of a pen beside its size and how steady it is. */
export interface PenSettings {
  /** Width at no pressure, as a part of the size, 0 to 1. */
  smallest: number;
  /** What the tapers are measured by. */
  tapersBy: 'size' | 'length';
  /** Longest tapers, in multiples of the size. */
  taperIn: number;
  taperOut: number;
  /** Tapers as parts of the stroke's length, 0 to 1. */
  taperInPart: number;
  taperOutPart: number;
  /** How far speed closes the nib, 0 to 1: beside pressure, and where there is none. */
  speed: number;
  handSpeed: number;
  /** 0 to 1. */
  opacity: number;
  soft: number;
  grain: number;
  /** {@link LEAST_FLAT} to 1. */
  flat: number;
  nibDeg: number;
  turns: boolean;
  press: PressureCurve;
}

/** The longest taper that can be set, in multiples of the size. */
export const MOST_TAPER = 16;
/** Ink that covers less than this cannot be seen. */
export const LEAST_OPACITY = 0.05;
/** The thinnest flat nib, as a part of its width. */
export const LEAST_FLAT = 0.15;
/** Of a longer stroke, tapers in parts of the length are parts of this much of it, CSS px: the rest can settle while it is drawn. */
export const MEASURED_PX = 1000;

const PLAIN: PenSettings = {
  smallest: 1,
  tapersBy: 'size',
  taperIn: 0,
  taperOut: 0,
  taperInPart: 0,
  taperOutPart: 0,
  speed: 0,
  handSpeed: 1,
  opacity: 1,
  soft: 0,
  grain: 0,
  flat: 1,
  nibDeg: 135,
  turns: false,
  press: EVEN_PRESSURE,
};

/** Whether a pen's width comes from the hand, and what is set by choosing it (common practice, no source). */
const CHARACTER: Record<PenKind, { varies: boolean; settings: PenSettings }> = {
  fineliner: { varies: false, settings: PLAIN },
  dip: { varies: true, settings: { ...PLAIN, smallest: 0.12, taperIn: 2.5, taperOut: 4 } },
  // From a hair to its belly.
  brush: { varies: true, settings: { ...PLAIN, smallest: 0.03, taperIn: 5, taperOut: 9 } },
  marker: { varies: false, settings: { ...PLAIN, flat: 0.2 } },
  pencil: { varies: true, settings: { ...PLAIN, smallest: 0.6, taperIn: 0.5, taperOut: 1, soft: 0.6, grain: 0.9 } },
  wash: { varies: true, settings: { ...PLAIN, smallest: 0.5, soft: 0.6, opacity: 0.35 } },
};

/** A pen as it comes. */
export const settingsOf = (kind: PenKind): PenSettings => CHARACTER[kind].settings;
/** Whether the width of a pen's line comes from the hand. */
export const variesWidth = (kind: PenKind): boolean => CHARACTER[kind].varies;
/** Whether a pen's ink is as strong as it is pressed, and wider and paler when it lies down. */
export const leans = ({ kind }: Pick<Pen, 'kind'>): boolean => kind === 'pencil';

/** Whether nothing shines through its ink where it covers. */
export const isOpaque = ({ opacity = 1 }: Pen): boolean => opacity === 1;

/** Whether its ink is no matter of outlines: it has a soft edge, or grain. */
export const isFaded = ({ soft, grain, fades }: Pen): boolean => !fades && (soft !== undefined || grain !== undefined);

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
  const widthFrom = !varies ? 'even' : hasPressure ? 'pressure' : 'speed';
  const byLength = settings.tapersBy === 'length';
  const taperPx = (multiple: number) => (byLength ? 0 : Math.min(multiple * sizePx, LONGEST_TAPER_PX / handScale));
  const pen: Pen = {
    kind,
    sizePx,
    steady,
    widthFrom,
    smallest: varies ? settings.smallest : 1,
    taperInPx: taperPx(settings.taperIn),
    taperOutPx: taperPx(settings.taperOut),
    handScale,
  };
  // What is as it always was is left out: a stroke says only what is its own.
  if (settings.opacity < 1) pen.opacity = Math.max(LEAST_OPACITY, settings.opacity);
  if (varies && !isEven(settings.press)) pen.press = settings.press;
  if (widthFrom === 'pressure' && settings.speed > 0) pen.speed = settings.speed;
  if (widthFrom === 'speed' && settings.handSpeed < 1) pen.speed = settings.handSpeed;
  if (byLength && settings.taperInPart > 0) pen.taperInPart = settings.taperInPart;
  if (byLength && settings.taperOutPart > 0) pen.taperOutPart = settings.taperOutPart;
  if (settings.soft > 0) pen.soft = settings.soft;
  if (settings.grain > 0) pen.grain = settings.grain;
  if (settings.flat < 1) {
    pen.flat = Math.max(LEAST_FLAT, settings.flat);
    pen.nibDeg = settings.nibDeg;
    if (settings.turns) pen.turns = true;
  }
  return pen;
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

/** How far speed closes the nib of a pen, 0 to 1. */
export const speedOf = ({ widthFrom, speed }: Pen): number =>
  widthFrom === 'even' ? 0 : (speed ?? (widthFrom === 'speed' ? 1 : 0));

/** Radius in paper px for an opening 0 to 1. */
export const radiusOf = (pen: Pen, opening: number): number =>
  (pen.sizePx / 2) * (pen.smallest + (1 - pen.smallest) * opening);
