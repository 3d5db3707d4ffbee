import { nanoid } from 'nanoid';
import type { PictureAnswer } from '../../contract/answers';
import { FIRST_LAYER, type ReferenceLayer } from '../../core/sheet/entities';
import { MAX_AREA_PX, MAX_SIDE_PX, paperProblem, type PaperSize } from '../../core/sheet/paper';
import { ordersBelow } from '../../core/sheet/orders';
import { fittedPlacement } from '../../core/sheet/placement';
import { putRows, type Step } from '../../core/sheet/steps';
import { printable } from '../../core/sheet/words';
import { ApiFailure, doInDrawer, sendSteps } from './api';
import { deviceId } from './device';

/** Paper larger than this is offered for no picture: it needs no more for smooth lines. */
const LARGE_ENOUGH_PX = 6400;

/**
 * What a file brought, as layers, bottom first: a picture fitted to the paper, full; layers as they lie in their file,
 * which is fitted as a whole. Their places in the stack are to be given.
 */
export function referenceLayers({ pictures, canvas }: PictureAnswer, paper: PaperSize, name: string): ReferenceLayer[] {
  return pictures.map(({ hash, width, height, layer }) => {
    const picture = { hash, width, height };
    const fitted = fittedPlacement(canvas ?? picture, paper);
    const place = canvas &&
      layer && { x: layer.x + width / 2 - canvas.width / 2, y: layer.y + height / 2 - canvas.height / 2 };
    return {
      id: nanoid(),
      kind: 'reference',
      deleted: false,
      name: (layer && nameFrom(layer.name)) || name,
      order: FIRST_LAYER.order,
      visible: layer?.visible ?? true,
      locked: false,
      opacity: layer?.opacity ?? 1,
      picture,
      placement: place
        ? { ...fitted, cx: fitted.cx + place.x * fitted.scale, cy: fitted.cy + place.y * fitted.scale }
        : fitted,
    };
  });
}

/** The size of what a file brought, px. */
export const sizeOf = ({ pictures, canvas }: PictureAnswer): { width: number; height: number } =>
  canvas ?? pictures[pictures.length - 1];

/** A layer name from a file name. */
export const pictureName = (file: File): string => nameFrom(printable(file.name).replace(/\.[^.]*$/, '')) || 'Picture';

const nameFrom = (text: string): string => printable(printable(text).slice(0, 60)).trim();

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
  const orders = ordersBelow([FIRST_LAYER.order], picture.pictures.length);
  const layers = referenceLayers(picture, paper, pictureName(file)).map((layer, i) => ({ ...layer, order: orders[i] }));
  const step: Step = {
    id: nanoid(),
    device: deviceId(),
    undoable: true,
    label: 'Add picture',
    changes: [putRows('layers', ...layers)],
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
