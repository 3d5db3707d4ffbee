import { generateKeyBetween } from 'fractional-indexing';
import { nanoid } from 'nanoid';
import { MAX_PICTURE_BYTES, type PictureAnswer } from '../../contract/sheets';
import { byOrder, FIRST_LAYER, type ReferenceLayer } from '../../core/sheet/entities';
import { MAX_AREA_PX, MAX_SIDE_PX, type PaperSize } from '../../core/sheet/paper';
import { fittedPlacement } from '../../core/sheet/placement';
import { putRows, type Step } from '../../core/sheet/steps';
import { ApiFailure, doInDrawer, sendPicture, sendSteps } from './api';
import { deviceId } from './device';
import type { SheetSession } from './session';

/** How far bringing a picture has come: sending it (0 to 1), then preparing it on the server. */
export type PictureProgress = { stage: 'sending'; part: number } | { stage: 'preparing' };

/** Brings a picture to the server. @throws {ApiFailure} with what was wrong, for the artist. */
export async function bringPicture(
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<PictureAnswer> {
  if (file.size > MAX_PICTURE_BYTES)
    throw new ApiFailure(
      `This file has ${Math.round(file.size / 1048576)} MB; a picture may have 50 MB. Save it smaller and add it again.`,
      'too-large',
    );
  progress({ stage: 'sending', part: 0 });
  return sendPicture(file, (part) => progress(part < 1 ? { stage: 'sending', part } : { stage: 'preparing' }), signal);
}

function referenceLayer(picture: PictureAnswer, paper: PaperSize, name: string, order: string): ReferenceLayer {
  const ref = { hash: picture.hash, width: picture.width, height: picture.height };
  return {
    id: nanoid(),
    kind: 'reference',
    deleted: false,
    name,
    order,
    visible: true,
    // Nothing can ink a reference, locked or not: the lock tells that it also stays where it is.
    locked: true,
    opacity: 1,
    picture: ref,
    placement: fittedPlacement(ref, paper),
  };
}

/** A layer name from a file name. */
function pictureName(file: File): string {
  const stem = file.name
    .replace(/\.[^.]*$/, '')
    .trim()
    .slice(0, 60);
  return stem || 'Picture';
}

/** Adds a picture to the open sheet, beneath everything that is there. */
export async function addPicture(
  session: SheetSession,
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<PictureAnswer> {
  const picture = await bringPicture(file, progress, signal);
  signal.throwIfAborted();
  const all = [...session.model.layers.values()].sort(byOrder);
  // Above other references, below all ink.
  const firstInk = all.findIndex((l) => l.kind !== 'reference');
  const below = firstInk === -1 ? all[all.length - 1]?.order : all[firstInk - 1]?.order;
  const above = firstInk === -1 ? undefined : all[firstInk].order;
  const order = generateKeyBetween(below ?? null, above ?? null);
  await session.act('Add picture', [
    putRows('layers', referenceLayer(picture, session.paper, pictureName(file), order)),
  ]);
  return picture;
}

/** The paper that is as large as a picture, smaller only where the limits ask for it. */
export function paperLike(picture: { width: number; height: number }): PaperSize {
  const { width, height } = picture;
  const k = Math.min(1, MAX_SIDE_PX / Math.max(width, height), Math.sqrt(MAX_AREA_PX / (width * height)));
  return { widthPx: Math.max(16, Math.floor(width * k)), heightPx: Math.max(16, Math.floor(height * k)), ppi: 300 };
}

/** Makes a sheet as large as a picture, with the picture placed in it. @returns the sheet's id. */
export async function sheetFromPicture(
  file: File,
  progress: (p: PictureProgress) => void,
  signal: AbortSignal,
): Promise<string> {
  const picture = await bringPicture(file, progress, signal);
  signal.throwIfAborted();
  const paper = paperLike(picture);
  const sheetId = nanoid();
  const name = pictureName(file);
  await doInDrawer({ id: nanoid(), kind: 'create', sheetId, name, paper });
  const layer = referenceLayer(picture, paper, name, generateKeyBetween(null, FIRST_LAYER.order));
  const step: Step = {
    id: nanoid(),
    device: deviceId(),
    undoable: true,
    label: 'Add picture',
    changes: [putRows('layers', layer)],
  };
  await sendSteps(sheetId, [step], new Map());
  return sheetId;
}
