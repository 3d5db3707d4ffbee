import { useEffect } from 'react';
import { LoopLayer, PaintLayer } from '../../../../components/way-layer';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { CurtainOverPaper } from './curtain-over-paper';
import { FindingMarks } from './finding-marks';
import { PartMarks } from './part-marks';
import { useChecking } from './use-checking';
import { useWays } from './use-ways';

/** As wide as a fingertip, CSS px. */
const BRUSH_PX = 44;

/** What lies over the paper on Check; ways of looking end with it. */
export function CheckOverPaper() {
  const dispatch = useAppDispatch();
  const ways = useWays();
  const { stage } = useOpenSheet().session;
  const checking = useChecking();
  const stack = useAppSelector((s) => s.sheet.stack);
  const { apart, mirrored } = useWatched(ways.now);
  // A turned phone, other bars: the page moves then, too.
  useEffect(() => stage?.watchView(() => ways.show()), [stage, ways]);
  useEffect(() => {
    dispatch(sheetSlice.actions.look({ isElsewhere: apart !== undefined || mirrored }));
  }, [dispatch, apart, mirrored]);
  useEffect(
    () => () => {
      ways.leave();
      dispatch(sheetSlice.actions.look({ isElsewhere: false }));
    },
    [dispatch, ways, stage],
  );
  // Another picture of the stack: layers may have been shown or hidden.
  useEffect(() => checking.begin(), [checking, stage]);
  useEffect(() => checking.lookSoon(), [checking, stack]);
  const marking = useWatched(checking.marking);
  const onPaper = (points: [number, number][]) =>
    Float64Array.from(stage ? points.flatMap((at) => stage.toPaper(...stage.seen(at, points[0]))) : []);
  const paint = (points: [number, number][]) =>
    stage && checking.paintPart(onPaper(points), BRUSH_PX / 2 / stage.view.scale);
  return (
    <>
      <CurtainOverPaper />
      <FindingMarks />
      <PartMarks />
      {marking === 'loop' && <LoopLayer onLoop={(points) => checking.loopPart(onPaper(points))} />}
      {marking === 'paint' && <PaintLayer widthPx={BRUSH_PX} onPainted={paint} />}
    </>
  );
}
