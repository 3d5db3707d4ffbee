import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { readKept } from './kept';

export const SETTINGS_KEY = 'hush-line.settings';

export interface SettingsState {
  theme: 'system' | 'light' | 'dark';
  /** The hand that draws; controls stand on the other side. */
  hand: 'right' | 'left';
  /** Fingers move the page once a pen has been seen. */
  fingersMove: boolean;
  /** The nib lies a little above the fingertip. */
  nibAboveFinger: boolean;
  /** What a pen does while its side button is held. */
  sideButton: 'move' | 'erase';
  /** On a wide screen the columns stay while a pen is near. */
  columnsStay: boolean;
}

const initial: SettingsState = {
  theme: 'system',
  hand: 'right',
  fingersMove: true,
  nibAboveFinger: false,
  sideButton: 'move',
  columnsStay: false,
};

/** How this device's owner likes the interface. */
export const settingsSlice = createSlice({
  name: 'settings',
  initialState: () => readKept(SETTINGS_KEY, initial),
  reducers: {
    set: (state, { payload }: PayloadAction<Partial<SettingsState>>) => ({ ...state, ...payload }),
  },
});
