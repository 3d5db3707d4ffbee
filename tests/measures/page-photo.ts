import { createCanvas } from '@napi-rs/canvas';
import sharp from 'sharp';
import type { Quad } from '../../core/geometry/homography';
import type { Picture } from '../../core/picture/warp';
import { openCv } from './opencv';
import { random } from './strokes';

export interface Shot {
  width: number;
  height: number;
  /** Where the page's corners are, px, from its upper left clockwise. */
  corners: Quad;
  /** The page's own size, px. */
  page?: { width: number; height: number };
  /** Luma of what the page lies on, and of its paper. */
  table?: number;
  paper?: number;
  /** How much darker the light is at the lower right than at the upper left, 0 to 1. */
  falloff?: number;
  noise?: number;
  blurPx?: number;
  jpeg?: number;
  /** Stripes and a cup on the table. */
  clutter?: boolean;
  seed?: number;
}

/** A pencil page: a frame, curves, hatching, words' worth of short lines. */
export function pencilPage(width: number, height: number, paper = 235, seed = 5) {
  const canvas = createCanvas(width, height);
  const ctx = canvas.getContext('2d');
  const rnd = random(seed);
  ctx.fillStyle = `rgb(${paper}, ${paper}, ${paper - 6})`;
  ctx.fillRect(0, 0, width, height);
  ctx.strokeStyle = '#4a4a50';
  ctx.lineCap = 'round';
  const k = Math.min(width, height) / 600;
  ctx.lineWidth = 4 * k;
  ctx.strokeRect(width * 0.12, height * 0.1, width * 0.5, height * 0.4);
  for (let n = 0; n < 14; n++) {
    ctx.beginPath();
    ctx.moveTo(width * (0.15 + 0.7 * rnd()), height * (0.15 + 0.7 * rnd()));
    ctx.bezierCurveTo(
      ...([0, 0, 0].flatMap(() => [width * (0.12 + 0.76 * rnd()), height * (0.12 + 0.76 * rnd())]) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ]),
    );
    ctx.stroke();
  }
  ctx.lineWidth = 2 * k;
  for (let n = 0; n < 40; n++) {
    const [x, y] = [width * (0.6 + 0.004 * n), height * 0.7];
    ctx.beginPath();
    ctx.moveTo(x, y);
    ctx.lineTo(x + 20 * k, y + 60 * k);
    ctx.stroke();
  }
  return canvas;
}

/**
 * A page photographed: seen in perspective (by OpenCV's own map), on a table, in uneven light, a little out of focus,
 * with noise, as a JPEG.
 */
export async function photographed(shot: Shot): Promise<Picture> {
  const { width, height, corners, table = 90, paper = 235, falloff = 0.4, noise = 4, blurPx = 1 } = shot;
  const { width: w, height: h } = shot.page ?? { width: 560, height: 792 };
  const { cv } = await openCv();
  const page = pencilPage(w, h, paper, shot.seed).getContext('2d').getImageData(0, 0, w, h);
  const from = cv.matFromArray(4, 1, cv.CV_32FC2, [0, 0, w, 0, w, h, 0, h]);
  const to = cv.matFromArray(4, 1, cv.CV_32FC2, corners.flat());
  const map = cv.getPerspectiveTransform(from, to);
  const [source, seen] = [cv.matFromImageData(page as never), new cv.Mat()];
  cv.warpPerspective(source, seen, map, new cv.Size(width, height), cv.INTER_AREA, cv.BORDER_CONSTANT, new cv.Scalar());
  const rnd = random(shot.seed ?? 3);
  const data = new Uint8ClampedArray(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const alpha = seen.data[4 * at + 3] / 255;
      const ground = shot.clutter ? clutter(x / width, y / height, table) : table;
      const light = 1 - falloff * (0.5 * (x / width) + 0.5 * (y / height)) ** 1.3;
      for (let c = 0; c < 3; c++) {
        const value = seen.data[4 * at + c] + (1 - alpha) * (ground - 8 * c);
        data[3 * at + c] = value * light + noise * (rnd() + rnd() + rnd() - 1.5) * 1.4;
      }
    }
  for (const mat of [from, to, map, source, seen]) mat.delete();
  const soft = sharp(Buffer.from(data.buffer), { raw: { width, height, channels: 3 } });
  const jpeg = await (blurPx >= 0.3 ? soft.blur(blurPx) : soft).jpeg({ quality: shot.jpeg ?? 85 }).toBuffer();
  return pictureOf(jpeg);
}

/** Boards, and a cup in a corner. */
function clutter(u: number, v: number, table: number): number {
  const board = Math.floor(u * 7 + 0.3 * v) % 2 ? 14 : -10;
  const cup = Math.hypot(u - 0.93, (v - 0.06) * 1.3);
  return cup < 0.05 ? 220 : cup < 0.06 ? 30 : table + board;
}

/** An encoded picture as RGBA. */
export async function pictureOf(bytes: Buffer): Promise<Picture> {
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8ClampedArray(data) };
}
