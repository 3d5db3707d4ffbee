import { useEffect } from 'react';
import { shallowEqual } from 'react-redux';
import { labelsOf, type StandingLabel } from '../../../../../core/sheet/labels';
import { lengthInPx } from '../../../../../core/sheet/paper';
import { Labelling, type LabelHand } from '../../../../session/labelling';
import { useOpenSheet } from '../../../../session/session-context';
import { useMadeOnce } from '../../../../session/use-made-once';
import { useWatched } from '../../../../session/watched';
import { colouringSlice, type TextDials } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { labellings } from './colour-registry';

/** The first letters of a sheet are as high as this on the screen, CSS px. */
const FIRST_PX = 40;
/** A colour that is slid along is a step when it rests. */
const REST_MS = 300;

export const useLabelling = (): Labelling =>
  useMadeOnce(labellings, (session, _say, warn) => new Labelling(session, warn));

/** Every label of the sheet, the lowest first, as it is now. */
export function useLabels(): readonly StandingLabel[] {
  const { session } = useOpenSheet();
  // The model changes with these.
  useAppSelector((s) => s.sheet.stack);
  useAppSelector((s) => s.sheet.undo);
  useAppSelector((s) => s.sheet.redo);
  return labelsOf(session.model);
}

/** The label that is worked on. */
export function useLabel(): StandingLabel | undefined {
  const chosen = useWatched(useLabelling().chosen);
  return useLabels().find(({ layer }) => layer.id === chosen);
}

/** How a new label would be set now. */
export function useLabelHand(): LabelHand {
  const { session } = useOpenSheet();
  const { text, colour } = useAppSelector((s) => s.colouring);
  const { font, align, spacing, sizeMm, outlined, outline, outlineColour } = text;
  const sizePx = sizeMm === null ? FIRST_PX / (session.stage?.view.scale ?? 1) : lengthInPx(sizeMm, session.paper.ppi);
  return {
    ...{ font, align, spacing, colour, sizePx },
    ...(outlined ? { outline: { width: outline, colour: outlineColour } } : {}),
  };
}

/** Changes how labels are set from now on. */
export function useTextDials(): [TextDials, (change: Partial<TextDials>) => void] {
  const dispatch = useAppDispatch();
  const text = useAppSelector((s) => s.colouring.text);
  return [text, (change) => dispatch(colouringSlice.actions.set({ text: { ...text, ...change } }))];
}

/** Keeps hand and label together while Colour is open: the hand has the chosen label's colour, and gives it another. */
export function useLabelInHand(): void {
  const dispatch = useAppDispatch();
  const labelling = useLabelling();
  const label = useLabel();
  const changes = useAppSelector((s) => [s.sheet.stack, s.sheet.undo, s.sheet.redo] as const, shallowEqual);
  const { way, colour } = useAppSelector((s) => s.colouring);
  const isWriting = way === 'text';
  useEffect(() => (isWriting ? () => labelling.leave() : undefined), [isWriting, labelling]);
  useEffect(() => labelling.follow(), [labelling, changes]);
  const id = label?.layer.id;
  const own = label?.letters.colour;
  useEffect(() => {
    if (own !== undefined) dispatch(colouringSlice.actions.set({ colour: own }));
    // When another is chosen, not when its colour changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, dispatch]);
  useEffect(() => {
    if (id === undefined || colour === own) return undefined;
    const timer = setTimeout(() => {
      void labelling.recolour(colour, id);
      dispatch(colouringSlice.actions.used(colour));
    }, REST_MS);
    return () => clearTimeout(timer);
    // When the hand takes another colour, not when the label has another.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [colour, labelling, dispatch]);
}
