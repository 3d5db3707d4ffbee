import type { KeyAction, KeyContext } from '../stop';

const STEP_PX = 4;
const TURN_DEG = 1;
const SCALE = 1.01;

/** While a picture may be moved, the arrows move it, and comma and full stop turn it, brackets scale it. */
export function placeKeys({ session, mover, store }: KeyContext): Record<string, KeyAction> {
  const nudge = (dx: number, dy: number, turnDeg = 0, factor = 1): KeyAction => ({
    down: () => {
      const { movingPicture, moveWithInk } = store.getState().sheet;
      if (!movingPicture || !session.stage) return false;
      const { scale } = session.stage.view;
      mover.nudge(movingPicture, { dx: dx / scale, dy: dy / scale, turnDeg, factor }, moveWithInk);
      return true;
    },
  });
  return {
    arrowleft: nudge(-STEP_PX, 0),
    arrowright: nudge(STEP_PX, 0),
    arrowup: nudge(0, -STEP_PX),
    arrowdown: nudge(0, STEP_PX),
    ',': nudge(0, 0, -TURN_DEG),
    '.': nudge(0, 0, TURN_DEG),
    '[': nudge(0, 0, 0, 1 / SCALE),
    ']': nudge(0, 0, 0, SCALE),
  };
}
