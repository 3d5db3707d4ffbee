import { nanoid } from 'nanoid';
import type { PictureAnswer } from '../../contract/answers';
import { FIRST_LAYER } from '../../core/sheet/entities';
import { layersIn, putAt } from '../../core/sheet/layer-changes';
import { bringPicture, pictureName, referenceLayer, type PictureProgress } from './pictures';
import type { SheetSession } from './session';

/** Adds a picture to the open sheet, beneath everything that is there. */
export async function addPicture(
  session: SheetSession,
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<PictureAnswer> {
  const picture = await bringPicture(file, progress, signal);
  signal.throwIfAborted();
  const { model } = session;
  // Above other references, below all ink.
  const firstInk = layersIn(model, null).findIndex((l) => l.kind !== 'reference');
  const layer = referenceLayer(nanoid(), picture, session.paper, pictureName(file), FIRST_LAYER.order);
  const changes = putAt(model, [layer], { parent: null, index: firstInk === -1 ? Infinity : firstInk });
  await session.act('Add picture', changes);
  return picture;
}
