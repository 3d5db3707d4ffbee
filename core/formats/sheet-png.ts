import type { SheetModel } from '../sheet/sheet-model';
import type { InkStore } from '../sheet/ink-store';
import type { PaperSize } from '../sheet/paper';
import { fillWith, layOver, unpremultiply } from '../raster/compose';
import { RasterWorkspace } from '../raster/draw-stroke';
import { makePixels, parseColour, type Pixels } from '../raster/pixels';
import type { Layer } from '../sheet/entities';
import { sentLayers } from '../sheet/sent-layers';
import { PngWriter } from './png';

export interface PngOptions {
  /** 0 for the paper's own pixels, 1 for twice as many; negative for small pictures. */
  level: number;
  /** The paper's colour beneath, or nothing. */
  onPaper: boolean;
  /** This layer alone, whatever its kind, full and shown: for its small picture. */
  only?: string;
  /** A small picture for the drawer: quickly rather than to the byte. */
  isOverview?: boolean;
}

/** About 1 MB of pixels at a time. */
const STRIP_PX = 262144;

/**
 * A sheet as a PNG, in strips: any size in bounded memory. What lies outside the paper is not in it.
 * Yields after each strip with the part done (0 to 1), so that a caller can show progress or stop.
 * @returns the parts of the file.
 */
export function* sheetPng(
  model: SheetModel,
  ink: InkStore,
  paper: PaperSize,
  { level, onPaper, only, isOverview = false }: PngOptions,
): Generator<number, Uint8Array[]> {
  const scale = 2 ** level;
  const width = Math.max(1, Math.round(paper.widthPx * scale));
  const height = Math.max(1, Math.round(paper.heightPx * scale));
  const stripHeight = Math.max(1, Math.min(height, Math.floor(STRIP_PX / width)));
  const work = new RasterWorkspace(width, stripHeight);
  const use = isOverview ? 'small' : 'exact';
  const channels = onPaper ? 3 : 4;
  const png = new PngWriter({ width, height, ppi: paper.ppi * scale, channels });
  const layers: Pick<Layer, 'id' | 'opacity'>[] = only ? [{ id: only, opacity: 1 }] : sentLayers(model);
  for (let y = 0; y < height; y += stripHeight) {
    const strip = makePixels(0, y, width, Math.min(stripHeight, height - y));
    if (onPaper) fillWith(strip, parseColour(model.settings.paperColour));
    for (const layer of layers) {
      const drawn = ink.draw(layer.id, level, strip, work, use);
      if (drawn) layOver(strip, drawn, layer.opacity);
    }
    png.write(onPaper ? withoutAlpha(strip) : straight(strip));
    yield (y + strip.height) / height;
  }
  return png.finish();
}

/** Runs a generator to its end. */
export function finish<T>(steps: Generator<number, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as T;
  }
}

function straight(strip: Pixels): Uint8ClampedArray {
  unpremultiply(strip.data);
  return strip.data;
}

function withoutAlpha({ data }: Pixels): Uint8Array {
  const out = new Uint8Array((data.length / 4) * 3);
  for (let i = 0, o = 0; i < data.length; i += 4) {
    out[o++] = data[i];
    out[o++] = data[i + 1];
    out[o++] = data[i + 2];
  }
  return out;
}
