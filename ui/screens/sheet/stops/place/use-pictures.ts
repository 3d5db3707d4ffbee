import { isPicture, type PictureLayer } from '../../../../../core/sheet/entities';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';

/** The sheet's pictures, topmost first. */
export function usePictures(): PictureLayer[] {
  const stack = useAppSelector((s) => s.sheet.stack);
  return stack.filter(isPicture).reverse();
}

/** The picture that is worked on: of those on the paper the chosen one, or the topmost that is shown. */
export function usePicture(): PictureLayer | undefined {
  const { placing } = useOpenSheet();
  const wanted = useWatched(placing.picture);
  const laid = usePictures().filter((p) => !p.beside);
  return laid.find((p) => p.id === wanted) ?? laid.find((p) => p.visible) ?? laid[0];
}
