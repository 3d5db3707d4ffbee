/** Pictures that the library reads, most of them in strips, where the server runs; see `isHeavy` for the others. */
const RASTER_TYPES = {
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  gif: 'image/gif',
  tiff: 'image/tiff',
  avif: 'image/avif',
} as const;
/** Files that are first made into plain pictures, in a process of their own (`child.ts`). */
const DECODED_TYPES = {
  svg: 'image/svg+xml',
  pdf: 'application/pdf',
  heic: 'image/heic',
  bmp: 'image/bmp',
  openraster: 'image/openraster',
} as const;

/** Instead of a kind, for the process that decodes: a plain picture is copied; a side in px and how many frames follow. */
export const PLAIN = 'plain';

export type RasterKind = keyof typeof RASTER_TYPES;
export type DecodedKind = keyof typeof DECODED_TYPES;
export type FileKind = RasterKind | DecodedKind;

export const MEDIA_TYPES: Record<FileKind, string> = { ...RASTER_TYPES, ...DECODED_TYPES };

/** The kind of a media type whose files can be read again as they are; undefined: they had to be decoded first. */
export const rasterKindOf = (type: string): RasterKind | undefined =>
  (Object.keys(RASTER_TYPES) as RasterKind[]).find((kind) => RASTER_TYPES[kind] === type);

export const isDecoded = (kind: FileKind): kind is DecodedKind => kind in DECODED_TYPES;

/** What a file is by its first bytes, whatever it is called; undefined: no picture that we know. */
export function kindOf(bytes: Uint8Array): FileKind | undefined {
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, 4096)).toString('latin1');
  const starts = SIGNATURES.find(([text]) => head.startsWith(text));
  if (starts) return starts[1];
  if (head.startsWith('RIFF') && head.startsWith('WEBP', 8)) return 'webp';
  if (head.startsWith('ftyp', 4)) return kindOfBrands(head);
  if (head.startsWith('PK\x03\x04') && head.startsWith('mimetypeimage/openraster', 30)) return 'openraster';
  // Some printers' files have a line of their own before the header; readers look for it in the first KB.
  if (head.slice(0, 1024).includes('%PDF-')) return 'pdf';
  return /<(?:[\w-]+:)?svg[\s>]/.test(head) ? 'svg' : undefined;
}

const SIGNATURES: readonly (readonly [string, FileKind])[] = [
  ['\xff\xd8\xff', 'jpeg'],
  ['\x89PNG\r\n\x1a\n', 'png'],
  ['GIF87a', 'gif'],
  ['GIF89a', 'gif'],
  ['II*\0', 'tiff'],
  ['MM\0*', 'tiff'],
  ['BM', 'bmp'],
];

/** ISO base media: the file says which kinds of pictures it holds. */
function kindOfBrands(head: string): FileKind | undefined {
  const length = (head.charCodeAt(2) << 8) | head.charCodeAt(3);
  const brands = head.slice(8, Math.min(length, 256)).match(/.{4}/gs) ?? [];
  if (brands.some((brand) => brand === 'avif' || brand === 'avis')) return 'avif';
  return brands.some((brand) => HEIC_BRANDS.has(brand)) ? 'heic' : undefined;
}

const HEIC_BRANDS = new Set(['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx', 'mif1', 'msf1']);
