import type { EdgeChains } from '../core/check/edge-chains';
import type { Quad } from '../core/geometry/homography';
import type { Tones } from '../core/picture/tones';
import { PICTURE_WORKER } from './addresses';
import type { TracedPage } from '../core/trace/traced-page';
import type { FromPictureWorker, Made, ToPictureWorker, TraceWish } from './picture-protocol';

type Answer = Exclude<FromPictureWorker, { kind: 'progress' | 'failed' | 'stopped' }>;
type AnswerOf<K extends Answer['kind']> = Extract<Answer, { kind: K }>;

interface Waiting {
  resolve(answer: Answer | undefined): void;
  reject(error: Error): void;
  progress?(part: number): void;
}

/** Work that can be stopped; `result` is undefined then. */
export interface PictureTask<T> {
  result: Promise<T | undefined>;
  stop(): void;
}

/** The page's side of the picture worker, which starts with the first question. */
export class PictureClient {
  private worker: Worker | undefined;
  private readonly waiting = new Map<number, Waiting>();
  private n = 0;

  develop(made: Made, scale: number, progress?: (part: number) => void): PictureTask<ImageBitmap> {
    return this.ask(
      'developed',
      (n) => ({ type: 'develop', n, made, scale }),
      ({ bitmap }) => bitmap,
      progress,
    );
  }

  /** The corners of the page that a picture shows; `found` undefined: none. */
  page(made: Made): PictureTask<{ found: Quad | undefined }> {
    return this.ask(
      'page',
      (n) => ({ type: 'page', n, made }),
      ({ corners }) => ({ found: corners }),
    );
  }

  /** The tones of a small picture of what a recipe makes. */
  tones(made: Made): PictureTask<Tones> {
    return this.ask(
      'tones',
      (n) => ({ type: 'tones', n, made }),
      ({ tones }) => tones,
    );
  }

  /** The colours that it is made of, `#rrggbb`, dark first. */
  palette(made: Made, count: number): PictureTask<string[]> {
    return this.ask(
      'palette',
      (n) => ({ type: 'palette', n, made, count }),
      ({ colours }) => colours,
    );
  }

  /** The lines along which a picture changes, and their px to one of it. */
  edges(
    made: Made,
    sensitivity: number,
    progress?: (part: number) => void,
  ): PictureTask<{ edges: EdgeChains; scale: number }> {
    return this.ask(
      'edges',
      (n) => ({ type: 'edges', n, made, sensitivity }),
      ({ edges, scale }) => ({ edges, scale }),
      progress,
    );
  }

  /** The lines of a page, to be kept; only simplified anew where nothing else has changed. */
  trace(made: Made, wish: TraceWish, progress?: (part: number) => void): PictureTask<TracedPage> {
    return this.ask(
      'traced',
      (n) => ({ type: 'trace', n, made, wish }),
      ({ page }) => page,
      progress,
    );
  }

  /** How sharp each of them is, comparable among shots of one thing. */
  sharpness(pictures: readonly Made[], progress?: (part: number) => void): PictureTask<number[]> {
    return this.ask(
      'sharpness',
      (n) => ({ type: 'sharpness', n, pictures }),
      ({ sharpness }) => sharpness,
      progress,
    );
  }

  close(): void {
    this.worker?.terminate();
    this.worker = undefined;
    for (const { resolve } of this.waiting.values()) resolve(undefined);
    this.waiting.clear();
  }

  private ask<K extends Answer['kind'], T>(
    _kind: K,
    question: (n: number) => ToPictureWorker,
    read: (answer: AnswerOf<K>) => T,
    progress?: (part: number) => void,
  ): PictureTask<T> {
    const n = ++this.n;
    const result = new Promise<Answer | undefined>((resolve, reject) => {
      this.waiting.set(n, { resolve, reject, progress });
      this.post(question(n));
    }).then((answer) => (answer === undefined ? undefined : read(answer as AnswerOf<K>)));
    return { result, stop: () => this.waiting.has(n) && this.post({ type: 'stop', n }) };
  }

  private post(message: ToPictureWorker): void {
    this.worker ??= this.start();
    this.worker.postMessage(message);
  }

  private start(): Worker {
    const worker = new Worker(PICTURE_WORKER, { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromPictureWorker>) => this.receive(data);
    worker.onerror = (event) => {
      const error = new Error(event.message);
      for (const { reject } of this.waiting.values()) reject(error);
      this.waiting.clear();
      this.worker = undefined;
    };
    return worker;
  }

  private receive(answer: FromPictureWorker): void {
    const asked = this.waiting.get(answer.n);
    if (!asked) return answer.kind === 'developed' ? answer.bitmap.close() : undefined;
    if (answer.kind === 'progress') return asked.progress?.(answer.part);
    this.waiting.delete(answer.n);
    if (answer.kind === 'failed') asked.reject(new Error(answer.reason));
    else asked.resolve(answer.kind === 'stopped' ? undefined : answer);
  }
}
