import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { GuidePoints } from './guide-points';
import {
  cropOverPaperPart,
  developingPart,
  dividerPart,
  paperOverPaperPart,
  touchTonePart,
  traceOverPaperPart,
} from './parts';
import { PictureArrivals } from './picture-arrivals';
import { usePicture } from './use-pictures';
import { PlacementHandles } from './placement-handles';

/** What lies over the paper on Place. */
export function PlaceOverPaper() {
  const { placing } = useOpenSheet();
  const tool = useWatched(placing.tool);
  const picture = usePicture();
  return (
    <>
      <GuidePoints />
      <PlacementHandles />
      <developingPart.Part />
      {tool === 'crop' && <cropOverPaperPart.Part />}
      {(tool === 'tone' || tool === 'lift') && (
        <>
          <dividerPart.Part />
          <touchTonePart.Part />
        </>
      )}
      {tool === 'trace' && <traceOverPaperPart.Part />}
      {(tool === 'paper' || !picture) && <paperOverPaperPart.Part />}
      <PictureArrivals />
    </>
  );
}
