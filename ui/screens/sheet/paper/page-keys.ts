import { moved, restingTurn } from '../../../../core/geometry/view';
import { sheetSlice } from '../../../store/sheet-slice';
import type { KeyAction, KeyContext, KeyLine } from '../stops/stop';

const ZOOM_STEP = 1.25;
const TURN_STEP_DEG = 15;
const MOVE_STEP_PX = 40;

/** Keys that every stop has: they move the page, and look without or with the picture. */
export function pageKeys({ session, store }: Pick<KeyContext, 'session' | 'store'>): Record<string, KeyAction> {
  const aboutMiddle = (factor: number, turnDeg: number) => {
    const { stage } = session;
    if (!stage) return;
    const middle: [number, number] = [stage.size.width / 2, stage.size.height / 2];
    stage.setView(moved(stage.view, middle, middle, factor, turnDeg));
  };
  const zoom = (factor: number): KeyAction => ({ down: () => aboutMiddle(factor, 0) });
  const turn = (deg: number): KeyAction => ({ down: () => aboutMiddle(1, deg) });
  // Arrows move the sight, so the paper goes the other way.
  const shift = (dx: number, dy: number): KeyAction => ({
    down: () => {
      const { stage } = session;
      stage?.setView({ ...stage.view, x: stage.view.x - dx, y: stage.view.y - dy });
    },
  });
  const look = (held: 'peekHeld' | 'over'): KeyAction => {
    const set = (on: boolean) => void store.dispatch(sheetSlice.actions.look({ [held]: on }));
    return { down: (e) => !e.repeat && set(true), up: () => set(false), cancel: () => set(false) };
  };
  return {
    '+': zoom(ZOOM_STEP),
    '=': zoom(ZOOM_STEP),
    '-': zoom(1 / ZOOM_STEP),
    '0': { down: () => session.stage?.fit() },
    ',': turn(-TURN_STEP_DEG),
    '.': turn(TURN_STEP_DEG),
    m: { down: () => aboutMiddle(1, restingTurn(0) - (session.stage?.view.turnDeg ?? 0)) },
    h: look('peekHeld'),
    o: look('over'),
    arrowleft: shift(-MOVE_STEP_PX, 0),
    arrowright: shift(MOVE_STEP_PX, 0),
    arrowup: shift(0, -MOVE_STEP_PX),
    arrowdown: shift(0, MOVE_STEP_PX),
  };
}

/** What the page of keys says of these, and of those that belong to no stop. */
export const PAGE_KEY_LINES: readonly KeyLine[] = [
  { keys: 'H, held', does: 'Peek: picture and roughs away' },
  { keys: 'O, held', does: 'Over: the picture on top, full' },
  { keys: 'I, held', does: 'Ink without pressing: for a trackpad' },
  { keys: 'Space, held', does: 'Drag to move the page' },
  { keys: 'Arrows', does: 'Move the page' },
  { keys: '+ and -', does: 'Zoom in and out' },
  { keys: '0', does: 'Fit the page' },
  { keys: ', and .', does: 'Turn the page left and right; M levels it' },
];
