import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { drawerApi } from './drawer-api';
import { keep } from './kept';
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
      settings: settingsSlice.reducer,
      notices: noticeSlice.reducer,
    },
    middleware: (getDefault) => getDefault().concat(drawerApi.middleware),
  });

export type AppStore = ReturnType<typeof makeStore>;
export type RootState = ReturnType<AppStore['getState']>;
export type AppDispatch = AppStore['dispatch'];

export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

/** Keeps pen and settings for the next visit. */
export function keepPreferences(store: AppStore): void {
  let { pen, settings } = store.getState();
  store.subscribe(() => {
    const now = store.getState();
    if (now.pen !== pen) keep(PEN_KEY, (pen = now.pen));
    if (now.settings !== settings) keep(SETTINGS_KEY, (settings = now.settings));
  });
}
