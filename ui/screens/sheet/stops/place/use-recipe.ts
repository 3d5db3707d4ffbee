import type { Recipe } from '../../../../../core/picture/recipe';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';

/** What is done to a picture as it is shown now: while a control moves, with that. */
export function useRecipe(picture: PictureLayer): Recipe {
  const { toning } = useOpenSheet();
  useWatched(toning.draft);
  return toning.recipeOf(picture);
}
