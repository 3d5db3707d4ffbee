import { Choice } from '../../../../components/choice';
import { colouringSlice, type ColourWay } from '../../../../store/colouring-slice';
import { useLayoutKind } from '../../frame/layout-kind';
import { useAppDispatch, useAppSelector } from '../../../../store/store';

const WAYS: { value: ColourWay; label: string }[] = [
  { value: 'pour', label: 'Pour' },
  { value: 'lasso', label: 'Lasso' },
  { value: 'brush', label: 'Brush' },
  { value: 'hatch', label: 'Hatch' },
  { value: 'text', label: 'Text' },
];

/** How colour is laid. */
export function WayRow() {
  const dispatch = useAppDispatch();
  const isNarrow = useLayoutKind() === 'phone';
  const way = useAppSelector((s) => s.colouring.way);
  return (
    <Choice
      label="How colour is laid"
      options={WAYS}
      tight={isNarrow}
      value={way}
      onChange={(chosen) => dispatch(colouringSlice.actions.set({ way: chosen, picking: null }))}
    />
  );
}
