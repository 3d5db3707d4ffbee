import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { GuidePoints } from './guide-points';
import { CropOverPaper } from './crop-over-paper';
import { DevelopingCard } from './developing-card';
import { DividerOverPaper } from './divider-over-paper';
import { PaperOverPaper } from './paper-over-paper';
import { TouchTone } from './touch-tone';
import { TraceOverPaper } from './trace-over-paper';
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
      <DevelopingCard />
      {tool === 'crop' && <CropOverPaper />}
      {(tool === 'tone' || tool === 'lift') && (
        <>
          <DividerOverPaper />
          <TouchTone />
        </>
      )}
      {tool === 'trace' && <TraceOverPaper />}
      {(tool === 'paper' || !picture) && <PaperOverPaper />}
      <PictureArrivals />
    </>
  );
}
