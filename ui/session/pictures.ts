import { nanoid } from 'nanoid';
import type { PictureAnswer } from '../../contract/answers';
import { MAX_PICTURE_BYTES } from '../../contract/limits';
import { FIRST_LAYER, type ReferenceLayer } from '../../core/sheet/entities';
import { MAX_AREA_PX, MAX_SIDE_PX, paperProblem, type PaperSize } from '../../core/sheet/paper';
import { orderBelow } from '../../core/sheet/orders';
import { fittedPlacement } from '../../core/sheet/placement';
import { putRows, type Step } from '../../core/sheet/steps';
import { printable } from '../../core/sheet/words';
import { ApiFailure, doInDrawer, sendPicture, sendSteps } from './api';
import { deviceId } from './device';

/** Paper larger than this is offered for no picture: it needs no more for smooth lines. */
const LARGE_ENOUGH_PX = 6400;

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

/** A picture that the server has as a layer: fitted, locked, full. */
export function referenceLayer(
  id: string,
  picture: PictureAnswer,
  paper: PaperSize,
  name: string,
  order: string,
): ReferenceLayer {
  const ref = { hash: picture.hash, width: picture.width, height: picture.height };
  return {
    id,
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
export function pictureName(file: File): string {
  const stem = printable(
    printable(file.name)
      .replace(/\.[^.]*$/, '')
      .slice(0, 60),
  ).trim();
  return stem || 'Picture';
}

/** The paper that is as large as a picture, smaller only where the limits ask for it. */
export function paperLike(picture: { width: number; height: number }): PaperSize {
  const { width, height } = picture;
  const k = Math.min(1, MAX_SIDE_PX / Math.max(width, height), Math.sqrt(MAX_AREA_PX / (width * height)));
  return { widthPx: Math.max(16, Math.floor(width * k)), heightPx: Math.max(16, Math.floor(height * k)), ppi: 300 };
}

/** Papers in the shape of a picture, for a sheet that begins with it: its own size, and larger ones for a small one. */
export function papersFor(picture: { width: number; height: number }): { factor: number; paper: PaperSize }[] {
  const own = paperLike(picture);
  const papers = [{ factor: 1, paper: own }];
  for (const factor of [2, 4]) {
    const paper = { ...own, widthPx: own.widthPx * factor, heightPx: own.heightPx * factor };
    const longest = Math.max(paper.widthPx, paper.heightPx);
    if (longest <= LARGE_ENOUGH_PX && paperProblem(paper) === undefined) papers.push({ factor, paper });
  }
  return papers;
}

/**
 * Makes a sheet with a picture that the server has, fitted into it. @returns the sheet's id.
 * @throws {ApiFailure} and then leaves no empty sheet behind.
 */
export async function sheetWithPicture(
  file: File,
  picture: PictureAnswer,
  name: string,
  paper: PaperSize,
): Promise<string> {
  const sheetId = nanoid();
  await doInDrawer({ id: nanoid(), kind: 'create', sheetId, name, paper });
  const id = nanoid();
  const layer = referenceLayer(id, picture, paper, pictureName(file), orderBelow([FIRST_LAYER.order]));
  const step: Step = {
    id: nanoid(),
    device: deviceId(),
    undoable: true,
    label: 'Add picture',
    changes: [putRows('layers', layer)],
  };
  try {
    const { results } = await sendSteps(sheetId, [step], new Map());
    const [result] = results;
    if ('refused' in result) throw new ApiFailure(result.refused.message, result.refused.code);
  } catch (error) {
    // An empty sheet is not what was asked for. Should this fail too, the drawer shows it.
    await doInDrawer({ id: nanoid(), kind: 'delete', sheetId }).catch(() => undefined);
    throw error;
  }
  return sheetId;
}
