import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { SheetCard } from '../../contract/answers';
import type { Layer, SheetSettings } from '../../core/sheet/entities';
import type { Pen } from '../../core/stroke/pen';
import type { Ground } from '../canvas/paper-screen';
import type { SyncState } from '../session/sender';

/** A stroke that found no layer, as the interface knows it. */
export interface HeldSummary {
  id: string;
  pen: Pen;
  colour: string;
}

/** Ways of changing lines: whole, by their points, by pulling, by cutting parts away at crossings, or by drawing parts anew. */
export const EDIT_MODES = ['pick', 'points', 'bend', 'snip', 'mend'] as const;
export type EditMode = (typeof EDIT_MODES)[number];

export interface SheetState {
  status: 'closed' | 'opening' | 'open' | 'failed';
  problem?: string;
  card?: SheetCard;
  settings?: SheetSettings;
  /** All that is in sight has been painted once. */
  painted: boolean;
  /** Standing layers, bottom first. */
  stack: Layer[];
  undo: { count: number; label?: string };
  redo: { count: number; label?: string };
  sync: SyncState;
  held: HeldSummary[];
  /** `solo`: a layer or group that is looked at alone; `tones`: the picture lies over all in so many values; `isElsewhere`: mirrored or in a window, so that nothing lies over it. */
  looking: {
    peekHeld: boolean;
    peekKept: boolean;
    over: boolean;
    solo?: string;
    tones?: number;
    isElsewhere?: boolean;
  };
  movingPicture: string | null;
  /** The ink goes with the picture that is being moved. */
  moveWithInk: boolean;
  /** A phone's title bar and stops are folded away while inking. */
  folded: boolean;
  /** A pen came near the paper: the columns of a wide screen are folded away. */
  penNear: boolean;
  /** Of a phone's bars only undo and the eraser stay, and the way back. */
  paperOnly: boolean;
  /** Lines that are there are picked and changed, instead of new ones drawn. */
  editing: boolean;
  /** What touching them does. */
  editMode: EditMode;
  /** A phone's tray is open over the paper. */
  trayOpen: boolean;
  /** What the artist looks at the lines on. */
  ground: Ground;
  /** What lies under them while looking at what will be sent. */
  sentGround?: Ground;
  view: { scale: number; turnDeg: number };
}

const initial: SheetState = {
  status: 'closed',
  painted: false,
  stack: [],
  undo: { count: 0 },
  redo: { count: 0 },
  sync: { kind: 'saved' },
  held: [],
  looking: { peekHeld: false, peekKept: false, over: false },
  movingPicture: null,
  moveWithInk: false,
  folded: false,
  penNear: false,
  paperOnly: false,
  editing: false,
  editMode: 'pick',
  trayOpen: false,
  ground: 'paper',
  view: { scale: 1, turnDeg: 0 },
};

/** What the interface shows of the open sheet. Strokes and pixels live in its session. */
export const sheetSlice = createSlice({
  name: 'sheet',
  initialState: initial,
  reducers: {
    opening: () => ({ ...initial, status: 'opening' as const }),
    closed: () => initial,
    failed: (_state, { payload }: PayloadAction<string>) => ({
      ...initial,
      status: 'failed' as const,
      problem: payload,
    }),
    found: (state, { payload }: PayloadAction<SheetCard>) => {
      state.card = payload;
    },
    opened: (state) => {
      state.status = 'open';
    },
    painted: (state) => {
      state.painted = true;
    },
    structure: (state, { payload }: PayloadAction<{ settings: SheetSettings; stack: Layer[] }>) => {
      state.settings = payload.settings;
      // What is in them never changes: they are replaced.
      state.stack = payload.stack as typeof state.stack;
    },
    history: (state, { payload }: PayloadAction<Pick<SheetState, 'undo' | 'redo'>>) => {
      state.undo = payload.undo;
      state.redo = payload.redo;
    },
    sync: (state, { payload }: PayloadAction<SyncState>) => {
      state.sync = payload;
    },
    held: (state, { payload }: PayloadAction<HeldSummary[]>) => {
      state.held = payload;
    },
    look: (state, { payload }: PayloadAction<Partial<SheetState['looking']>>) => {
      Object.assign(state.looking, payload);
    },
    movePicture: (state, { payload }: PayloadAction<string | null>) => {
      state.movingPicture = payload;
    },
    moveWithInk: (state, { payload }: PayloadAction<boolean>) => {
      state.moveWithInk = payload;
    },
    paperOnly: (state, { payload }: PayloadAction<boolean>) => {
      state.paperOnly = payload;
    },
    setEditMode: (state, { payload }: PayloadAction<EditMode>) => {
      state.editMode = payload;
    },
    setEditing: (state, { payload }: PayloadAction<boolean>) => {
      state.editing = payload;
    },
    trayOpen: (state, { payload }: PayloadAction<boolean>) => {
      state.trayOpen = payload;
    },
    ground: (state, { payload }: PayloadAction<Ground>) => {
      state.ground = payload;
    },
    sentGround: (state, { payload }: PayloadAction<Ground | undefined>) => {
      state.sentGround = payload;
    },
    fold: (state) => {
      state.folded = true;
    },
    comeNear: (state) => {
      state.penNear = true;
    },
    unfold: (state) => {
      state.folded = state.penNear = state.paperOnly = false;
    },
    view: (state, { payload }: PayloadAction<SheetState['view']>) => {
      // A pan changes neither: then nothing is told to anyone.
      Object.assign(state.view, payload);
    },
  },
});
