import { nanoid } from 'nanoid';
import { useEffect, useReducer, useRef, useState } from 'react';
import type { SheetCard } from '../../contract/answers';
import { fitted, type Size } from '../../core/geometry/view';
import type { PaperSize } from '../../core/sheet/paper';
import { drawnRatio } from '../canvas/paper-screen';
import { levelOnScreen } from '../canvas/stage';
import { noticeSlice } from '../store/notice-slice';
import { drawerApi } from '../store/drawer-api';
import { sheetSlice } from '../store/sheet-slice';
import { useAppDispatch, type AppDispatch } from '../store/store';
import { keepWay } from '../store/ways-back';
import { ApiFailure, overviewAddress } from './api';
import { Inking } from './inking';
import { Bending } from './bending';
import { LayerActs } from './layer-acts';
import { Bringing } from './bringing';
import { Picking } from './picking';
import { MEND, SNIP, WayEdit } from './way-edit';
import { Cropping } from './cropping';
import { Toning } from './toning';
import { Placing } from './placing';
import { PictureMover } from './picture-mover';
import { SheetSession, type WayBack } from './session';
import type { OpenSheet } from './session-context';

/**
 * Opens a sheet for as long as the component stands, and tells the store what to show of it.
 * @param free the part of the screen that no bar covers, CSS px: its ink is read for the level that fits there.
 */
export function useSheet(id: string, free: Size): OpenSheet | undefined {
  const dispatch = useAppDispatch();
  const freeNow = useRef(free);
  const [open, setOpen] = useState<OpenSheet>();
  const kept = useRef<{ id: string; placing: Placing }>(undefined);
  const [papers, nextPaper] = useReducer((n: number) => n + 1, 0);

  useEffect(() => {
    let gone = false;
    let session: SheetSession | undefined;
    let bringing: Bringing | undefined;
    dispatch(sheetSlice.actions.opening());
    const failed = (error: unknown) => {
      const text =
        error instanceof ApiFailure ? error.message : 'This sheet could not be read. Nothing was changed; try again.';
      if (!(error instanceof ApiFailure)) console.error(error);
      if (gone) return;
      setOpen(undefined);
      session = undefined;
      dispatch(sheetSlice.actions.failed(text));
    };
    const tell = { ...teller(dispatch, () => session), failed, paperChanged: nextPaper };
    SheetSession.open(id, (paper) => firstLevel(paper, freeNow.current), tell).then((opened) => {
      session = opened;
      if (gone) return opened.close();
      const inking = new Inking(
        opened,
        (held) => dispatch(sheetSlice.actions.held(held.map(({ id, pen, colour }) => ({ id, pen, colour })))),
        tell.notice,
      );
      // What Place is busy with outlasts another paper.
      if (kept.current?.id !== id) kept.current = { id, placing: new Placing() };
      const { placing } = kept.current;
      bringing = new Bringing(opened, tell.say, tell.notice, (layerId) => placing.take(layerId));
      const bending = new Bending(opened, tell.notice);
      inking.onBend = (stroke, path) => bending.hold(stroke, path);
      dispatch(sheetSlice.actions.opened());
      tell.structure();
      tell.history();
      setOpen({
        session: opened,
        inking,
        mover: new PictureMover(opened),
        bringing,
        placing,
        // A crop is laid over what is toned.
        toning: new Toning(opened, tell.notice),
        cropping: new Cropping(opened, tell.notice),
        picking: new Picking(opened, tell.notice),
        bending,
        layerActs: new LayerActs(opened, tell.say, tell.notice),
        wayEdits: {
          snip: new WayEdit(opened, tell.notice, SNIP) as WayEdit,
          mend: new WayEdit(opened, tell.notice, MEND) as WayEdit,
        },
      });
    }, failed);
    return () => {
      gone = true;
      bringing?.stop();
      setOpen(undefined);
      dispatch(sheetSlice.actions.closed());
      if (session) void leave(session, dispatch);
    };
    // Of another paper everything is made anew.
  }, [id, dispatch, papers]);

  useEffect(() => {
    const session = open?.session;
    if (!session) return;
    const again = () => document.visibilityState === 'visible' && session.retryNow();
    window.addEventListener('online', again);
    window.addEventListener('focus', again);
    document.addEventListener('visibilitychange', again);
    return () => {
      window.removeEventListener('online', again);
      window.removeEventListener('focus', again);
      document.removeEventListener('visibilitychange', again);
    };
  }, [open]);

  return open;
}

/** Leaves the small picture for the drawer behind, then closes. */
async function leave(session: SheetSession, dispatch: AppDispatch): Promise<void> {
  if (session.keeping.isDue) {
    await atMost(LEAVING_MS, session.whenSaved());
    await session.keeping.keepPicture();
    void dispatch(drawerApi.endpoints.sheets.initiate(undefined, { forceRefetch: true, subscribe: false }));
    // It may take long on a full sheet; what is not done by then is mended at the next opening.
    await atMost(LEAVING_MS, session.keeping.keepTiles());
  }
  session.close();
}

const LEAVING_MS = 5000;

const atMost = (ms: number, task: Promise<unknown>): Promise<unknown> =>
  Promise.race([task, new Promise((done) => setTimeout(done, ms))]);

/** A large drawing may keep the server busy for longer than the picture that stands in for it should take. */
const PICTURE_MS = 400;

/** Fetches the small picture that was kept with a sheet, or gives it up: it stands in until the ink is there. */
async function firstPicture({ id, overviewSeq }: SheetCard): Promise<void> {
  if (overviewSeq === null) return;
  const picture = new Image();
  picture.src = overviewAddress(id, overviewSeq);
  await Promise.race([picture.decode().catch(() => undefined), new Promise((done) => setTimeout(done, PICTURE_MS))]);
}

const firstLevel = (paper: PaperSize, free: Size): number => {
  const { scale } = fitted({ width: paper.widthPx, height: paper.heightPx }, free);
  const screen = { width: window.innerWidth, height: window.innerHeight };
  return levelOnScreen(scale, drawnRatio(screen, window.devicePixelRatio));
};

function teller(dispatch: AppDispatch, session: () => SheetSession | undefined) {
  const { structure, history, sync } = sheetSlice.actions;
  const told = (text: string, tone: 'plain' | 'warning', wayBack?: WayBack) => {
    const action = wayBack && { label: wayBack.label, does: keepWay(() => wayBack.does()) };
    dispatch(noticeSlice.actions.add({ text, tone, action }));
  };
  return {
    found: (card: SheetCard) => {
      dispatch(sheetSlice.actions.found(card));
      return firstPicture(card);
    },
    structure: () => {
      const model = session()?.model;
      if (model) dispatch(structure({ settings: model.settings, stack: model.stack() }));
    },
    history: () => {
      const s = session();
      if (!s) return;
      const side = (name: 'undo' | 'redo') => ({ count: s.history[name].length, label: s.nextLabel(name) });
      dispatch(history({ undo: side('undo'), redo: side('redo') }));
    },
    sync: (state: Parameters<typeof sync>[0]) => dispatch(sync(state)),
    notice: (text: string, wayBack?: WayBack) => told(text, 'warning', wayBack),
    /** What has come of an act, where nothing is wrong. */
    say: (text: string, wayBack?: WayBack) => told(text, 'plain', wayBack),
    restoreSheet: () => {
      const id = session()?.card.id;
      if (id) void dispatch(drawerApi.endpoints.act.initiate({ id: nanoid(), kind: 'restore', sheetId: id }));
    },
  };
}
