import { useEffect } from 'react';
import { useOpenSheet } from '../../../../../session/session-context';
import { sheetSlice } from '../../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';
import { pickOverlay } from '../../later-parts';

/** What lies over the paper while lines are edited, or bent as they are drawn. With the stop that it belongs to editing ends. */
export function EditOverPaper() {
  const dispatch = useAppDispatch();
  const { picking } = useOpenSheet();
  const editing = useAppSelector((s) => s.sheet.editing);
  const form = useAppSelector((s) => s.pen.form);
  useEffect(
    () => () => {
      dispatch(sheetSlice.actions.setEditing(false));
      picking.clear();
    },
    [dispatch, picking],
  );
  return editing || form === 'bend' || form === 'points' ? <pickOverlay.Part /> : null;
}
