import { createSlice, nanoid, type PayloadAction } from '@reduxjs/toolkit';

export interface Notice {
  id: string;
  text: string;
  tone: 'plain' | 'warning';
  /** A way back, by the name of what it does. */
  action?: { label: string; kind: 'restore-sheet'; sheetId: string };
}

/** Short messages at the edge of the screen, the latest last. */
export const noticeSlice = createSlice({
  name: 'notices',
  initialState: [] as Notice[],
  reducers: {
    add: {
      prepare: (notice: Omit<Notice, 'id' | 'tone'> & Partial<Pick<Notice, 'tone'>>) => ({
        payload: { tone: 'plain' as const, ...notice, id: nanoid() },
      }),
      reducer: (state, { payload }: PayloadAction<Notice>) =>
        [...state.filter((n) => n.text !== payload.text), payload].slice(-3),
    },
    dismiss: (state, { payload }: PayloadAction<string>) => state.filter((n) => n.id !== payload),
  },
});
