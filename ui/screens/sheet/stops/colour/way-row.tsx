import { Choice } from '../../../../components/choice';
import { colouringSlice, type ColourWay } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';

const WAYS: { value: ColourWay; label: string }[] = [
  { value: 'pour', label: 'Pour' },
  { value: 'lasso', label: 'Lasso' },
  { value: 'brush', label: 'Brush' },
];

/** How colour is laid. */
export function WayRow() {
  const dispatch = useAppDispatch();
  const way = useAppSelector((s) => s.colouring.way);
  return (
    <Choice
      label="How colour is laid"
      options={WAYS}
      value={way}
      onChange={(chosen) => dispatch(colouringSlice.actions.set({ way: chosen, picking: null }))}
    />
  );
}
