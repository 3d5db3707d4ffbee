import { ColourRow } from '../../../../components/colour-row';
import { penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';

/** Ink colours to take for the pen. */
export function ColourChips({ colours, wrap }: { colours: readonly string[]; wrap?: boolean }) {
  const dispatch = useAppDispatch();
  const current = useAppSelector((s) => s.pen.colour);
  const take = (colour: string) => dispatch(penSlice.actions.takeColour(colour));
  return <ColourRow label="Ink colour" colours={colours} taken={current} wrap={wrap} onTake={take} />;
}
