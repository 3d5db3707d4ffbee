import type { ReactNode } from 'react';
import { lazyPart } from '../../../components/lazy-part';

// What stops need besides the first view of a sheet: one file, fetched soon after it, so that they open without a server.
const laterFile = () => import('./later');

export const placeTray = lazyPart<object>(() => laterFile().then((m) => ({ default: m.PlaceTray })), 'Opening');
export const placeOverPaper = lazyPart<object>(() => laterFile().then((m) => ({ default: m.PlaceOverPaper })));
export const checkTray = lazyPart<object>(() => laterFile().then((m) => ({ default: m.CheckTray })), 'Opening');
export const checkOverPaper = lazyPart<object>(() => laterFile().then((m) => ({ default: m.CheckOverPaper })));
export const colourTray = lazyPart<object>(() => laterFile().then((m) => ({ default: m.ColourTray })), 'Opening');
export const colourFloat = lazyPart<object>(() => laterFile().then((m) => ({ default: m.HatchFloat })));
export const colourStatus = lazyPart<{ children: ReactNode }>(() =>
  laterFile().then((m) => ({ default: m.ColourStatus })),
);
export const colourOverPaper = lazyPart<object>(() => laterFile().then((m) => ({ default: m.ColourOverPaper })));
export const sendTray = lazyPart<object>(() => laterFile().then((m) => ({ default: m.SendTray })), 'Opening');
export const colourEditor = lazyPart<{ colour: string; onTake(colour: string): void }>(() =>
  laterFile().then((m) => ({ default: m.ColourEditor })),
);
export const editTray = lazyPart<object>(() => laterFile().then((m) => ({ default: m.EditTray })), 'Opening');
export const penSettingRows = lazyPart<object>(() => laterFile().then((m) => ({ default: m.PenSettingRows })));
export const keptPenRows = lazyPart<object>(() => laterFile().then((m) => ({ default: m.KeptPenRows })));
export const eraserRows = lazyPart<object>(() => laterFile().then((m) => ({ default: m.EraserRows })));
export const pickOverlay = lazyPart<object>(() => laterFile().then((m) => ({ default: m.PickOverlay })));
