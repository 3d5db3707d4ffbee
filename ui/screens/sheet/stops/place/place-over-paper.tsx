import { CropOverPaper } from './crop-over-paper';
import { GuidePoints } from './guide-points';
import { PictureArrivals } from './picture-arrivals';
import { TouchTone } from './touch-tone';
import { PlacementHandles } from './placement-handles';

/** What lies over the paper on Place. */
export function PlaceOverPaper() {
  return (
    <>
      <GuidePoints />
      <PlacementHandles />
      <CropOverPaper />
      <TouchTone />
      <PictureArrivals />
    </>
  );
}
