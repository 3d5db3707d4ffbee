import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { COLOURING_KEY, colouringSlice } from './colouring-slice';
import { drawerApi } from './drawer-api';
import { keep } from './kept';
import { PENS_KEY } from './kept-pen';
import { noticeSlice } from './notice-slice';
import { PEN_KEY, penSlice } from './pen-slice';
import { SETTINGS_KEY, settingsSlice } from './settings-slice';
import { sheetSlice } from './sheet-slice';

export const makeStore = () =>
  configureStore({
    reducer: {
      [drawerApi.reducerPath]: drawerApi.reducer,
      sheet: sheetSlice.reducer,
      pen: penSlice.reducer,
      colouring: colouringSlice.reducer,
      settings: settingsSlice.reducer,
      notices: noticeSlice.reducer,
    },
    middleware: (getDefault) => getDefault().concat(drawerApi.middleware),
  });

export type AppStore = ReturnType<typeof makeStore>;
export type RootState = ReturnType<AppStore['getState']>;
export type AppDispatch = AppStore['dispatch'];
export type AppThunk = (dispatch: AppDispatch, getState: () => RootState) => Promise<void>;

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

/** Keeps pen and settings for the next visit. */
export function keepPreferences(store: AppStore): void {
  let { pen, settings, colouring } = store.getState();
  store.subscribe(() => {
    const now = store.getState();
    if (now.settings !== settings) keep(SETTINGS_KEY, (settings = now.settings));
    if (now.colouring !== colouring) keep(COLOURING_KEY, (colouring = now.colouring));
    if (now.pen === pen) return;
    const before = pen;
    const { pens, pensAsKept, ...rest } = (pen = now.pen);
    keep(PEN_KEY, rest);
    if (pens !== before.pens && pens !== pensAsKept && !keep(PENS_KEY, pens))
      store.dispatch(noticeSlice.actions.add(NOT_KEPT));
  });
}

const NOT_KEPT = {
  text: 'This browser keeps nothing for the next visit, so your own pens last only as long as this page. Send them to a file to have them again.',
  tone: 'warning' as const,
};
