import { nanoid } from 'nanoid';
import type { PictureAnswer } from '../../contract/answers';
import { ordersForMove } from '../../core/sheet/orders';
import { putRows, type Change } from '../../core/sheet/steps';
import { bringPicture, pictureName, referenceLayer, type PictureProgress } from './pictures';
import type { SheetSession } from './session';
import { orderChange } from './stack-actions';

/** Adds a picture to the open sheet, beneath everything that is there. */
export async function addPicture(
  session: SheetSession,
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<PictureAnswer> {
  const picture = await bringPicture(file, progress, signal);
  signal.throwIfAborted();
  // Above other references, below all ink.
  const stack = session.model.stack();
  const firstInk = stack.findIndex((l) => l.kind !== 'reference');
  const id = nanoid();
  const places = ordersForMove(stack, id, firstInk === -1 ? stack.length : firstInk);
  const order = places.find((p) => p.id === id)!.order;
  const others = places.filter((p) => p.id !== id);
  const changes: Change[] = [putRows('layers', referenceLayer(id, picture, session.paper, pictureName(file), order))];
  if (others.length) changes.push(orderChange(session, others));
  await session.act('Add picture', changes);
  return picture;
}
