import type { SheetModel } from '../sheet/sheet-model';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { PaperSize } from '../sheet/paper';
import { unpremultiply } from '../raster/compose';
import { fillWith } from '../raster/fill-with';
import { layParts, type Part } from '../raster/lay-parts';
import { RasterWorkspace } from '../raster/draw-stroke';
import { makePixels, parseColour, type Pixels } from '../raster/pixels';
import { laidParts } from '../sheet/laid-parts';
import { layerTree, withHeld } from '../sheet/layer-tree';
import { sentParts } from '../sheet/sent-layers';
import type { Deflating } from './deflating';
import { PngWriter } from './png';
import { stripHeight } from './strips';

export interface PngOptions {
  /** 0 for the paper's own pixels, 1 for twice as many; negative for small pictures. */
  level: number;
  /** The paper's colour beneath, or nothing. */
  onPaper: boolean;
  /** This layer alone, whatever its kind, full and shown: for its small picture. */
  only?: string;
}

/** Gives the pixels of a picture that is a layer, in a rectangle of a level's grid: RGBA, multiplied by alpha. */
export type PictureSource = (
  layerId: string,
  level: number,
  rect: Omit<Pixels, 'data'>,
) => Promise<Uint8ClampedArray<ArrayBuffer>>;

/** Where there can be none. */
export const noPictures: PictureSource = (layerId) => Promise.reject(new Error(`no picture of layer ${layerId} here`));

/** What draws a layer's part of a rectangle of the level's grid; yields what is lacking. */
export type DrawLayer = (layerId: string, rect: Omit<Pixels, 'data'>) => Generator<Pause, Pixels | undefined>;

function stripsOf(paper: PaperSize, level: number) {
  const width = Math.max(1, Math.round(paper.widthPx * 2 ** level));
  const height = Math.max(1, Math.round(paper.heightPx * 2 ** level));
  return { width, height, rows: stripHeight(width, height) };
}

/** Draws from the strokes themselves, to the byte. */
function fromStrokes(ink: InkStore, paper: PaperSize, level: number): DrawLayer {
  const { width, rows } = stripsOf(paper, level);
  const work = new RasterWorkspace(width, rows);
  return (layerId, rect) => ink.drawing(layerId, level, rect, work, 'exact');
}

/**
 * A sheet as a PNG, in strips: any size in bounded memory. What lies outside the paper is not in it.
 * Yields after each strip with the part done (0 to 1), so that a caller can show progress or stop.
 * @param pictures gives what is no ink. @param drawInk another source of a layer's pixels than its strokes.
 * @param zlib packs it, if not at once.
 * @returns the parts of the file.
 */
export function* sheetPng(
  model: SheetModel,
  ink: InkStore,
  paper: PaperSize,
  { level, onPaper, only }: PngOptions,
  pictures: PictureSource = noPictures,
  drawInk: DrawLayer = fromStrokes(ink, paper, level),
  zlib?: Deflating,
): Generator<Pause, Uint8Array[]> {
  const { width, height, rows } = stripsOf(paper, level);
  const channels = onPaper ? 3 : 4;
  const png = new PngWriter({ width, height, ppi: paper.ppi * 2 ** level, channels }, zlib);
  const draw: DrawLayer = (id, rect) =>
    model.layers.get(id)?.kind === 'lifted' ? pictureIn(pictures, id, level, rect) : drawInk(id, rect);
  const parts = only ? onlyPart(model, only) : sentParts(model);
  const paperColour = parseColour(model.settings.paperColour);
  /** Nothing lies on it, and nothing on the strip before. */
  let blank: Pixels | undefined;
  for (let y = 0; y < height; y += rows) {
    const count = Math.min(rows, height - y);
    const strip: Pixels = blank?.height === count ? { ...blank, y0: y } : makePixels(0, y, width, count);
    if (onPaper && strip.data !== blank?.data) fillWith(strip, paperColour);
    const isDrawn = yield* layParts(strip, parts, draw);
    const packing = !isDrawn && blank ? png.repeat(count) : png.write(onPaper ? strip.data : straight(strip));
    blank = isDrawn ? undefined : strip;
    if (packing) yield packing;
    yield (y + count) / height;
  }
  return yield* png.finish();
}

/** A picture's part of a rectangle, once it is there. */
export function* pictureIn(
  pictures: PictureSource,
  layerId: string,
  level: number,
  rect: Omit<Pixels, 'data'>,
): Generator<Pause, Pixels> {
  const out = makePixels(rect.x0, rect.y0, rect.width, rect.height);
  yield pictures(layerId, level, rect).then((data) => void out.data.set(data));
  return out;
}

/** A layer, or a group with what it holds, full and shown. */
function onlyPart(model: SheetModel, id: string): Part[] {
  const held = withHeld(id, model.tree());
  if (held.at(-1)?.kind !== 'group') return [{ id, opacity: 1 }];
  const shown = held.map((layer) => (layer.id === id ? { ...layer, visible: true } : layer));
  return laidParts(layerTree(shown), () => true).map((part) => ({ ...part, opacity: 1, blend: 'normal' }));
}

function straight({ data }: Pixels): Pixels['data'] {
  unpremultiply(data);
  return data;
}
