import { useEffect, useMemo } from 'react';
import { Hatching, hatchHand, hatchOf, type HatchHand } from '../../../../session/hatching';
import { useOpenSheet } from '../../../../session/session-context';
import { useMadeOnce } from '../../../../session/use-made-once';
import { useWatched } from '../../../../session/watched';
import { colouringSlice } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { hatchings } from './colour-registry';
import { usePouring } from './use-pouring';

export const useHatching = (): Hatching => useMadeOnce(hatchings, (session, _say, warn) => new Hatching(session, warn));

/** What hatching would be laid with now. */
export function useHatchHand(): HatchHand | undefined {
  const { session } = useOpenSheet();
  const pen = useAppSelector((s) => s.pen);
  const settings = useAppSelector((s) => s.sheet.settings);
  const colouring = useAppSelector((s) => s.colouring);
  return useMemo(
    () => hatchHand({ pen, sheet: { settings }, colouring }, session.paper.ppi, session.stage?.view.scale ?? 1),
    // The scale is that of the moment at which something else changes: it says how a hand moved, and these are no hand's.
    [pen, settings, colouring, session],
  );
}

/** Works out the strokes between the guides: in one place, for all that show them. */
export function useHatch(): void {
  const hatching = useHatching();
  const guides = useWatched(hatching.guides);
  const hand = useHatchHand();
  useEffect(() => hatching.strokes.set(hand ? hatchOf(guides, hand) : []), [hatching, guides, hand]);
}

/** Keeps the strokes that are looked at when it is asked for, and when another way or another stop is taken: undo takes them back. */
export function useKeptHatching(): void {
  const dispatch = useAppDispatch();
  const hatching = useHatching();
  const pouring = usePouring();
  const hand = useHatchHand();
  const isHatching = useAppSelector((s) => s.colouring.way === 'hatch');
  useEffect(() => {
    hatching.keepBy(() => {
      if (!hand) return;
      void hatching.keep(hand, pouring).then((isKept) => {
        if (isKept) dispatch(colouringSlice.actions.used(hand.colour));
      });
    });
  }, [hatching, pouring, hand, dispatch]);
  useEffect(() => (isHatching ? () => hatching.leave() : undefined), [isHatching, hatching]);
}
