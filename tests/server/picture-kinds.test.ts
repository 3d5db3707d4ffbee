import { encode as encodeBmp } from 'bmp-ts';
import { decode as decodePng } from 'fast-png';
import { strToU8, zipSync } from 'fflate';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { createDeflate } from 'node:zlib';
import sharp from 'sharp';
import request from 'supertest';
import { chunk } from '../../core/formats/png';
import { createApp } from '../../server/app';
import { DecodeFailure } from '../../server/decoding/decoded';
import { decodeElsewhere } from '../../server/decoding/elsewhere';
import { kindOf } from '../../server/decoding/kinds';
import { openStore, type Store } from '../../server/store';

/** Two flat colours on a third: by these a decoder's channels, rows and turns are told. */
const SHAPES = `<svg xmlns="http://www.w3.org/2000/svg" width="160" height="120"><rect width="160" height="120" fill="#d8c8a0"/><rect width="80" height="60" fill="#204080"/><circle cx="120" cy="80" r="30" fill="#a03020"/></svg>`;
const BLUE = [0x20, 0x40, 0x80];
const RED = [0xa0, 0x30, 0x20];
const SAND = [0xd8, 0xc8, 0xa0];

let folder: string;
let store: Store;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-kinds-'));
  store = openStore(folder);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true });
});

const api = () => request(createApp(store));
const send = (bytes: Uint8Array) =>
  api().post('/api/pictures').set('Content-Type', 'application/octet-stream').send(Buffer.from(bytes));
const taken = async (bytes: Uint8Array) => {
  const { body } = await send(bytes).expect(200);
  return body.pictures[body.pictures.length - 1] as { hash: string; width: number; height: number; frames: number };
};
const refused = async (bytes: Uint8Array) => {
  const { body, status } = await send(bytes);
  expect(body.message.length).toBeGreaterThan(20);
  return [status, body.code];
};

/** The colour at a part of the copy's width and height, 0 to 255 each. */
async function colourAt(hash: string, x: number, y: number): Promise<number[]> {
  const { body } = await api().get(`/api/pictures/${hash}/working`).expect(200);
  const { data, info } = await sharp(body as Buffer)
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (Math.floor(y * info.height) * info.width + Math.floor(x * info.width)) * info.channels;
  return [...data.subarray(at, at + 3)];
}
const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i])));

async function showsShapes(hash: string, most = 6) {
  expect(apart(await colourAt(hash, 0.25, 0.25), BLUE)).toBeLessThanOrEqual(most);
  expect(apart(await colourAt(hash, 0.75, 0.66), RED)).toBeLessThanOrEqual(most);
  expect(apart(await colourAt(hash, 0.9, 0.1), SAND)).toBeLessThanOrEqual(most);
}

const shapes = () => sharp(Buffer.from(SHAPES));
const png = () => shapes().png().toBuffer();

/** The shapes as a bitmap of 24 bits, lowest row first, as the format has it. */
async function bmp(): Promise<Buffer> {
  const { data, info } = await shapes().ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  // The library takes alpha first, then blue, green, red.
  const abgr = Buffer.from(data).swap32();
  return Buffer.from(encodeBmp({ data: abgr, width: info.width, height: info.height, bitPP: 24 }).data);
}

/** A page of 200 x 100 points with a red box on its lower left quarter; written by hand after ISO 32000-1, 7.5. */
const pdf = (content = '0.627 0.188 0.125 rg 0 0 100 50 re f') =>
  Buffer.from(`%PDF-1.4
1 0 obj<</Type/Catalog/Pages 2 0 R/OpenAction<</S/JavaScript/JS(app.alert(1))>>>>endobj
2 0 obj<</Type/Pages/Kids[3 0 R 5 0 R]/Count 2>>endobj
3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 100]/Contents 4 0 R/Resources<<>>>>endobj
4 0 obj<</Length ${content.length}>>stream
${content}
endstream endobj
5 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 50 50]>>endobj
trailer<</Root 1 0 R/Size 6>>
`);

/** An OpenRaster file of two layers, the upper one in a stack; after its published baseline. */
async function openRaster(stack?: string): Promise<Uint8Array> {
  const red = await sharp({ create: { width: 40, height: 30, channels: 4, background: '#a03020' } })
    .png()
    .toBuffer();
  const xml =
    stack ??
    `<?xml version='1.0' encoding='UTF-8'?><image version="0.0.3" w="160" h="120"><stack>
      <stack name="group" opacity="0.5"><layer name="Red &amp; small" src="data/red.png" x="100" y="60" visibility="hidden"/></stack>
      <layer name="Shapes" src="data/shapes.png" x="0" y="0" opacity="0.8"/></stack></image>`;
  return zipSync(
    {
      mimetype: [strToU8('image/openraster'), { level: 0 }],
      'stack.xml': strToU8(xml),
      'data/red.png': red,
      'data/shapes.png': await png(),
    },
    { level: 6 },
  );
}

describe('kinds of pictures', () => {
  it('are told by their bytes, whatever the file is called', async () => {
    const found = [];
    for (const format of ['jpeg', 'png', 'webp', 'gif', 'tiff', 'avif'] as const)
      found.push([format, kindOf(await shapes().toFormat(format).toBuffer())]);
    for (const [wanted, kind] of found) expect(kind).toBe(wanted);
    expect(kindOf(readFileSync(join(__dirname, '../fixtures/shapes.heic')))).toBe('heic');
    expect(kindOf(await bmp())).toBe('bmp');
    expect(kindOf(Buffer.from(`\ufeff<?xml version="1.0"?><!-- drawn -->${SHAPES}`))).toBe('svg');
    expect(kindOf(pdf())).toBe('pdf');
    expect(kindOf(await openRaster())).toBe('openraster');
    expect(kindOf(Buffer.from('<html><body>no picture</body></html>'))).toBeUndefined();
    expect(kindOf(zipSync({ 'a.txt': strToU8('a') }))).toBeUndefined();
  });

  it.each(['png', 'webp', 'gif', 'jpeg', 'tiff', 'avif'] as const)('arrive as they are: %s', async (format) => {
    const picture = await taken(await shapes().toFormat(format, { quality: 95 }).toBuffer());
    expect(picture).toMatchObject({ width: 160, height: 120, frames: 1 });
    await showsShapes(picture.hash, 10);
  });

  it('BMP, of 24 bits', async () => {
    const picture = await taken(await bmp());
    expect(picture).toMatchObject({ width: 160, height: 120 });
    await showsShapes(picture.hash);
  });

  // Written by hand after the format's own header: colours stand blue first, a palette's with a fourth byte of nothing.
  const BGR_RED = [10, 20, 200];
  const BGR_BLUE = [250, 100, 5];
  const PALETTE = [...BGR_RED, 0, ...BGR_BLUE, 0];
  const ALPHA_MASKS = [0, 0, 255, 0, 0, 255, 0, 0, 255, 0, 0, 0, 0, 0, 0, 255];
  const handBmp = (bits: number, row: number[], { palette = [] as number[], fields = [] as number[] } = {}) => {
    const head = Buffer.alloc(54);
    const after = Buffer.from([...fields, ...palette]);
    const pixels = Buffer.alloc(Math.ceil(row.length / 4) * 4);
    Buffer.from(row).copy(pixels);
    head.write('BM');
    head.writeUInt32LE(head.length + after.length + pixels.length, 2);
    head.writeUInt32LE(head.length + after.length, 10);
    head.writeUInt32LE(fields.length ? 56 : 40, 14);
    head.writeInt32LE(2, 18);
    head.writeInt32LE(1, 22);
    head.writeUInt16LE(1, 26);
    head.writeUInt16LE(bits, 28);
    head.writeUInt32LE(fields.length ? 3 : 0, 30);
    head.writeUInt32LE(palette.length / 4, 46);
    return Buffer.concat([head, after, pixels]);
  };
  it.each([
    ['a palette of 8 bits', handBmp(8, [0, 1], { palette: PALETTE }), [255, 255]],
    ['a palette of 4 bits', handBmp(4, [0x01], { palette: PALETTE }), [255, 255]],
    ['one bit', handBmp(1, [0x40], { palette: PALETTE }), [255, 255]],
    ['24 bits', handBmp(24, [...BGR_RED, ...BGR_BLUE]), [255, 255]],
    ['32 bits, the last 8 unused', handBmp(32, [...BGR_RED, 0, ...BGR_BLUE, 0]), [255, 255]],
    ['32 bits with alpha', handBmp(32, [...BGR_RED, 128, ...BGR_BLUE, 255]), [128, 255]],
    ['32 bits with masks', handBmp(32, [...BGR_RED, 128, ...BGR_BLUE, 255], { fields: ALPHA_MASKS }), [128, 255]],
  ])('BMP, of %s, in its colours', async (_, file, alphas) => {
    const { hash } = await taken(file);
    const { body } = await api().get(`/api/pictures/${hash}/working`).expect(200);
    const { data, info } = await sharp(body as Buffer)
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([2, 1]);
    expect(apart([...data], [200, 20, 10, alphas[0], 5, 100, 250, alphas[1]])).toBeLessThanOrEqual(6);
  });

  it.each([0, 64, 3])('BMP, of %d bits, is none', async (bits) => {
    expect(await refused(handBmp(bits, Array<number>(32).fill(0)))).toEqual([422, 'not-a-picture']);
  });

  it.each(['160mm', '160pt', '2in', '160px', '12cm'])(
    'SVG of a size in units is drawn as large as any (%s)',
    async (width) => {
      const own = SHAPES.replace(
        'width="160" height="120"',
        `width="${width}" height="${width}" viewBox="0 0 160 160"`,
      );
      const picture = await taken(Buffer.from(own));
      expect([picture.width > 4000, picture.width <= 4096]).toEqual([true, true]);
    },
  );

  it('HEIC, made by another encoder of what is drawn here', async () => {
    // Encoded once by heif-enc 1.15.1 (libheif with x265) from the shapes above.
    const picture = await taken(readFileSync(join(__dirname, '../fixtures/shapes.heic')));
    expect(picture).toMatchObject({ width: 160, height: 120 });
    await showsShapes(picture.hash);
  });

  it('SVG is drawn, large, and neither run nor followed', async () => {
    const secret = join(folder, 'secret.png');
    writeFileSync(
      secret,
      await sharp({ create: { width: 10, height: 10, channels: 3, background: '#ff00ff' } })
        .png()
        .toBuffer(),
    );
    const hostile = SHAPES.replace(
      '</svg>',
      `<script>while(true){}</script><image href="file://${secret}" width="160" height="120"/>
       <image href="http://127.0.0.1:9/a.png" width="160" height="120"/><foreignObject width="160" height="120"><b>x</b></foreignObject></svg>`,
    );
    const picture = await taken(Buffer.from(hostile));
    expect(picture).toMatchObject({ width: 4096, height: 3072 });
    await showsShapes(picture.hash);
    const original = await api().get(`/api/pictures/${picture.hash}/original`).expect(200);
    expect(original.headers['content-disposition']).toBe('attachment');
  });

  it('a PDF gives its first page, on white, and says how many there are', async () => {
    const picture = await taken(pdf());
    expect(picture).toMatchObject({ width: 4096, height: 2048, frames: 2 });
    expect(apart(await colourAt(picture.hash, 0.25, 0.75), RED)).toBeLessThanOrEqual(4);
    expect(apart(await colourAt(picture.hash, 0.75, 0.25), [255, 255, 255])).toBeLessThanOrEqual(4);
  });

  it('OpenRaster gives each of its layers, bottom first, as its stacks say', async () => {
    const { body } = await send(await openRaster()).expect(200);
    expect(body.canvas).toEqual({ width: 160, height: 120 });
    expect(body.pictures.map((p: { layer: object }) => p.layer)).toEqual([
      { name: 'Shapes', x: 0, y: 0, opacity: 0.8, visible: true },
      { name: 'Red & small', x: 100, y: 60, opacity: 0.5, visible: false },
    ]);
    await showsShapes(body.pictures[0].hash);
    const kept = await api().get(`/api/pictures/${body.pictures[0].hash}/original`).expect(200);
    expect((kept.body as Buffer).equals(await png())).toBe(true);
  });
});

/** One colour, so many px a side, by hand after GIF89a: each code stands for a run that is one px longer. */
function plainGif(side: number): Buffer {
  const [clear, end, first, full] = [4, 5, 6, 4096];
  const bytes: number[] = [];
  let [held, bits] = [0, 0];
  const put = (code: number, width: number) => {
    held |= code << bits;
    for (bits += width; bits >= 8; bits -= 8, held >>>= 8) bytes.push(held & 255);
  };
  let left = side * side;
  while (left > 0) {
    put(clear, 3);
    // The table gets an entry with each code but the first, and codes are as wide as its last entry.
    for (let next = first, run = 1; left > 0 && next < full; next++, run++) {
      const width = Math.max(3, 32 - Math.clz32(next - 1));
      put(run === 1 ? 0 : next - 1, width);
      left -= run;
      if (left > 0 && left < run + 1) {
        while (left-- > 0) put(0, Math.max(3, 32 - Math.clz32(next)));
      }
    }
  }
  put(end, 12);
  put(0, 8);
  const blocks: Buffer[] = [];
  for (let i = 0; i < bytes.length; i += 255) {
    const block = bytes.slice(i, i + 255);
    blocks.push(Buffer.from([block.length, ...block]));
  }
  const size = Buffer.alloc(4);
  size.writeUInt16LE(side, 0);
  size.writeUInt16LE(side, 2);
  const palette = [32, 64, 128, 255, 255, 255, 0, 0, 0, 0, 0, 0];
  const [screen, image] = [
    [0x81, 0, 0, ...palette],
    [0x2c, 0, 0, 0, 0],
  ];
  return Buffer.concat([
    Buffer.from('GIF89a'),
    size,
    Buffer.from([...screen, ...image]),
    size,
    Buffer.from([0, 2]),
    ...blocks,
    Buffer.from([0, 0x3b]),
  ]);
}

/** All samples 0, with alpha, 16 bits, in the seven passes of Adam7. @see W3C PNG, third edition, 8.1 */
async function interlacedPng(side: number): Promise<Buffer> {
  const passes = [
    [0, 0, 8, 8],
    [4, 0, 8, 8],
    [0, 4, 4, 8],
    [2, 0, 4, 4],
    [0, 2, 2, 4],
    [1, 0, 2, 2],
    [0, 1, 1, 2],
  ];
  const samples = passes.reduce((sum, [x, y, dx, dy]) => {
    const [columns, rows] = [Math.ceil((side - x) / dx), Math.ceil((side - y) / dy)];
    return sum + rows * (1 + 8 * columns);
  }, 0);
  const deflate = createDeflate({ level: 1 });
  const packed = buffer(deflate);
  const zeros = Buffer.alloc(1 << 20);
  for (let left = samples; left > 0; left -= zeros.length)
    deflate.write(zeros.subarray(0, Math.min(left, zeros.length)));
  deflate.end();
  const header = Buffer.alloc(13);
  header.writeUInt32BE(side, 0);
  header.writeUInt32BE(side, 4);
  header.set([16, 6, 0, 0, 1], 8);
  const signature = Buffer.from('\x89PNG\r\n\x1a\n', 'latin1');
  return Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', await packed),
    chunk('IEND', new Uint8Array()),
  ]);
}

/** What one mixture of inks is seen as: a TIFF of 16 x 16 px without a profile, by hand after TIFF 6.0, sections 2 and 16. */
async function inkOf(...inks: number[]): Promise<number[]> {
  const side = 16;
  const pixels = Buffer.from(Array.from({ length: side * side }, () => inks).flat());
  const [short, long] = [3, 4];
  const rows: [tag: number, type: number, count: number, value: number][] = [
    [256, long, 1, side],
    [257, long, 1, side],
    // Where the four lie.
    [258, short, 4, 122],
    [259, short, 1, 1],
    // Separated: inks.
    [262, short, 1, 5],
    [273, long, 1, 130],
    [277, short, 1, 4],
    [278, long, 1, side],
    [279, long, 1, pixels.length],
  ];
  const head = Buffer.alloc(130);
  head.write('II*\0', 'latin1');
  head.writeUInt32LE(8, 4);
  head.writeUInt16LE(rows.length, 8);
  rows.forEach(([tag, type, count, value], i) => {
    const at = 10 + 12 * i;
    head.writeUInt16LE(tag, at);
    head.writeUInt16LE(type, at + 2);
    head.writeUInt32LE(count, at + 4);
    head.writeUInt32LE(value, at + 8);
  });
  for (let i = 0; i < 4; i++) head.writeUInt16LE(8, 122 + 2 * i);
  return colourAt((await taken(Buffer.concat([head, pixels]))).hash, 0.5, 0.5);
}

describe('colours arrive in sRGB, right to the eye', () => {
  it('CMYK, through its own profile', async () => {
    const picture = await taken(
      await shapes().toColourspace('cmyk').withIccProfile('cmyk').jpeg({ quality: 98 }).toBuffer(),
    );
    // Printing inks do not reach every colour: a few steps are theirs.
    await showsShapes(picture.hash, 24);
  });

  it('CMYK without a profile, as the inks of a press on coated paper', async () => {
    const [cyan, magenta, yellow] = [await inkOf(255, 0, 0, 0), await inkOf(0, 255, 0, 0), await inkOf(0, 0, 255, 0)];
    // The solid inks of ISO 12647-2, paper type 1, as sRGB (values from memory), not pure cyan, magenta and yellow.
    expect(apart(cyan, [0, 158, 224])).toBeLessThanOrEqual(12);
    expect(apart(magenta, [229, 0, 125])).toBeLessThanOrEqual(12);
    expect(apart(yellow, [255, 237, 0])).toBeLessThanOrEqual(12);
    expect(apart(await inkOf(0, 0, 0, 0), [255, 255, 255])).toBeLessThanOrEqual(2);
  });

  it('a wide profile', async () => {
    const wide = await shapes().withIccProfile('p3').png().toBuffer();
    // Without its profile the file says something else.
    const { data } = decodePng(wide);
    expect(apart([data[0], data[1], data[2]], BLUE)).toBeGreaterThan(4);
    await showsShapes((await taken(wide)).hash, 3);
  });

  it('16 bits a channel, also in grey', async () => {
    const deep = await shapes().toColourspace('rgb16').png().toBuffer();
    expect((await sharp(deep).metadata()).depth).toBe('ushort');
    await showsShapes((await taken(deep)).hash, 3);
    const grey = await shapes().toColourspace('grey16').png().toBuffer();
    const [r, g, b] = await colourAt((await taken(grey)).hash, 0.9, 0.1);
    expect([r === g, g === b, Math.abs(r - 200) < 8]).toEqual([true, true, true]);
  });

  it('where and with what a picture was taken stays in the original alone', async () => {
    const told = await shapes()
      .jpeg()
      .withExif({ IFD0: { Make: 'Nobody', Copyright: 'Tern & Tide' }, IFD3: { GPSLatitude: '51/1 30/1 0/1' } })
      .toBuffer();
    expect(told.includes('Nobody')).toBe(true);
    const { hash } = await taken(told);
    const meta = await sharp((await api().get(`/api/pictures/${hash}/working`)).body as Buffer).metadata();
    expect([meta.exif, meta.xmp, meta.iptc]).toEqual([undefined, undefined, undefined]);
    const kept = (await api().get(`/api/pictures/${hash}/original`)).body as Buffer;
    expect(kept.equals(told)).toBe(true);
  });
});

describe('a larger copy, for paper that needs it', () => {
  it('is made when it is asked for, once, and is the usual one where there is nothing more', async () => {
    const wide = await sharp(Buffer.from(SHAPES), { density: 72 * 40 })
      .resize(6000, 4500)
      .jpeg({ quality: 60 })
      .toBuffer();
    const { hash } = await taken(wide);
    const sizes = [];
    for (const copy of ['working', 'large', 'large']) {
      const { body } = await api().get(`/api/pictures/${hash}/${copy}`).expect(200);
      sizes.push((await sharp(body as Buffer).metadata()).width);
    }
    expect(sizes).toEqual([4096, 6000, 6000]);
    const small = await taken(await png());
    const { body } = await api().get(`/api/pictures/${small.hash}/large`).expect(200);
    expect((await sharp(body as Buffer).metadata()).width).toBe(160);
    await api()
      .get(`/api/pictures/${'0'.repeat(64)}/large`)
      .expect(404);
  });
});

describe('files made to do harm', () => {
  it.each<[string, () => Promise<Uint8Array> | Uint8Array, string]>([
    ['a PDF that is none', () => Buffer.from('%PDF-1.7 nothing of the kind'), 'picture-cut-short'],
    [
      'a HEIC cut short',
      () => readFileSync(join(__dirname, '../fixtures/shapes.heic')).subarray(0, 900),
      'picture-cut-short',
    ],
    ['an AVIF cut short', async () => (await shapes().avif().toBuffer()).subarray(0, 400), 'picture-cut-short'],
    ['a BMP cut short', async () => (await bmp()).subarray(0, 2000), 'picture-cut-short'],
    [
      'a BMP that says it has 60,000 x 60,000 px',
      async () => {
        const lying = await bmp();
        lying.writeInt32LE(60000, 18);
        lying.writeInt32LE(60000, 22);
        return lying;
      },
      'picture-too-many-pixels',
    ],
    [
      'a PNG of 60,000 x 60,000 in a few bytes',
      async () => {
        const lying = Buffer.from(await png());
        lying.writeUInt32BE(60000, 16);
        lying.writeUInt32BE(60000, 20);
        return lying;
      },
      'picture-too-many-pixels',
    ],
    [
      'a GIF that breaks off in its first frame',
      async () => (await shapes().gif().toBuffer()).subarray(0, 500),
      'picture-cut-short',
    ],
    [
      'an SVG whose entities name each other',
      () => Buffer.from(`<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>${SHAPES}`),
      'picture-has-entities',
    ],
    ['an SVG that breaks off', () => Buffer.from(SHAPES.slice(0, 150)), 'picture-cut-short'],
    [
      'OpenRaster whose list of layers breaks off',
      () => openRaster('<image w="10" h="10"><stack><layer src='),
      'picture-cut-short',
    ],
    [
      'OpenRaster that names what it does not hold',
      () => openRaster('<image w="10" h="10"><stack><layer src="../../etc/passwd"/></stack></image>'),
      'picture-cut-short',
    ],
    [
      'OpenRaster with entities',
      () => openRaster('<!DOCTYPE x [<!ENTITY a "b">]><image w="1" h="1"/>'),
      'picture-has-entities',
    ],
    ['OpenRaster without layers', () => openRaster('<image w="10" h="10"><stack/></image>'), 'not-a-picture'],
    [
      'OpenRaster as large as a town',
      () => openRaster('<image w="600000" h="600000"><stack><layer src="data/red.png"/></stack></image>'),
      'picture-too-many-pixels',
    ],
  ])('%s: a clear message', async (_name, make, code) => {
    expect(await refused(await make())).toEqual([422, code]);
  });

  it('a GIF whose later frames are broken gives its first', async () => {
    const first = await png();
    const second = await sharp(first).negate({ alpha: false }).png().toBuffer();
    const whole = await sharp([first, second], { join: { animated: true } })
      .gif({ delay: [100, 100] })
      .toBuffer();
    const picture = await taken(whole.subarray(0, whole.length - 40));
    await showsShapes(picture.hash, 12);
  });

  it('an EXIF of nonsense does not stop a picture', async () => {
    const jpeg = await shapes().jpeg({ quality: 95 }).toBuffer();
    const nonsense = Buffer.from('Exif\0\0II*\0\xff\xff\xff\xff\x01\x02\x03\x04nonsense', 'latin1');
    const segment = Buffer.concat([Buffer.from([0xff, 0xe1, 0, nonsense.length + 2]), nonsense]);
    const picture = await taken(Buffer.concat([jpeg.subarray(0, 2), segment, jpeg.subarray(2)]));
    expect(picture).toMatchObject({ width: 160, height: 120 });
    await showsShapes(picture.hash, 10);
  });

  it('a million elements: ended within bounds, and the server answers meanwhile', async () => {
    const crowd = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">${'<path d="M0 0h9"/>'.repeat(1_000_000)}</svg>`;
    let settled = false;
    const coming = decodeElsewhere('svg', Buffer.from(crowd), { seconds: 3, bytes: 1.5e9 }).finally(
      () => (settled = true),
    );
    const end = expect(coming).rejects.toMatchObject({ code: 'picture-too-complex' });
    await api().get('/api/health').expect(200);
    await send(await png()).expect(200);
    expect(settled).toBe(false);
    await end;
  });

  it.each([
    ['a GIF of 68 KB and 90 million px', () => plainGif(9500)],
    ['an interlaced PNG of 16 bits and 20 million px', () => interlacedPng(4500)],
  ])('%s does not make the server itself large', async (_name, make) => {
    const bytes = await make();
    const { rss } = process.memoryUsage;
    const before = rss();
    let most = before;
    const looking = setInterval(() => (most = Math.max(most, rss())), 5);
    const picture = await taken(bytes);
    clearInterval(looking);
    expect(picture.width).toBe(picture.height);
    expect((await api().get(`/api/pictures/${picture.hash}/working`).expect(200)).body.length).toBeGreaterThan(100);
    expect((most - before) / 1e6).toBeLessThan(90);
  });

  it('what takes too long or too much is ended, and that is said', async () => {
    const slow = decodeElsewhere('svg', Buffer.from(SHAPES), { seconds: 0.01, bytes: 1e9 });
    await expect(slow).rejects.toEqual(new DecodeFailure('picture-too-complex', 'longer than 0.01 s'));
    const large = decodeElsewhere('pdf', pdf(), { seconds: 40, bytes: 1e6 });
    await expect(large).rejects.toMatchObject({ code: 'picture-too-complex' });
  });
});
