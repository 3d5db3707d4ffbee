import { createCanvas } from '@napi-rs/canvas';
import { decode as decodeBmp } from 'bmp-ts';
import { dirname, join } from 'node:path';
import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { MAX_PICTURE_PIXELS, WORKING_SIDE_PX } from '../../contract/limits';
import { chunk } from '../../core/formats/png';
import { DecodeFailure, type DecodedFile } from './decoded';
import type { DecodedKind } from './kinds';
import { openRasterLayers } from './open-raster';

/**
 * Makes plain pictures of a file that the server's picture library does not read, or does not read within bounds.
 * Runs in a process of its own: whoever calls it can end it.
 * @throws {DecodeFailure} and whatever a library throws.
 */
export const decoders: Record<DecodedKind, (bytes: Uint8Array) => Promise<DecodedFile>> = {
  svg: drawSvg,
  pdf: drawPdf,
  heic: decodeHeic,
  bmp: async (bytes) => single(await ofBmp(bytes)),
  openraster: async (bytes) => openRasterLayers(bytes),
};

const single = (bytes: Uint8Array, frames = 1): DecodedFile => ({ pictures: [{ bytes }], frames });

const PNG = { compressionLevel: 1 };
/** What a px of an SVG is at 72 to the inch; the library takes no more than the second. */
const SVG_DENSITY = 72;
const MOST_DENSITY = 1e5;

/**
 * Drawn as large as devices show pictures: it has no pixels of its own. Nothing in it is run and nothing outside of it
 * is read: the library is given no place to read from. Entities of its own could make a small file large.
 */
async function drawSvg(bytes: Uint8Array): Promise<DecodedFile> {
  if (/<!ENTITY/i.test(Buffer.from(bytes).toString('latin1'))) throw new DecodeFailure('picture-has-entities');
  const sideAt = async (density: number) => {
    const { width = 0, height = 0 } = await sharp(bytes, { density, limitInputPixels: false }).metadata();
    return Math.max(width, height);
  };
  const [side, sideAtTwice] = [await sideAt(SVG_DENSITY), await sideAt(2 * SVG_DENSITY)];
  if (!side) throw new DecodeFailure('not-a-picture');
  // A size in mm, pt or inches grows with the density twice: its px are more, and each is drawn larger.
  const power = sideAtTwice > 3 * side ? 2 : 1;
  const factor = (WORKING_SIDE_PX / side) ** (1 / power);
  const density = Math.min(MOST_DENSITY, Math.max(1, SVG_DENSITY * factor));
  const drawn = sharp(bytes, { density, limitInputPixels: MAX_PICTURE_PIXELS }).resize(
    WORKING_SIDE_PX,
    WORKING_SIDE_PX,
    {
      fit: 'inside',
      withoutEnlargement: true,
    },
  );
  return single(await drawn.png(PNG).toBuffer());
}

/** The first page on white, as large as devices show pictures. */
async function drawPdf(bytes: Uint8Array): Promise<DecodedFile> {
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const home = dirname(require.resolve('pdfjs-dist/package.json'));
  const files = (name: string) => join(home, name, '/');
  const pdf = await getDocument({
    data: new Uint8Array(bytes),
    cMapUrl: files('cmaps'),
    standardFontDataUrl: files('standard_fonts'),
    wasmUrl: files('wasm'),
    iccUrl: files('iccs'),
    disableFontFace: true,
    enableXfa: false,
    maxImageSize: MAX_PICTURE_PIXELS,
    verbosity: 0,
  }).promise.catch((error: Error) => {
    throw new DecodeFailure(error.name === 'PasswordException' ? 'picture-locked' : 'picture-cut-short', error.message);
  });
  const page = await pdf.getPage(1);
  const own = page.getViewport({ scale: 1 });
  const viewport = page.getViewport({ scale: WORKING_SIDE_PX / Math.max(own.width, own.height) });
  const canvas = createCanvas(Math.max(1, Math.round(viewport.width)), Math.max(1, Math.round(viewport.height)));
  // The library's types know the browser's canvas only.
  await page.render({ canvas: canvas as unknown as HTMLCanvasElement, viewport, background: '#ffffff' }).promise;
  return single(new Uint8Array(await canvas.encode('png')), pdf.numPages);
}

/** The picture that the file calls its first, turned as it says, in the colours that its profile names. */
async function decodeHeic(bytes: Uint8Array): Promise<DecodedFile> {
  const { HeifDecoder } = (await import('libheif-js/wasm-bundle.js')).default;
  const found = new HeifDecoder().decode(bytes);
  const picture = found.find((p) => p.is_primary()) ?? found[0];
  if (!picture) throw new DecodeFailure('picture-cut-short');
  const [width, height] = [picture.get_width(), picture.get_height()];
  if (width * height > MAX_PICTURE_PIXELS) throw new DecodeFailure('picture-too-many-pixels');
  const data = new Uint8ClampedArray(4 * width * height);
  const shown = await new Promise<object | null>((done) => picture.display({ data, width, height }, done));
  if (!shown) throw new DecodeFailure('picture-cut-short');
  const raw = sharp(data, { raw: { width, height, channels: 4 } });
  const plain = picture.has_alpha_channel() ? raw : raw.removeAlpha();
  const profile = profileIn(bytes);
  const png = await plain.png(PNG).toBuffer();
  return single(profile ? withProfile(png, profile) : png);
}

/** The colour profile in an ISO base media file: a box `colr` of kind `prof` or `rICC`. @see ISO/IEC 14496-12, 12.1.5 */
function profileIn(bytes: Uint8Array): Uint8Array | undefined {
  const file = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (const kind of ['colrprof', 'colrrICC']) {
    const at = file.indexOf(kind, 0, 'latin1');
    const size = at >= 4 ? file.readUInt32BE(at - 4) : 0;
    if (size > 12 && at - 4 + size <= file.length) return file.subarray(at + 8, at - 4 + size);
  }
  return undefined;
}

/** A PNG with its colour profile: a chunk iCCP after the header. @see W3C PNG, third edition, 11.3.2.3 */
function withProfile(png: Uint8Array, profile: Uint8Array): Uint8Array {
  const data = Buffer.concat([Buffer.from('profile\0\0', 'latin1'), deflateSync(profile)]);
  const header = 8 + 25;
  return Buffer.concat([png.subarray(0, header), chunk('iCCP', data), png.subarray(header)]);
}

/** Where the header of a BMP says how large it is; the oldest kind says it in 16 bits. */
const BMP_HEADER = 14;

async function ofBmp(bytes: Uint8Array): Promise<Uint8Array> {
  const file = Buffer.from(bytes);
  if (file.length < BMP_HEADER + 12) throw new DecodeFailure('picture-cut-short');
  const isOld = file.readUInt32LE(BMP_HEADER) === 12;
  const [w, h] = isOld ? [file.readUInt16LE(18), file.readUInt16LE(20)] : [file.readInt32LE(18), file.readInt32LE(22)];
  const [width, height] = [Math.abs(w), Math.abs(h)];
  if (width === 0 || height === 0) throw new DecodeFailure('not-a-picture');
  if (width * height > MAX_PICTURE_PIXELS) throw new DecodeFailure('picture-too-many-pixels');
  const bits = file.readUInt16LE(isOld ? 24 : 28);
  if (!BMP_BITS.includes(bits)) throw new DecodeFailure('not-a-picture');
  const isPacked = !isOld && [1, 2].includes(file.readUInt32LE(30));
  const rows = Math.ceil((width * bits) / 32) * 4 * height;
  if (!isPacked && file.readUInt32LE(10) + rows > file.length) throw new DecodeFailure('picture-cut-short');
  if (bits === 32) return ofBmp32(file, width, h);
  const { data } = decodeBmp(file, { toRGBA: true });
  // With a palette of more than two colours the library leaves its own order: alpha, blue, green, red.
  if (bits === 4 || bits === 8) data.swap32();
  return sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png(PNG)
    .toBuffer();
}

/** How many bits a pixel may take. */
const BMP_BITS = [1, 4, 8, 16, 24, 32];
/** Where the masks of red, green, blue and alpha lie, and which headers have the last one. */
const BMP_MASKS = 54;
const BMP_HEADER_WITH_ALPHA = 56;
const ALPHA_FIELDS = 6;

/**
 * Pixels of 32 bits, with their alpha: where a mask says so, or, without masks, where any pixel has some.
 * @param rows upwards; negative: downwards.
 */
async function ofBmp32(file: Buffer, width: number, rows: number): Promise<Uint8Array> {
  const height = Math.abs(rows);
  const hasMasks = file.readUInt32LE(30) !== 0;
  const [r, g, b, a] = [0, 4, 8, 12].map((at) =>
    hasMasks ? file.readUInt32LE(BMP_MASKS + at) : 0xff << (16 - 2 * at),
  );
  const size = file.readUInt32LE(BMP_HEADER);
  const hasAlphaMask = size >= BMP_HEADER_WITH_ALPHA || file.readUInt32LE(30) === ALPHA_FIELDS;
  const masks = [r, g, b, hasMasks ? (hasAlphaMask ? a : 0) : 0xff000000].map((mask) => mask >>> 0);
  const shifts = masks.map((mask) => (mask ? 31 - Math.clz32(mask & -mask) : 0));
  const largest = masks.map((mask, i) => mask >>> shifts[i]);
  const data = Buffer.alloc(4 * width * height);
  let mostAlpha = 0;
  let from = file.readUInt32LE(10);
  for (let row = 0; row < height; row++) {
    let to = 4 * width * (rows > 0 ? height - 1 - row : row);
    for (let x = 0; x < width; x++, from += 4) {
      const pixel = file.readUInt32LE(from);
      for (let i = 0; i < 4; i++)
        data[to++] = largest[i] ? Math.round((255 * ((pixel & masks[i]) >>> shifts[i])) / largest[i]) : 0;
      mostAlpha = Math.max(mostAlpha, data[to - 1]);
    }
  }
  const raw = sharp(data, { raw: { width, height, channels: 4 } });
  return (mostAlpha ? raw : raw.removeAlpha()).png(PNG).toBuffer();
}
