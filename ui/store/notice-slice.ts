import { createSlice, nanoid, type PayloadAction } from '@reduxjs/toolkit';

export interface Notice {
  id: string;
  text: string;
  tone: 'plain' | 'warning';
  /** A way back; `does` is its key in ways-back.ts. */
  action?: { label: string; does: string };
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
