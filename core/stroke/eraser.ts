import { makePen, settingsOf, type Pen } from './pen';

export const ERASER_KINDS = ['hard', 'soft'] as const;
export type EraserKind = (typeof ERASER_KINDS)[number];

/** What is set of an eraser. A hard one cuts lines; a soft one fades all that lies below it in the layer. */
export interface Eraser {
  kind: EraserKind;
  /** Full width in paper px, > 0. */
  sizePx: number;
  /** Its width follows pressure. */
  pressed: boolean;
  /** Of a soft one: the part of the radius over which its edge fades, 0 to 1. */
  softness: number;
  /** Of a soft one: how much a single stroke takes away, 0 to 1. */
  strength: number;
}

/** Width at no pressure, as a part of the size (common practice, no source). */
const SMALLEST = 0.2;

/** The pen of an eraser's stroke that is about to begin. */
export function eraserPen(eraser: Eraser, hasPressure: boolean, handScale: number): Pen {
  const { kind, sizePx, softness, strength } = eraser;
  const pressed = eraser.pressed && hasPressure;
  const even = settingsOf('fineliner');
  const settings = { ...even, ...(pressed ? { smallest: SMALLEST } : {}) };
  const faded = kind === 'soft' ? { ...settings, soft: softness, opacity: strength } : settings;
  const pen = makePen(pressed ? 'dip' : 'fineliner', sizePx, 0, hasPressure, handScale, faded);
  return kind === 'soft' ? { ...pen, fades: true } : pen;
}
