import type { Labelling } from '../../../../session/labelling';
import type { KeyAction, KeyContext } from '../stop';
import { labellings } from './colour-registry';

/** An arrow moves by so many CSS px. */
const STEP_PX = 4;
const TURN_DEG = 1;
const FACTOR = 1.02;
/** Keys that rest for so long have ended their gesture. */
const REST_MS = 350;

/** Keys of the label that is chosen: arrows move it, comma and full stop turn it, brackets size it; Delete and Escape. */
export function labelKeys({ session, store, layerActs }: KeyContext): Record<string, KeyAction> {
  const chosen = (): Labelling | undefined => {
    const labelling = labellings.get(session);
    return store.getState().colouring.way === 'text' && labelling?.label() ? labelling : undefined;
  };
  const moves = (move: (px: number) => Parameters<Labelling['showOn']>[0]): KeyAction => ({
    down: () => {
      const labelling = chosen();
      if (!labelling) return false;
      labelling.showOn(move(STEP_PX / (session.stage?.view.scale ?? 1)));
      labelling.keepSoon(REST_MS);
      return true;
    },
  });
  const erase: KeyAction = {
    down: () => {
      const label = chosen()?.label();
      if (!label) return false;
      void layerActs.delete([label.layer.id]);
      return true;
    },
  };
  return {
    arrowleft: moves((px) => ({ dx: -px })),
    arrowright: moves((px) => ({ dx: px })),
    arrowup: moves((px) => ({ dy: -px })),
    arrowdown: moves((px) => ({ dy: px })),
    ',': moves(() => ({ turnDeg: -TURN_DEG })),
    '.': moves(() => ({ turnDeg: TURN_DEG })),
    '[': moves(() => ({ factor: 1 / FACTOR })),
    ']': moves(() => ({ factor: FACTOR })),
    delete: erase,
    backspace: erase,
  };
}
