import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { PenKind } from '../../core/stroke/pen';
import { readKept } from './kept';

export const PEN_KEY = 'hush-line.pen';
export const BLACK = '#000000';
export const WHITE = '#ffffff';
/** A small choice beside black and white: loud ones for roughs, quiet ones for lines. */
export const INK_COLOURS = [BLACK, WHITE, '#1f3a5f', '#5b2a1d', '#2f5d3a', '#c2185b', '#0077c8', '#d35400'];

export interface PenState {
  kind: PenKind;
  /** Which of the sheet's four nibs. */
  nib: number;
  /** How steady, with a pen. */
  steady: Record<PenKind, number>;
  /** The same with a finger or a mouse, which begin steadier. */
  handSteady: Record<PenKind, number>;
  /** What drew last. */
  device: 'pen' | 'hand';
  colour: string;
  /** The last colour that was neither black nor white. */
  lastColour: string;
  /** Kept until taken back. */
  erasing: boolean;
  /** Borrowed while held. */
  eraserHeld: boolean;
  eraserSize: number;
}

const initial: PenState = {
  kind: 'dip',
  nib: 1,
  steady: { fineliner: 20, dip: 35 },
  handSteady: { fineliner: 40, dip: 55 },
  device: 'hand',
  colour: BLACK,
  lastColour: '#c2185b',
  erasing: false,
  eraserHeld: false,
  eraserSize: 1,
};

/** The pen in the artist's hand. */
export const penSlice = createSlice({
  name: 'pen',
  initialState: () => ({ ...readKept(PEN_KEY, initial), erasing: false, eraserHeld: false }),
  reducers: {
    take: (state, { payload }: PayloadAction<PenKind>) => {
      state.kind = payload;
      state.erasing = false;
    },
    takeNib: (state, { payload }: PayloadAction<number>) => {
      state.nib = payload;
      state.erasing = false;
    },
    setSteady: (state, { payload }: PayloadAction<number>) => {
      state[state.device === 'pen' ? 'steady' : 'handSteady'][state.kind] = payload;
    },
    drawWith: (state, { payload }: PayloadAction<PenState['device']>) => {
      state.device = payload;
    },
    takeColour: (state, { payload }: PayloadAction<string>) => {
      state.colour = payload;
      state.erasing = false;
      if (payload !== BLACK && payload !== WHITE) state.lastColour = payload;
    },
    setErasing: (state, { payload }: PayloadAction<boolean>) => {
      state.erasing = payload;
    },
    holdEraser: (state, { payload }: PayloadAction<boolean>) => {
      state.eraserHeld = payload;
    },
    takeEraserSize: (state, { payload }: PayloadAction<number>) => {
      state.eraserSize = payload;
    },
  },
});

/** How steady the pen in the hand is, for what draws with it. */
export const steadyOf = (pen: PenState): number => (pen.device === 'pen' ? pen.steady : pen.handSteady)[pen.kind];

export const isErasing = (pen: PenState): boolean => pen.erasing || pen.eraserHeld;
