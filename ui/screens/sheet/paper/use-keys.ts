import { usePathname, useRouter } from 'expo-router';
import { useEffect, useRef, type RefObject } from 'react';
import { useStore } from 'react-redux';
import { moved, restingTurn } from '../../../../core/geometry/view';
import type { PointerInput } from '../../../canvas/pointer-input';
import type { SheetSession } from '../../../session/session';
import { penSlice } from '../../../store/pen-slice';
import { sheetSlice } from '../../../store/sheet-slice';
import { HOLD_MS } from '../../../components/press-time';
import type { AppStore } from '../../../store/store';
import type { PictureMover } from '../../../session/picture-mover';
import { STOPS, useGoToStop } from '../frame/stops-bar';

const ZOOM_STEP = 1.25;
const TURN_STEP_DEG = 15;
const MOVE_STEP_PX = 40;

/** The keys of the sheet's screens; key-list.ts tells the artist of them. */
export function useKeys(
  session: SheetSession,
  input: RefObject<PointerInput | undefined>,
  mover: RefObject<PictureMover | undefined>,
): void {
  const store = useStore() as AppStore;
  const router = useRouter();
  const go = useGoToStop();
  const path = usePathname();
  const goRef = useRef(go);
  const pathRef = useRef(path);
  useEffect(() => {
    goRef.current = go;
    pathRef.current = path;
  });

  useEffect(() => {
    let eraserDownAt = 0;
    const act = keyActions(session, store, mover);
    const down = (e: KeyboardEvent) => {
      if (isTyping(e.target)) return;
      const key = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && (key === 'z' || key === 'y')) {
        e.preventDefault();
        void (e.shiftKey || key === 'y' ? session.redo() : session.undo());
        return;
      }
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      const stop = STOPS.find((s) => s.key === e.key);
      if (stop) return goRef.current(stop.route);
      if (e.key === '?') return router.push({ pathname: '/keys', params: { from: pathRef.current } });
      // A focused control keeps its own keys: those that press it, and arrows where they choose something.
      const control = e.target instanceof HTMLElement ? e.target : undefined;
      const onControl = control?.closest('[role=slider],[role=button],[role=radio],[role=tab],[role=switch]');
      const takesArrows = control?.closest('[role=slider],[role=radio],[role=tab],[aria-label^="Drag "]');
      if (e.key === ' ' && !onControl) {
        e.preventDefault();
        if (input.current) input.current.spaceHeld = true;
        return;
      }
      if (takesArrows && e.key.startsWith('Arrow')) return;
      if (onControl && (e.key === ' ' || e.key === 'Enter')) return;
      if (e.repeat && 'hox'.includes(key)) return;
      if (key === 'x') {
        eraserDownAt = e.timeStamp;
        store.dispatch(penSlice.actions.holdEraser(true));
      } else if (act(key)) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase();
      if (key === ' ' && input.current) input.current.spaceHeld = false;
      if (key === 'h') store.dispatch(sheetSlice.actions.look({ peekHeld: false }));
      if (key === 'o') store.dispatch(sheetSlice.actions.look({ over: false }));
      if (key === 'x' && store.getState().pen.eraserHeld) {
        store.dispatch(penSlice.actions.holdEraser(false));
        if (e.timeStamp - eraserDownAt < HOLD_MS)
          store.dispatch(penSlice.actions.setErasing(!store.getState().pen.erasing));
      }
    };
    const blur = () => {
      store.dispatch(sheetSlice.actions.look({ peekHeld: false, over: false }));
      store.dispatch(penSlice.actions.holdEraser(false));
      if (input.current) input.current.spaceHeld = false;
    };
    // What a pointer has pressed gives the keys back to the paper; a keyboard's focus stays where it is.
    const giveBack = () =>
      setTimeout(() => {
        const focused = document.activeElement;
        if (focused instanceof HTMLElement && !isTyping(focused) && !focused.matches(':focus-visible, [role=slider]'))
          focused.blur();
      }, 0);
    window.addEventListener('pointerup', giveBack);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', blur);
    return () => {
      window.removeEventListener('pointerup', giveBack);
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', blur);
    };
  }, [session, store, router, input, mover]);
}

/** What plain keys do. @returns whether the key was one of them. */
function keyActions(session: SheetSession, store: AppStore, mover: RefObject<PictureMover | undefined>) {
  /** What the keys move: the picture while it may be moved, otherwise the page. */
  const nudge = (by: Parameters<PictureMover['nudge']>[1]): boolean => {
    const { movingPicture, moveWithInk } = store.getState().sheet;
    if (movingPicture) mover.current?.nudge(movingPicture, by, moveWithInk);
    return movingPicture !== null;
  };
  const zoom = (factor: number, turnDeg = 0) => {
    const { stage } = session;
    if (!stage) return;
    const middle: [number, number] = [stage.size.width / 2, stage.size.height / 2];
    stage.setView(moved(stage.view, middle, middle, factor, turnDeg));
  };
  const shift = (dx: number, dy: number) => {
    const { stage } = session;
    if (!stage || nudge({ dx: dx / 10 / stage.view.scale, dy: dy / 10 / stage.view.scale })) return;
    // Arrows move the sight, so the paper goes the other way.
    stage.setView({ ...stage.view, x: stage.view.x - dx, y: stage.view.y - dy });
  };
  const turn = (deg: number) => nudge({ turnDeg: Math.sign(deg) }) || zoom(1, deg);
  const level = () => {
    zoom(1, restingTurn(0) - (session.stage?.view.turnDeg ?? 0));
  };
  const actions: Record<string, () => void> = {
    '+': () => zoom(ZOOM_STEP),
    '=': () => zoom(ZOOM_STEP),
    '-': () => zoom(1 / ZOOM_STEP),
    '0': () => session.stage?.fit(),
    ',': () => turn(-TURN_STEP_DEG),
    '.': () => turn(TURN_STEP_DEG),
    m: level,
    h: () => store.dispatch(sheetSlice.actions.look({ peekHeld: true })),
    o: () => store.dispatch(sheetSlice.actions.look({ over: true })),
    arrowleft: () => shift(-MOVE_STEP_PX, 0),
    arrowright: () => shift(MOVE_STEP_PX, 0),
    arrowup: () => shift(0, -MOVE_STEP_PX),
    arrowdown: () => shift(0, MOVE_STEP_PX),
  };
  'asdf'.split('').forEach((key, i) => (actions[key] = () => store.dispatch(penSlice.actions.takeNib(i))));
  return (key: string): boolean => {
    const action = actions[key];
    action?.();
    return action !== undefined;
  };
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable);
