import { useEffect } from 'react';
import { compose, type Matrix } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import { isPicture } from '../../../../../core/sheet/entities';
import { shownSize } from '../../../../../core/sheet/recipe-placement';
import { placementMatrix } from '../../../../../core/sheet/placement';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useTellings } from '../../../../components/use-tellings';
import type { PictureMover } from '../../../../session/picture-mover';
import { useOpenSheet } from '../../../../session/session-context';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { gestureOf } from '../../paper/corner-drag';
import { FrameHandles } from '../../paper/frame-handles';
import { handlePlaces } from '../../paper/handle-places';

/** The frame of the picture that is being moved, if one is. */
export function PlacementHandles() {
  const dispatch = useAppDispatch();
  const moving = useAppSelector((s) => s.sheet.movingPicture);
  // A picture can be moved as long as its stop is open.
  useEffect(() => () => void dispatch(sheetSlice.actions.movePicture(null)), [dispatch]);
  return moving === null ? null : <HandlesOf layerId={moving} />;
}

const watchDraft = (mover: PictureMover, told: () => void) => mover.watchDraft(told);

/** Corners scale the picture, the stem turns it. */
function HandlesOf({ layerId }: { layerId: string }) {
  const { session, mover } = useOpenSheet();
  const withInk = useAppSelector((s) => s.sheet.moveWithInk);
  const layer = useAppSelector((s) => s.sheet.stack.find((l) => l.id === layerId));
  const { stage } = session;
  useViewOf(stage);
  useTellings(mover, watchDraft);

  const placement = mover.placementOf(layerId);
  if (!stage || !placement || !isPicture(layer)) return null;
  const size = shownSize(layer);
  const toScreen = compose(viewMatrix(stage.view), placementMatrix(placement, size));
  const drag = {
    begin: () => mover.begin(layerId, withInk),
    move: (change: Matrix) => {
      const { from, to, factor, turnDeg } = gestureOf(change);
      mover.move(from, to, factor, turnDeg);
    },
    end: () => mover.end(),
    drop: () => mover.drop(),
  };
  return (
    <FrameHandles places={handlePlaces(toScreen, size.width, size.height, stage.free())} onScale={drag} onTurn={drag} />
  );
}
