import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import request from 'supertest';
import { createApp } from '../../server/app';
import { openStore, type Store } from '../../server/store';
import { ACANTHUS } from '../measures/photographs';

let folder: string;
let store: Store;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-pictures-'));
  store = openStore(folder);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true });
});

const api = () => request(createApp(store));
const send = (bytes: Buffer) => api().post('/api/pictures').set('Content-Type', 'application/octet-stream').send(bytes);
const working = async (hash: string) => (await api().get(`/api/pictures/${hash}/working`).expect(200)).body as Buffer;

describe('taking in pictures', () => {
  it('keeps the original bytes untouched, once, by their SHA-256', async () => {
    const first = await send(ACANTHUS).expect(200);
    const again = await send(ACANTHUS).expect(200);
    expect(again.body).toEqual(first.body);
    expect(first.body.pictures[0].hash).toBe(createHash('sha256').update(ACANTHUS).digest('hex'));
    const back = await api().get(`/api/pictures/${first.body.pictures[0].hash}/original`).expect(200);
    expect((back.body as Buffer).equals(ACANTHUS)).toBe(true);
  });

  it('gives them out from a folder whose path has a dot-folder', async () => {
    const hidden = join(folder, '.kept', 'data');
    const other = openStore(hidden);
    const app = createApp(other);
    const sent = await request(app)
      .post('/api/pictures')
      .set('Content-Type', 'application/octet-stream')
      .send(ACANTHUS);
    const { hash } = sent.body.pictures[0] as { hash: string };
    for (const copy of ['working', 'original']) await request(app).get(`/api/pictures/${hash}/${copy}`).expect(200);
    other.close();
  });

  it('writes a picture anew whose files are gone, and sweeps up what a killed upload left', async () => {
    const small = await sharp(ACANTHUS).resize(30, 20, { fit: 'fill' }).png().toBuffer();
    const { hash } = (await send(small).expect(200)).body.pictures[0] as { hash: string };
    const place = join(folder, 'pictures', hash.slice(0, 2));
    rmSync(join(place, `${hash}.working`));
    await send(small).expect(200);
    expect((await working(hash)).length).toBeGreaterThan(100);
    const half = join(place, `${hash}.original.0f8fad5b-d9cb-469f-a165-70867728950e`);
    writeFileSync(half, 'half');
    openStore(folder).close();
    expect([existsSync(half), existsSync(join(place, `${hash}.original`))]).toEqual([false, true]);
  });

  // CIPA DC-008 (EXIF), tag 0x0112: how the eight orientations have to be turned to stand upright.
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('stands a photograph of EXIF orientation %d upright', async (orientation) => {
    const upright = await sharp(ACANTHUS).resize(120, 160, { fit: 'fill' }).png().toBuffer();
    const { data } = await stored(upright, orientation);
    const answer = await send(data).expect(200);
    expect([answer.body.pictures[0].width, answer.body.pictures[0].height]).toEqual([120, 160]);
    const shown = await sharp(await working(answer.body.pictures[0].hash))
      .greyscale()
      .raw()
      .toBuffer();
    const wanted = await sharp(upright).greyscale().raw().toBuffer();
    let sum = 0;
    wanted.forEach((v, i) => (sum += Math.abs(v - shown[i])));
    expect(sum / wanted.length).toBeLessThan(4);
  });

  it.each(['png', 'webp', 'gif', 'jpeg'] as const)('takes %s', async (format) => {
    const bytes = await sharp(ACANTHUS).resize(90, 60, { fit: 'fill' }).toFormat(format).toBuffer();
    const answer = await send(bytes).expect(200);
    expect(answer.body.pictures[0]).toMatchObject({ width: 90, height: 60, frames: 1 });
  });

  it('keeps transparency in the copy, and makes the copy no larger than 4096 px', async () => {
    const clear = await sharp({
      create: { width: 5000, height: 40, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } },
    })
      .png()
      .toBuffer();
    const answer = await send(clear).expect(200);
    expect(answer.body.pictures[0]).toMatchObject({ width: 5000, height: 40 });
    const meta = await sharp(await working(answer.body.pictures[0].hash)).metadata();
    expect([meta.width, meta.hasAlpha]).toEqual([4096, true]);
  });

  it('says what is wrong with what it cannot take, and goes on', async () => {
    const huge = await sharp({ create: { width: 10100, height: 10000, channels: 3, background: '#fff' } })
      .png({ compressionLevel: 1 })
      .toBuffer();
    const cases: [string, Buffer, number, string][] = [
      ['empty', Buffer.alloc(0), 422, 'picture-empty'],
      ['text', Buffer.from('this is no picture at all'), 422, 'not-a-picture'],
      ['cut short', ACANTHUS.subarray(0, ACANTHUS.length / 2), 422, 'picture-cut-short'],
      ['only its start', ACANTHUS.subarray(0, 12), 422, 'picture-cut-short'],
      ['over 100 megapixels', huge, 422, 'picture-too-many-pixels'],
      ['over 50 MB', Buffer.alloc(50 * 1024 * 1024 + 1, 1), 413, 'too-large'],
    ];
    for (const [name, bytes, status, code] of cases) {
      const answer = await send(bytes);
      expect([name, answer.status, answer.body.code]).toEqual([name, status, code]);
      expect(answer.body.message.length).toBeGreaterThan(20);
    }
    await send(ACANTHUS).expect(200);
  });
});

/** The picture as a camera held the other way would store it: turned back, with the EXIF tag that undoes it. */
async function stored(upright: Buffer, orientation: number) {
  const turned: Record<number, (s: Sharp) => Sharp> = {
    1: (s) => s,
    2: (s) => s.flop(),
    3: (s) => s.rotate(180),
    4: (s) => s.flip(),
    5: (s) => s.rotate(90),
    6: (s) => s.rotate(270),
    7: (s) => s.rotate(270),
    8: (s) => s.rotate(90),
  };
  const quarter = await turned[orientation](sharp(upright)).png().toBuffer();
  // sharp mirrors before it turns, whatever the order of the calls.
  const raw = orientation === 5 || orientation === 7 ? await sharp(quarter).flop().png().toBuffer() : quarter;
  const data = await sharp(raw).jpeg({ quality: 95 }).withMetadata({ orientation }).toBuffer();
  return { data };
}
