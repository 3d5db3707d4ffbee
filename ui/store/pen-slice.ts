import { createSlice, nanoid, type PayloadAction } from '@reduxjs/toolkit';
import { ERASER_KINDS, type Eraser } from '../../core/stroke/eraser';
import { CATCHES, type Catch } from '../../core/stroke/met-ends';
import { FORMS, type Form } from '../../core/stroke/form';
import type { NodeKind } from '../../core/stroke/path';
import { FILLS, PEN_KINDS, settingsOf, type Fill, type PenKind, type PenSettings } from '../../core/stroke/pen';
import { readKept } from './kept';
import { MOST_PENS, type KeptPen } from './kept-pen';

export const PEN_KEY = 'hush-line.pen';
export const BLACK = '#000000';
export const WHITE = '#ffffff';
/** A small choice beside black and white: loud ones for roughs, quiet ones for lines. */
export const INK_COLOURS = [BLACK, WHITE, '#1f3a5f', '#5b2a1d', '#2f5d3a', '#c2185b', '#0077c8', '#d35400'];

/** What names a pen: its kind as it comes, or the id under which the artist keeps one. */
export type PenKey = string;

const LOOP_TAKES = ['lines', 'colour', 'both'] as const;
export type LoopTakes = (typeof LOOP_TAKES)[number];

export interface PenState {
  kind: PenKind;
  /** The artist's own pen that is in the hand, if it is one. */
  keptId: string | null;
  /** The artist's own, in their order. */
  pens: KeptPen[];
  /** The same as the device's storage has them: those need not be written. */
  pensAsKept: KeptPen[];
  /** Which of the sheet's four nibs. */
  nib: number;
  /** How steady, with a pen, where it was changed. */
  steady: Record<PenKey, number>;
  /** The same with a finger or a mouse, which begin steadier. */
  handSteady: Record<PenKey, number>;
  /** What the artist has changed of each pen. */
  own: Record<PenKey, Partial<PenSettings> | undefined>;
  /** Picking adds to what is picked. */
  picksMore: boolean;
  /** Of lines and colour what a loop picks. */
  loopTakes: LoopTakes;
  /** What drew last. */
  device: 'pen' | 'hand';
  colour: string;
  /** New lines go under the layer's others. */
  beneath: boolean;
  /** What the hand makes, and what becomes of what that encloses. */
  form: Form;
  fill: Fill | 'none';
  /** What points that are tapped out are. */
  pointKind: NodeKind;
  /** How readily the ends of lines meet others. */
  catching: Catch;
  /** The last colour that was neither black nor white. */
  lastColour: string;
  /** Kept until taken back. */
  erasing: boolean;
  /** Borrowed while held. */
  eraserHeld: boolean;
  eraser: EraserState;
}

/** The eraser as the artist has set it. */
export interface EraserState extends Omit<Eraser, 'sizePx'> {
  sizesMm: [number, number, number, number];
  /** Which of its sizes. */
  chosen: number;
}

/** Sizes of an eraser, mm. */
export const LEAST_ERASER_MM = 0.1;
export const MOST_ERASER_MM = 40;

const ERASER: EraserState = {
  kind: 'hard',
  sizesMm: [0.7, 2, 5, 12],
  chosen: 1,
  pressed: false,
  softness: 0.7,
  strength: 0.5,
};

const STEADY: Record<PenKind, number> = { fineliner: 20, dip: 35, brush: 35, marker: 35, pencil: 20, wash: 20 };
/** A finger or mouse is less sure. */
const HAND_STEADIER = 20;

const initial: PenState = {
  kind: 'dip',
  keptId: null,
  pens: [],
  pensAsKept: [],
  nib: 1,
  steady: {},
  handSteady: {},
  own: {},
  picksMore: false,
  loopTakes: 'both',
  device: 'hand',
  colour: BLACK,
  beneath: false,
  form: 'freehand',
  fill: 'none',
  pointKind: 'auto',
  catching: 'off',
  lastColour: '#c2185b',
  erasing: false,
  eraserHeld: false,
  eraser: ERASER,
};

/** The pen as it was left; what was kept before there was a pen knows nothing of it. */
function keptPen(): PenState {
  const kept = readKept(PEN_KEY, initial);
  return {
    ...kept,
    // They follow with the first sheet (follow-pens.ts).
    pens: [],
    pensAsKept: [],
    kind: PEN_KINDS.includes(kept.kind) ? kept.kind : initial.kind,
    pointKind: kept.pointKind === 'corner' ? 'corner' : 'auto',
    form: FORMS.includes(kept.form) ? kept.form : initial.form,
    fill: kept.fill === 'none' || FILLS.includes(kept.fill) ? kept.fill : initial.fill,
    catching: CATCHES.includes(kept.catching) ? kept.catching : initial.catching,
    steady: { ...kept.steady },
    handSteady: { ...kept.handSteady },
    erasing: false,
    eraserHeld: false,
    eraser: readEraser(kept.eraser),
    picksMore: false,
    loopTakes: LOOP_TAKES.includes(kept.loopTakes) ? kept.loopTakes : initial.loopTakes,
  };
}

/** An eraser as it was kept; what it cannot be is as it comes. */
function readEraser(kept: Partial<EraserState>): EraserState {
  const { kind, sizesMm, chosen, pressed, softness, strength } = { ...ERASER, ...kept };
  const isPart = (v: unknown) => typeof v === 'number' && v >= 0 && v <= 1;
  const isSize = (v: unknown) => typeof v === 'number' && v >= LEAST_ERASER_MM && v <= MOST_ERASER_MM;
  return {
    kind: ERASER_KINDS.includes(kind) ? kind : ERASER.kind,
    sizesMm: Array.isArray(sizesMm) && sizesMm.length === 4 && sizesMm.every(isSize) ? sizesMm : ERASER.sizesMm,
    chosen: [0, 1, 2, 3].includes(chosen) ? chosen : ERASER.chosen,
    pressed: pressed === true,
    softness: isPart(softness) ? softness : ERASER.softness,
    strength: isPart(strength) ? strength : ERASER.strength,
  };
}

/** The pen in the artist's hand. */
export const penSlice = createSlice({
  name: 'pen',
  initialState: keptPen,
  reducers: {
    take: (state, { payload }: PayloadAction<PenKind>) => {
      state.kind = payload;
      state.keptId = null;
      state.erasing = false;
    },
    takeKept: (state, { payload }: PayloadAction<string>) => {
      const pen = state.pens.find(({ id }) => id === payload);
      if (!pen) return;
      state.kind = pen.kind;
      state.keptId = pen.id;
      state.erasing = false;
    },
    takeNib: (state, { payload }: PayloadAction<number>) => {
      state.nib = payload;
      state.erasing = false;
    },
    setSteady: (state, { payload }: PayloadAction<number>) => {
      state[state.device === 'pen' ? 'steady' : 'handSteady'][penKey(state)] = payload;
    },
    setPen: (state, { payload }: PayloadAction<Partial<PenSettings>>) => {
      const key = penKey(state);
      state.own[key] = { ...state.own[key], ...payload };
    },
    /** The pen in the hand is again as it came, or as it was kept. */
    resetPen: (state) => forget(state, penKey(state)),
    /** Keeps the pen in the hand, as it is set, under a name; the one that it was made of is as it was. */
    keepPen: {
      prepare: (name: string) => ({ payload: { name, id: nanoid() } }),
      reducer: (state, { payload }: PayloadAction<{ name: string; id: string }>) => {
        if (state.pens.length >= MOST_PENS) return;
        const key = penKey(state);
        state.pens.push({
          ...payload,
          kind: state.kind,
          settings: settingsInHand(state),
          steady: steadyWith(state, 'pen', key),
          handSteady: steadyWith(state, 'hand', key),
        });
        forget(state, key);
        state.keptId = payload.id;
      },
    },
    /** What was changed of the artist's own pen in the hand belongs to it from now on. */
    keepChanges: (state) => {
      const pen = state.pens.find(({ id }) => id === state.keptId);
      if (!pen) return;
      pen.settings = settingsInHand(state);
      pen.steady = steadyWith(state, 'pen', pen.id);
      pen.handSteady = steadyWith(state, 'hand', pen.id);
      forget(state, pen.id);
    },
    renamePen: (state, { payload }: PayloadAction<{ id: string; name: string }>) => {
      const pen = state.pens.find(({ id }) => id === payload.id);
      if (pen) pen.name = payload.name;
    },
    /** Moves one of the artist's own pens by so many places. */
    movePen: (state, { payload }: PayloadAction<{ id: string; by: number }>) => {
      const from = state.pens.findIndex(({ id }) => id === payload.id);
      const to = from + payload.by;
      if (from < 0 || to < 0 || to >= state.pens.length) return;
      state.pens.splice(to, 0, ...state.pens.splice(from, 1));
    },
    deletePen: (state, { payload }: PayloadAction<string>) => {
      state.pens = state.pens.filter(({ id }) => id !== payload);
      if (state.keptId === payload) state.keptId = null;
    },
    /** Puts pens where they were, or at the end. */
    addPens: (state, { payload }: PayloadAction<{ pens: KeptPen[]; at?: number }>) => {
      const known = new Set(state.pens.map(({ id }) => id));
      const room = MOST_PENS - state.pens.length;
      const fresh = payload.pens.filter(({ id }) => !known.has(id)).slice(0, room);
      state.pens.splice(payload.at ?? state.pens.length, 0, ...fresh);
    },
    /** They have been read, or another tab has changed them. */
    pensChanged: (state, { payload }: PayloadAction<KeptPen[]>) => {
      state.pens = state.pensAsKept = payload;
      if (!payload.some(({ id }) => id === state.keptId)) state.keptId = null;
    },
    setBeneath: (state, { payload }: PayloadAction<boolean>) => {
      state.beneath = payload;
    },
    setPointKind: (state, { payload }: PayloadAction<NodeKind>) => {
      state.pointKind = payload;
    },
    setForm: (state, { payload }: PayloadAction<Pick<PenState, 'form' | 'fill'>>) => {
      Object.assign(state, payload);
      state.erasing = false;
    },
    setCatching: (state, { payload }: PayloadAction<Catch>) => {
      state.catching = payload;
    },
    setPicksMore: (state, { payload }: PayloadAction<boolean>) => {
      state.picksMore = payload;
    },
    setLoopTakes: (state, { payload }: PayloadAction<LoopTakes>) => {
      state.loopTakes = payload;
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
    setEraser: (state, { payload }: PayloadAction<Partial<EraserState>>) => {
      state.eraser = { ...state.eraser, ...payload };
    },
  },
});

const forget = (state: PenState, key: PenKey): void => {
  for (const table of [state.own, state.steady, state.handSteady]) delete table[key];
};

/** What a pen's settings are kept by. */
export const penKey = ({ keptId, kind }: Pick<PenState, 'keptId' | 'kind'>): PenKey => keptId ?? kind;

const keptOf = (pen: PenState, key: PenKey): KeptPen | undefined => pen.pens.find(({ id }) => id === key);

/** The kind that a key names; of one that is not there, or not yet, that of the pen in the hand. */
const kindOf = (pen: PenState, key: PenKey): PenKind => PEN_KINDS.find((kind) => kind === key) ?? pen.kind;

function steadyWith(pen: PenState, device: PenState['device'], key: PenKey): number {
  const kept = keptOf(pen, key);
  const byKind = STEADY[kept?.kind ?? kindOf(pen, key)];
  return device === 'pen'
    ? (pen.steady[key] ?? kept?.steady ?? byKind)
    : (pen.handSteady[key] ?? kept?.handSteady ?? byKind + HAND_STEADIER);
}

/** How steady a pen is for what draws with it. @param key another than the one in the hand. */
export const steadyOf = (pen: PenState, key = penKey(pen)): number => steadyWith(pen, pen.device, key);

/** A pen as the artist has set it. */
export const ownSettings = (pen: PenState, key: PenKey): PenSettings => ({
  ...(keptOf(pen, key)?.settings ?? settingsOf(kindOf(pen, key))),
  ...pen.own[key],
});

/** The pen in the hand as it is set. */
export const settingsInHand = (pen: PenState): PenSettings => ownSettings(pen, penKey(pen));

/** Whether a pen is no longer as it came, or as it was kept. */
export function isChanged(pen: PenState, key = penKey(pen)): boolean {
  const isOther = (table: Record<PenKey, unknown>) => table[key] !== undefined;
  return isOther(pen.own) || (keptOf(pen, key) !== undefined && (isOther(pen.steady) || isOther(pen.handSteady)));
}

export const isErasing = (pen: PenState): boolean => pen.erasing || pen.eraserHeld;
