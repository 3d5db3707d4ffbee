import { develop, DevelopMemo, sourceScale } from '../core/picture/develop';
import { findPage } from '../core/picture/page-corners';
import { paletteOf } from '../core/picture/palette';
import { resultSize } from '../core/picture/recipe';
import { sharpnessOf } from '../core/picture/sharpness';
import { tonesOf } from '../core/picture/tones';
import type { Picture } from '../core/picture/warp';
import type { FromPictureWorker, Made, ToPictureWorker } from './picture-protocol';
import { PictureSources } from './picture-sources';

/** Between two looks at what else was asked, at most. */
const LOOK_MS = 25;
/** Pages are looked for, and sharpness is measured, at this size of the longer side. */
const PAGE_SIDE_PX = 1000;
const SHARP_SIDE_PX = 2000;
/** A pencil line is to have its own tone. */
const TONES_SIDE_PX = 1000;
const PALETTE_SIDE_PX = 400;
/** Edges are looked for at this size of the longer side: a line is inked no more exactly. */
const EDGE_SIDE_PX = 2000;

const sources = new PictureSources();
/** Of the source that was worked on last. */
let memo = new DevelopMemo();
let memoOf: Picture | undefined;
const stopped = new Set<number>();
/** Questions are answered one after the other: each has all of the memory. */
let queue: Promise<void> = Promise.resolve();

const post = (message: FromPictureWorker, transfer: Transferable[] = []): void =>
  (self as unknown as Worker).postMessage(message, transfer);

/** What was asked for is not wanted any more. */
class Stopped extends Error {}

self.onmessage = ({ data }: MessageEvent<ToPictureWorker>) => {
  if (data.type === 'stop') return void stopped.add(data.n);
  queue = queue.then(() => answer(data));
};

async function answer(question: Exclude<ToPictureWorker, { type: 'stop' }>): Promise<void> {
  const { n } = question;
  try {
    await breath(n);
    if (question.type === 'develop') {
      const made = await developed(n, question.made, question.scale);
      const bitmap = await createImageBitmap(new ImageData(made.data, made.width, made.height));
      post({ n, kind: 'developed', bitmap }, [bitmap]);
    } else if (question.type === 'tones') {
      const tones = tonesOf(await atMost(n, question.made, TONES_SIDE_PX));
      post({ n, kind: 'tones', tones }, [tones.data.buffer]);
    } else if (question.type === 'palette') {
      const small = await atMost(n, question.made, PALETTE_SIDE_PX);
      post({ n, kind: 'palette', colours: paletteOf(small, question.count) });
    } else if (question.type === 'trace') {
      const { tracer } = await tracing();
      const page = await tracer.trace(question.made, question.wish, {
        develop: (scale) => developed(n, question.made, scale, 0.4),
        step: (part) => goOn(n, 0.4 + 0.55 * part),
      });
      post({ n, kind: 'traced', page }, [page.specks.buffer, page.nodes.buffer]);
    } else if (question.type === 'edges') {
      const { made, sensitivity } = question;
      const { width, height } = resultSize(made.picture, made.recipe);
      const scale = Math.min(1, EDGE_SIDE_PX / Math.max(width, height));
      const picture = await developed(n, made, scale, 0.5);
      const { edgeChains } = await import('../core/check/edge-chains');
      const work = edgeChains(picture, sensitivity);
      let step = work.next();
      for (; !step.done; step = work.next()) await goOn(n, 0.5 + 0.5 * step.value);
      const edges = step.value;
      post({ n, kind: 'edges', edges, scale }, [edges.points.buffer, edges.starts.buffer]);
    } else if (question.type === 'page') {
      const small = await atMost(n, question.made, PAGE_SIDE_PX);
      post({ n, kind: 'page', corners: findPage(small) });
    } else {
      const sharpness: number[] = [];
      for (const made of question.pictures) {
        sharpness.push(sharpnessOf(await atMost(n, made, SHARP_SIDE_PX)));
        post({ n, kind: 'progress', part: sharpness.length / question.pictures.length });
      }
      post({ n, kind: 'sharpness', sharpness });
    }
  } catch (error) {
    if (error instanceof Stopped) post({ n, kind: 'stopped' });
    else post({ n, kind: 'failed', reason: String(error) });
  } finally {
    stopped.delete(n);
  }
}

/** Lets a stop arrive. @throws {Stopped} */
async function breath(n: number): Promise<void> {
  await new Promise((done) => setTimeout(done));
  if (stopped.has(n)) throw new Stopped();
}

/** Tracing is a file of its own, for when it is wanted. */
const tracing = () => import('./tracer');

let looked = 0;
/** Tells how far the work is, and lets a stop arrive, every now and then. @throws {Stopped} */
async function goOn(n: number, part: number): Promise<void> {
  if (performance.now() - looked < LOOK_MS) return;
  post({ n, kind: 'progress', part });
  await breath(n);
  looked = performance.now();
}

/** @param share of all the work that is asked for. */
async function developed(n: number, { picture, recipe }: Made, scale: number, share = 1): Promise<Picture> {
  const source = await sources.get(picture, sourceScale(picture, recipe, scale));
  await breath(n);
  if (memoOf !== source) [memo, memoOf] = [new DevelopMemo(), source];
  const work = develop(picture, source, recipe, scale, memo);
  looked = performance.now();
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await goOn(n, share * step.value);
  }
}

function atMost(n: number, made: Made, side: number): Promise<Picture> {
  const { width, height } = resultSize(made.picture, made.recipe);
  return developed(n, made, Math.min(1, side / Math.max(width, height)));
}
