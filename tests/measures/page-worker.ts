import { decodeFrame } from '../../contract/frame';
import { readInk } from '../../contract/ink-frame';
import { keepTiles } from '../../workers/keep-tiles';
import { sheetPng } from '../../core/formats/sheet-png';
import { answerColour } from '../../workers/colouring';
import { answerEditing } from '../../workers/editing';
import { FollowedSheet } from '../../workers/followed-sheet';
import { fromTiles } from '../../workers/sending';
import type { Answer, Need, ToWorker } from '../../workers/sheet-protocol';
import { TileMaker } from '../../workers/tile-maker';

type Question = Exclude<ToWorker, { type: 'want' | 'stop' | 'low' | 'brought' | 'ahead' }>;

/** Speaks the sheet worker's protocol without a thread and without a screen, for tests of the page's side. */
export class PageWorker {
  /** A sheet of so few strokes has its tiles kept. */
  static fewestStrokes: number | undefined;
  onmessage: (event: { data: unknown }) => void = () => {};
  onerror: unknown;
  private needs = 0;
  private readonly asked = new Map<number, (frame: ArrayBuffer | undefined) => void>();
  private queue: Promise<void> = Promise.resolve();
  readonly maker = new TileMaker(
    {
      samples: async (names) => decodeFrame(new Uint8Array(await this.bring({ what: 'samples', ids: names }))).parts,
      lowTiles: async (tiles) => decodeFrame(new Uint8Array(await this.bring({ what: 'low-tiles', tiles }))).parts,
    },
    PageWorker.fewestStrokes,
  );
  readonly sheet = new FollowedSheet(this.maker);

  postMessage(message: ToWorker): void {
    if (message.type === 'want' || message.type === 'stop') return;
    if (message.type === 'low') {
      const { body, parts } = decodeFrame(new Uint8Array(message.frame));
      return this.maker.takeLow(body as Parameters<TileMaker['takeLow']>[0], parts);
    }
    if (message.type === 'brought') return this.asked.get(message.need)?.(message.frame);
    if (message.type === 'ahead')
      return void this.queue.then(() => this.maker.bringShapes(message.names)).catch(() => undefined);
    const done = this.queue.then(() => this.tell(message));
    if (!['keep', 'png', 'colour'].includes(message.type)) this.queue = done;
  }

  private async tell(message: Question): Promise<void> {
    const { n } = message;
    try {
      this.onmessage({ data: { type: 'answer', n, answer: await this.answer(message) } });
    } catch (error) {
      const isOutOfReach = String(error).includes('out of reach');
      this.onmessage({ data: { type: 'failed', n, message: String(error), isOutOfReach } });
    }
  }

  terminate(): void {
    this.sheet.close();
  }

  private async bring(of: Need): Promise<ArrayBuffer> {
    const need = ++this.needs;
    const frame = await new Promise<ArrayBuffer | undefined>((resolve) => {
      this.asked.set(need, resolve);
      this.onmessage({ data: { type: 'need', need, of } });
    });
    if (!frame) throw new Error('out of reach');
    return frame;
  }

  private async answer(message: Question): Promise<Answer> {
    const { maker, sheet } = this;
    switch (message.type) {
      case 'open':
        sheet.open({ ...message, ink: readInk(new Uint8Array(message.frame)) });
        return { kind: 'opened' };
      case 'apply':
        return {
          kind: 'applied',
          damage: await sheet.apply(message.changes, message.parts, message.step),
          tiles: [],
        };
      case 'preview':
        return { kind: 'applied', damage: await sheet.preview(message.changes), tiles: [] };
      case 'erased':
      case 'near':
      case 'line-at':
      case 'in-loop':
      case 'shape':
      case 'copies':
      case 'snips':
      case 'mend':
      case 'gap':
        return answerEditing(maker, message);
      case 'colour':
        return { kind: 'colour', answer: await answerColour(maker, sheet.paper, message.ask) };
      case 'png': {
        const standsStill = sheet.standsStill();
        const draw = fromTiles(maker, message.level);
        const made = await maker.run(
          sheetPng(sheet.model, maker.ink, sheet.paper, message, undefined, draw),
          standsStill,
        );
        if (!made || !standsStill()) return { kind: 'stopped' };
        return { kind: 'file', parts: made as BlobPart[] };
      }
      case 'keep': {
        const leave = (batch: Extract<Need, { what: 'keep' }>['batch']) =>
          this.bring({ what: 'keep', seq: message.seq, batch }).then(
            () => true,
            () => false,
          );
        const drop = async () => void (await this.bring({ what: 'drop-kept' }));
        const { isAll } = await keepTiles(sheet, { seq: message.seq, leave, drop, isCalm: () => true });
        return { kind: 'kept', isAll };
      }
      default:
        return { kind: 'stopped' };
    }
  }
}
