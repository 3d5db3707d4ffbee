import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { PEN_KINDS, settingsOf, type PenKind, type PenSettings } from '../../core/stroke/pen';
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
  /** What the artist has changed of each pen. */
  own: Partial<Record<PenKind, Partial<PenSettings>>>;
  /** What drew last. */
  device: 'pen' | 'hand';
  colour: string;
  /** New lines go under the layer's others. */
  beneath: boolean;
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
  steady: { fineliner: 20, dip: 35, brush: 35 },
  handSteady: { fineliner: 40, dip: 55, brush: 55 },
  own: {},
  device: 'hand',
  colour: BLACK,
  beneath: false,
  lastColour: '#c2185b',
  erasing: false,
  eraserHeld: false,
  eraserSize: 1,
};

/** The pen as it was left; what was kept before there was a pen knows nothing of it. */
function keptPen(): PenState {
  const kept = readKept(PEN_KEY, initial);
  return {
    ...kept,
    kind: PEN_KINDS.includes(kept.kind) ? kept.kind : initial.kind,
    steady: { ...initial.steady, ...kept.steady },
    handSteady: { ...initial.handSteady, ...kept.handSteady },
    erasing: false,
    eraserHeld: false,
  };
}

/** The pen in the artist's hand. */
export const penSlice = createSlice({
  name: 'pen',
  initialState: keptPen,
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
    setPen: (state, { payload }: PayloadAction<Partial<PenSettings>>) => {
      state.own[state.kind] = { ...state.own[state.kind], ...payload };
    },
    /** The pen in the hand is again as it came. */
    resetPen: (state) => {
      delete state.own[state.kind];
    },
    setBeneath: (state, { payload }: PayloadAction<boolean>) => {
      state.beneath = payload;
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

/** A pen as the artist has set it. */
export const ownSettings = (pen: Pick<PenState, 'own'>, kind: PenKind): PenSettings => ({
  ...settingsOf(kind),
  ...pen.own[kind],
});

export const isErasing = (pen: PenState): boolean => pen.erasing || pen.eraserHeld;
