import { useRef } from 'react';
import Eraser from 'lucide-react-native/icons/eraser';
import { IconButton } from '../../../components/button';
import { HOLD_MS, pressTime } from '../../../components/press-time';
import { isErasing, penSlice } from '../../../store/pen-slice';
import { KEY_NAMES } from '../key-names';
import { useAppDispatch, useAppSelector } from '../../../store/store';

/** Tapped, the eraser is kept; held, it is borrowed. */
export function EraserButton() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const downAt = useRef(0);
  return (
    <IconButton
      label="Eraser: tap to keep it, hold to borrow it"
      keys={KEY_NAMES.eraser}
      icon={Eraser}
      chosen={isErasing(pen)}
      onPressIn={(e) => {
        downAt.current = pressTime(e);
        dispatch(penSlice.actions.holdEraser(true));
      }}
      onPressOut={(e) => {
        const tapped = pressTime(e) - downAt.current < HOLD_MS;
        dispatch(penSlice.actions.holdEraser(false));
        if (tapped) dispatch(penSlice.actions.setErasing(!pen.erasing));
      }}
    />
  );
}
