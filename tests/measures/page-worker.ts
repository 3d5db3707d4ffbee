import { decodeFrame } from '../../contract/frame';
import { readInk } from '../../contract/ink-frame';
import { packTile } from '../../core/raster/pack-tile';
import { writesOf } from '../../core/sheet/steps';
import { SheetModel } from '../../core/sheet/sheet-model';
import { answerColour } from '../../workers/colouring';
import { answerEditing } from '../../workers/editing';
import type { Answer, Need, ToWorker } from '../../workers/sheet-protocol';
import { TileMaker } from '../../workers/tile-maker';

/** Speaks the sheet worker's protocol without a thread and without painting, for tests of the page's side. */
export class PageWorker {
  onmessage: (event: { data: unknown }) => void = () => {};
  onerror: unknown;
  private model: SheetModel | undefined;
  private needs = 0;
  private readonly asked = new Map<number, (frame: ArrayBuffer | undefined) => void>();
  private queue: Promise<void> = Promise.resolve();
  private readonly maker = new TileMaker({
    samples: async (ids) => decodeFrame(new Uint8Array(await this.bring({ what: 'samples', ids }))).parts,
    lowTiles: async (tiles) => decodeFrame(new Uint8Array(await this.bring({ what: 'low-tiles', tiles }))).parts,
  });

  postMessage(message: ToWorker): void {
    if (message.type === 'want' || message.type === 'stop') return;
    if (message.type === 'low') {
      const { body, parts } = decodeFrame(new Uint8Array(message.frame));
      return this.maker.takeLow(body as Parameters<TileMaker['takeLow']>[0], parts);
    }
    if (message.type === 'brought') return this.asked.get(message.need)?.(message.frame);
    const { n } = message;
    this.queue = this.queue.then(async () => {
      try {
        this.onmessage({ data: { type: 'answer', n, answer: await this.answer(message) } });
      } catch (error) {
        const isOutOfReach = String(error).includes('out of reach');
        this.onmessage({ data: { type: 'failed', n, message: String(error), isOutOfReach } });
      }
    });
  }

  terminate(): void {}

  private async bring(of: Need): Promise<ArrayBuffer> {
    const need = ++this.needs;
    const frame = await new Promise<ArrayBuffer | undefined>((resolve) => {
      this.asked.set(need, resolve);
      this.onmessage({ data: { type: 'need', need, of } });
    });
    if (!frame) throw new Error('out of reach');
    return frame;
  }

  private async answer(message: Exclude<ToWorker, { type: 'want' | 'stop' | 'low' | 'brought' }>): Promise<Answer> {
    const { maker } = this;
    switch (message.type) {
      case 'open': {
        const ink = readInk(new Uint8Array(message.frame));
        this.model = new SheetModel(message.settings, message.layers);
        this.model.strokes.open(ink.strokes);
        for (const { erasure } of ink.erasures) this.model.erasures.set(erasure.id, erasure);
        maker.open(ink, (store) => {
          for (const { changes, parts } of message.missed) store.follow(this.model!.apply(changes), new Map(parts));
        });
        return { kind: 'opened' };
      }
      case 'apply': {
        const parts = new Map(message.parts);
        const lacking = maker.ink.lackingFor(message.changes, parts);
        if (lacking.length) await maker.bringSamples(lacking);
        const damage = maker.ink.follow(this.model!.apply(message.changes), parts);
        maker.follow(damage, message.step);
        return { kind: 'applied', damage, tiles: [] };
      }
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
      case 'colour': {
        const paper = { widthPx: 400, heightPx: 300, ppi: 300 };
        return { kind: 'colour', answer: await answerColour(maker, paper, message.ask) };
      }
      case 'preview': {
        const damage = maker.ink.follow(message.changes.flatMap(writesOf), new Map());
        maker.follow(damage, undefined);
        return { kind: 'applied', damage, tiles: [] };
      }
      case 'keep': {
        const layerIds = [...this.model!.layers.keys()];
        const leave = (batch: Extract<Need, { what: 'keep' }>['batch']) =>
          this.bring({ what: 'keep', seq: message.seq, batch }).then(
            () => true,
            () => false,
          );
        const paper = { widthPx: 400, heightPx: 300, ppi: 300 };
        return { kind: 'kept', isAll: await maker.keepLow({ layerIds, paper, pack: packTile }, leave, () => true) };
      }
      default:
        return { kind: 'stopped' };
    }
  }
}
