import { useEffect } from 'react';
import { useOpenSheet } from '../../../../session/session-context';
import { colouringSlice } from '../../../../store/colouring-slice';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { HatchOverPaper } from './hatch-over-paper';
import { HeldShapes } from './held-shapes';
import { LabelOverPaper } from './label-over-paper';
import { Loupe } from './loupe';
import { RanOutOverPaper } from './ran-out-over-paper';
import { UnfilledMarks } from './unfilled-marks';
import { usePouring } from './use-pouring';

/** What lies over the paper on Colour; colour lands on colour layers as long as it does. */
export function ColourOverPaper() {
  const { stage } = useOpenSheet().session;
  const pouring = usePouring();
  const dispatch = useAppDispatch();
  useEffect(() => (stage ? pouring.begin() : undefined), [pouring, stage]);
  const target = useAppSelector((s) => s.sheet.settings?.target ?? null);
  useEffect(() => pouring.followTarget(target), [pouring, target]);
  useEffect(
    () => () => {
      dispatch(colouringSlice.actions.set({ picking: null }));
      dispatch(sheetSlice.actions.look({ tones: undefined }));
    },
    [dispatch],
  );
  return (
    <>
      <UnfilledMarks />
      <HeldShapes />
      <HatchOverPaper />
      <LabelOverPaper />
      <RanOutOverPaper />
      <Loupe />
    </>
  );
}
