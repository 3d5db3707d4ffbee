import type { PenKind, PenSettings } from '../../core/stroke/pen';

/** A pen that the artist has kept under a name. */
export interface KeptPen {
  id: string;
  name: string;
  kind: PenKind;
  settings: PenSettings;
  /** How steady, with a pen and with a finger or mouse. */
  steady: number;
  handSteady: number;
}

/** So many can be kept. */
export const MOST_PENS = 60;
export const PENS_KEY = 'hush-line.pens';
