import PaintBucket from 'lucide-react-native/icons/paint-bucket';
import { handTool } from '../../../../session/hand-tool';
import { isErasing } from '../../../../store/pen-slice';
import { colouringSlice, COLOUR_WAYS } from '../../../../store/colouring-slice';
import { colourFloat, colourOverPaper, colourStatus, colourTray } from '../later-parts';
import type { KeyAction, KeyContext, Stop } from '../stop';
import { hatchings, labellings, pourings } from './colour-registry';
import { HatchGestures } from './hatch-gestures';
import { LabelGestures } from './label-gestures';
import { labelKeys } from './label-keys';
import { LassoGestures } from './lasso-gestures';
import { PickColourGestures } from './pick-colour-gestures';
import { PourGestures } from './pour-gestures';

const colourKeys = ({ session, store }: KeyContext): Record<string, KeyAction> => ({
  w: {
    down: () => {
      const at = COLOUR_WAYS.indexOf(store.getState().colouring.way);
      store.dispatch(colouringSlice.actions.set({ way: COLOUR_WAYS[(at + 1) % COLOUR_WAYS.length], picking: null }));
    },
  },
  q: {
    down: () => {
      const { picking } = store.getState().colouring;
      store.dispatch(colouringSlice.actions.set({ picking: picking ? null : 'picture' }));
    },
  },
  enter: {
    down: () => {
      const pouring = pourings.get(session);
      if (pouring?.runningOut.question.now()) {
        void pouring.bridgeAndPour();
        return true;
      }
      const hatching = hatchings.get(session);
      if (hatching?.guides.now().length !== 2) return false;
      hatching.keepNow();
      return true;
    },
  },
  escape: {
    down: () => {
      const pouring = pourings.get(session);
      if (pouring?.runningOut.question.now()) {
        pouring.letGo();
        return true;
      }
      const hatching = hatchings.get(session);
      if (hatching?.guides.now().length) {
        hatching.clear();
        return true;
      }
      const labelling = labellings.get(session);
      if (labelling?.isOpen()) {
        labelling.choose(undefined);
        return true;
      }
      if (!store.getState().colouring.picking) return false;
      store.dispatch(colouringSlice.actions.set({ picking: null }));
      return true;
    },
  },
});

const keys = (context: KeyContext): Record<string, KeyAction> => ({ ...labelKeys(context), ...colourKeys(context) });

export const COLOUR: Stop = {
  route: 'colour',
  name: 'Colour',
  icon: PaintBucket,
  key: '4',
  Tray: colourTray.Part,
  Status: colourStatus.Part,
  Float: colourFloat.Part,
  OverPaper: colourOverPaper.Part,
  tool: ({ pen, colouring }, settings, ppi, eraserEnd) => ({
    ...handTool(pen, settings, ppi, eraserEnd),
    colour: colouring.colour,
  }),
  gestures: ({ session, store }, place) => {
    const { colouring, pen } = store.getState();
    const pouring = pourings.get(session);
    if (colouring.picking) return new PickColourGestures(pouring, store);
    if (isErasing(pen)) return undefined;
    if (colouring.way === 'pour') return new PourGestures(pouring, store);
    if (colouring.way === 'lasso') return new LassoGestures(pouring, store);
    if (colouring.way === 'text') return new LabelGestures(labellings.get(session));
    if (colouring.way === 'hatch') return new HatchGestures(hatchings.get(session));
    // What is painted by hand lands beneath the ink, too.
    if (place) pouring?.makeLayer();
    return undefined;
  },
  keys,
  keyLines: [
    { keys: 'W', does: 'Colour: the next way, of pouring, pouring in a loop, painting, hatching, and text' },
    { keys: 'Enter', does: 'Colour: keep the hatching; Escape drops its guides' },
    { keys: 'Enter', does: 'Colour: bridge and pour where colour would run out; Escape pours nothing' },
    {
      keys: 'Arrows , . [ ]',
      does: 'Colour, a chosen text: move it, turn it, size it; Delete takes it away, Escape lets go of it',
    },
    { keys: 'Q', does: 'Colour: take a colour from the picture; Escape takes none' },
  ],
};
