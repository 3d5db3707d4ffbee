import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { develop } from '../core/picture/develop';
import { findPage } from '../core/picture/page-corners';
import type { Recipe } from '../core/picture/recipe';
import { makePicture, type Picture } from '../core/picture/warp';
import { launch, openPage, PHONE, TestServer } from '../tests/browser/harness';
import { goTo, newSheet } from '../tests/browser/sheet-driver';
import { noisyJpeg, peakMb } from './large-pictures';
import { alternate, figure, median, type Figure } from './report';

/** Width and height of 4:3 pictures of so many million pixels. */
const SIZES: [number, number, number][] = [
  [1, 1152, 864],
  [4, 2304, 1728],
  [12, 4000, 3000],
  [48, 8000, 6000],
];

/** Something with edges and noise, quickly made. */
function drawn(width: number, height: number): Picture {
  const picture = makePicture(width, height);
  const words = new Uint32Array(picture.data.buffer);
  for (let i = 0, y = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const v = ((x >> 5) + (y >> 5)) & 1 ? 220 : 70;
      words[i] = (0xff000000 | ((v + ((x * 7919 + y * 104729) % 13)) * 0x010101)) >>> 0;
    }
  return picture;
}

function whole(work: Generator<number, Picture>): Picture {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

const crop = (corners: [number, number][], width: number, height: number): Recipe => [
  { id: 'c', kind: 'crop', on: true, corners: corners as never, width, height },
];

/** A straightened and a squared up picture by its size, against copying the pixels; and where the page lies. */
export function cropping(): Figure[] {
  const figures: Figure[] = [];
  let first = 0;
  for (const [mega, width, height] of SIZES) {
    const source = drawn(width, height);
    const size = { width, height };
    const page = crop([[0.1, 0.08], [0.9, 0.12], [0.95, 0.9], [0.04, 0.93]], width, height); // prettier-ignore
    const turned = crop([[0.05, 0.0], [1.0, 0.05], [0.95, 1.0], [0.0, 0.95]], width, height); // prettier-ignore
    const copied = new Uint8ClampedArray(source.data.length);
    const [straight, squared, copy] = alternate(
      mega > 12 ? 1 : 3,
      () => void whole(develop(size, source, turned, 1)),
      () => void whole(develop(size, source, page, 1)),
      () => copied.set(source.data),
    );
    first ||= squared;
    figures.push(
      figure(`cropping: ${mega} megapixels, straightened`, straight, 'ms', straight / copy, 'copying the pixels once'),
      figure(
        `cropping: ${mega} megapixels, squared up`,
        squared,
        'ms',
        squared / first / mega,
        'as many times 1 megapixel',
      ),
    );
  }
  const small = drawn(1000, 750);
  const [find] = alternate(5, () => void findPage(small));
  figures.push(figure('cropping: finding the page', find, 'ms'));
  return figures;
}

/** All tones at once on 12 megapixels, against sharp doing the nearest same and against copying; and a dial on a phone. */
export async function toning(): Promise<Figure[]> {
  const figures: Figure[] = [];
  const steps = (...of: object[]) => of.map((step, i) => ({ id: `s${i}`, on: true, ...step })) as unknown as Recipe;
  const curve = { kind: 'curve', points: [[0.1, 0], [0.5, 0.6], [0.9, 1]] }; // prettier-ignore
  const recipe = steps({ kind: 'exposure', stops: 0.5 }, { kind: 'grey' }, curve);
  let first = 0;
  for (const [mega, width, height] of SIZES) {
    const source = drawn(width, height);
    const copied = new Uint8ClampedArray(source.data.length);
    const [ours, copy] = alternate(
      mega > 12 ? 1 : 3,
      () => void whole(develop({ width, height }, source, recipe, 1)),
      () => copied.set(source.data),
    );
    first ||= ours;
    figures.push(figure(`toning: ${mega} megapixels`, ours, 'ms', ours / first / mega, 'as many times 1 megapixel'));
    if (mega !== 12) continue;
    const raw = { raw: { width, height, channels: 4 as const } };
    const theirs: number[] = [];
    for (let n = 0; n < 4; n++) {
      const began = performance.now();
      await sharp(Buffer.from(source.data.buffer), raw).greyscale().linear(1.25, -12).raw().toBuffer();
      if (n) theirs.push(performance.now() - began);
    }
    figures.push(
      figure(
        'toning: 12 megapixels against sharp',
        ours,
        'ms',
        ours / median(theirs),
        'sharp, grey and linear, on two threads; at most 3',
      ),
      figure('toning: 12 megapixels against copying', ours, 'ms', ours / copy, 'copying the pixels once'),
    );
  }
  // What a phone of 390 x 844 at 3 shows of a picture is at most 1170 px wide.
  const [width, height] = [1170, 1560];
  const shown = drawn(width, height);
  const blur = steps({ kind: 'grey' }, curve, { kind: 'blur', px: 2 });
  const [dial, blurry] = alternate(
    5,
    () => void whole(develop({ width, height }, shown, recipe, 1)),
    () => void whole(develop({ width, height }, shown, blur, 1)),
  );
  figures.push(
    figure('toning: what a phone shows, a dial moved', dial, 'ms', undefined, 'at most 50 ms'),
    figure('toning: the same, with a blur of 2 px', blurry, 'ms'),
  );
  return figures;
}

/** A JPEG from being chosen to being seen on a phone, and to being as sharp as it gets; with what the server held. */
export async function bringing(): Promise<Figure[]> {
  const figures: Figure[] = [];
  const browser = await launch();
  for (const [mega, width, height] of SIZES.filter(([n]) => n >= 12)) {
    const server = new TestServer();
    await server.start(0);
    const before = peakMb(server.pid);
    const bytes = await noisyJpeg(width, height);
    const path = join(server.data, 'photo.jpg');
    writeFileSync(path, bytes);
    const { page, context } = await openPage(browser, PHONE, { deviceScaleFactor: 3 });
    page.setDefaultTimeout(90000);
    const seen: number[] = [];
    for (let n = 0; n < 3; n++) {
      // Other bytes each time: what is known is not prepared again.
      writeFileSync(path, Buffer.concat([bytes, Buffer.from([n])]));
      await newSheet(page, server.url, `Bench ${n}`, '2400', '3200');
      await goTo(page, 'Place');
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: 'Add picture' }).click(),
      ]);
      const began = performance.now();
      await chooser.setFiles(path);
      await page.waitForFunction(() => {
        const canvas = document.querySelector<HTMLCanvasElement>('canvas[data-run^="reference"]');
        if (!canvas) return false;
        const [x, y] = [canvas.width >> 1, Math.round(canvas.height * 0.3)];
        return canvas.getContext('2d')!.getImageData(x, y, 1, 1).data[3] > 0;
      });
      seen.push(performance.now() - began);
    }
    figures.push(
      figure(
        `bringing: ${mega} megapixels (${Math.round(bytes.length / 1e6)} MB), from chosen to seen`,
        median(seen),
        'ms',
      ),
      figure(
        `bringing: ${mega} megapixels, the server's memory at its peak`,
        peakMb(server.pid) - before,
        'MB more',
        ((peakMb(server.pid) - before) * 1048576) / (4 * width * height),
        "the picture's pixels, 4 bytes each",
      ),
    );
    await context.close();
    await server.remove();
  }
  await browser.close();
  return figures;
}
