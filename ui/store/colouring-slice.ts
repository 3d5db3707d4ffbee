import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { LabelAlign, LabelFont } from '../../core/sheet/entities';
import { readKept } from './kept';

export const COLOURING_KEY = 'hush-line.colouring';

/** How colour is laid. */
export const COLOUR_WAYS = ['pour', 'lasso', 'brush', 'hatch', 'text'] as const;
export type ColourWay = (typeof COLOUR_WAYS)[number];

/** How hatching is laid: as `HatchWays` in core/stroke/hatch, and how long its strokes taper, 0 to 1. */
export interface HatchDials {
  /** Distance between strokes, in their widths. */
  apart: number;
  lean: number;
  wave: number;
  crosses: boolean;
  taper: number;
}
/** What a contour looks like. */
export interface ContourDials {
  widthMm: number;
  /** Thick on the shaded side, thin on the other. */
  uneven: boolean;
}
/** How labels are set. */
export interface TextDials {
  font: LabelFont;
  align: LabelAlign;
  /** From line to line, in sizes of the letters. */
  spacing: number;
  /** How high letters are set, mm; null: as is good to see when the first is written. */
  sizeMm: number | null;
  outlined: boolean;
  /** In sizes of the letters. */
  outline: number;
  outlineColour: string;
}
export const LEAST_APART = 1.2;
export const MOST_APART = 12;

export interface ColouringState {
  way: ColourWay;
  colour: string;
  /** The last ones, latest first. */
  recents: string[];
  /** A pour fills every shape like the one that is touched. */
  alike: boolean;
  /** Pours follow when their lines change. */
  tied: boolean;
  hatch: HatchDials;
  contour: ContourDials;
  text: TextDials;
  /** The next touch takes a colour, of the picture or of the sheet. */
  picking: 'picture' | 'sheet' | null;
}

const MOST_RECENTS = 8;
const FIRST = ['#6f8fa6', '#d9cdb2', '#c98a45', '#8c3a2b', '#2c3a44'];

const initial: ColouringState = {
  way: 'pour',
  colour: FIRST[0],
  recents: FIRST,
  alike: false,
  tied: true,
  hatch: { apart: 3, lean: 0, wave: 0.3, crosses: false, taper: 0.5 },
  contour: { widthMm: 1.4, uneven: false },
  text: {
    ...{ font: 'hand', align: 'left', spacing: 1.2, sizeMm: null },
    ...{ outlined: false, outline: 0.06, outlineColour: '#ffffff' },
  },
  picking: null,
};

/** What is in the hand that colours. */
export const colouringSlice = createSlice({
  name: 'colouring',
  initialState: (): ColouringState => ({ ...readKept(COLOURING_KEY, initial), picking: null }),
  reducers: {
    set: (state, { payload }: PayloadAction<Partial<Omit<ColouringState, 'recents'>>>) => ({ ...state, ...payload }),
    /** A colour was laid: it is the latest. */
    used: (state, { payload }: PayloadAction<string>) => {
      if (state.recents.includes(payload)) return;
      state.recents = [payload, ...state.recents].slice(0, MOST_RECENTS);
    },
  },
});
