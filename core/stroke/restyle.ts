import { makePen, settingsOf, type Fill, type Pen, type PenKind, type PenSettings } from './pen';
import { EVEN_PRESSURE } from './pressure-curve';

/** What can be changed of a line afterwards; what is absent stays as it is. */
export interface Restyle {
  kind?: PenKind;
  sizePx?: number;
  /** The size is multiplied by this. */
  sizeFactor?: number;
  /** And this is added to it, paper px. */
  sizeAddPx?: number;
  steady?: number;
  settings?: Partial<PenSettings>;
  fill?: Fill | 'none';
}

/** Bounds of a line's size, paper px. */
const LEAST_SIZE = 0.25;
const MOST_SIZE = 4000;

/** The settings that a line was made with. */
export function settingsFrom(pen: Pen): PenSettings {
  const byLength = pen.taperInPart !== undefined || pen.taperOutPart !== undefined;
  return {
    ...settingsOf(pen.kind),
    smallest: pen.smallest,
    tapersBy: byLength ? 'length' : 'size',
    taperIn: pen.taperInPx / pen.sizePx,
    taperOut: pen.taperOutPx / pen.sizePx,
    taperInPart: pen.taperInPart ?? 0,
    taperOutPart: pen.taperOutPart ?? 0,
    speed: pen.widthFrom === 'pressure' ? (pen.speed ?? 0) : 0,
    handSpeed: pen.widthFrom === 'speed' ? (pen.speed ?? 1) : 1,
    opacity: pen.opacity ?? 1,
    soft: pen.soft ?? 0,
    grain: pen.grain ?? 0,
    flat: pen.flat ?? 1,
    nibDeg: pen.nibDeg ?? settingsOf(pen.kind).nibDeg,
    turns: pen.turns === true,
    press: pen.press ?? EVEN_PRESSURE,
  };
}

/**
 * A line's pen with something changed: the line is made anew from the same samples. What a soft eraser left stays as it is.
 * @param hasPressure whether the samples know of pressure; asked only where another pen takes its width from the hand.
 */
export function restyled(
  pen: Pen,
  { kind, sizePx, sizeFactor = 1, sizeAddPx = 0, steady, settings, fill = pen.fill ?? 'none' }: Restyle,
  hasPressure: boolean,
): Pen {
  if (pen.fades) return pen;
  const isOther = kind !== undefined && kind !== pen.kind;
  const size = Math.min(MOST_SIZE, Math.max(LEAST_SIZE, (sizePx ?? pen.sizePx) * sizeFactor + sizeAddPx));
  const base = isOther ? settingsOf(kind) : settingsFrom(pen);
  const pressed = pen.widthFrom === 'even' ? hasPressure : pen.widthFrom === 'pressure';
  const made = makePen(kind ?? pen.kind, size, steady ?? pen.steady, pressed, pen.handScale, { ...base, ...settings });
  if (fill !== 'none') made.fill = fill;
  const tapersStay =
    !isOther && size === pen.sizePx && !Object.keys(settings ?? {}).some((name) => name.startsWith('taper'));
  // Multiples of the size and back would change their last bits.
  return tapersStay ? { ...made, taperInPx: pen.taperInPx, taperOutPx: pen.taperOutPx } : made;
}
