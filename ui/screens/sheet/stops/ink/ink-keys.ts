import { HOLD_MS } from '../../../../components/press-time';
import { penSlice } from '../../../../store/pen-slice';
import type { KeyAction, KeyContext } from '../stop';

/** Nibs by the home row, and the eraser: tapped it is kept, held it is borrowed. */
export function inkKeys({ store }: KeyContext): Record<string, KeyAction> {
  const { takeNib, holdEraser, setErasing } = penSlice.actions;
  let downAt = 0;
  const keys: Record<string, KeyAction> = {
    x: {
      isForHand: true,
      down: (e) => {
        if (e.repeat) return;
        downAt = e.timeStamp;
        store.dispatch(holdEraser(true));
      },
      up: (e) => {
        const { eraserHeld, erasing } = store.getState().pen;
        if (!eraserHeld) return;
        store.dispatch(holdEraser(false));
        if (e.timeStamp - downAt < HOLD_MS) store.dispatch(setErasing(!erasing));
      },
      cancel: () => void store.dispatch(holdEraser(false)),
    },
  };
  'asdf'
    .split('')
    .forEach((key, nib) => (keys[key] = { isForHand: true, down: () => void store.dispatch(takeNib(nib)) }));
  return keys;
}
