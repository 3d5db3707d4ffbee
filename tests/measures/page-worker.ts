import { readInk } from '../../contract/ink-frame';
import { InkStore } from '../../core/sheet/ink-store';
import { SheetModel } from '../../core/sheet/sheet-model';
import type { Answer, ToWorker } from '../../workers/sheet-protocol';

/** Speaks the sheet worker's protocol without a thread and without painting, for tests of the page's side. */
export class PageWorker {
  onmessage: (event: { data: unknown }) => void = () => {};
  onerror: unknown;
  private ink = new InkStore();
  private model: SheetModel | undefined;

  postMessage(message: ToWorker): void {
    if (message.type === 'want' || message.type === 'stop') return;
    const { n } = message;
    queueMicrotask(() => {
      try {
        this.onmessage({ data: { type: 'answer', n, answer: this.answer(message) } });
      } catch (error) {
        this.onmessage({ data: { type: 'failed', n, message: String(error) } });
      }
    });
  }

  terminate(): void {}

  private answer(message: Exclude<ToWorker, { type: 'want' | 'stop' }>): Answer {
    switch (message.type) {
      case 'open': {
        const { strokes, erasures, samples } = readInk(new Uint8Array(message.frame));
        this.model = new SheetModel(message.settings, message.layers);
        for (const stroke of strokes) this.model.strokes.set(stroke.id, stroke);
        for (const erasure of erasures) this.model.erasures.set(erasure.id, erasure);
        this.ink = new InkStore(message.level);
        this.ink.load(strokes, erasures, samples);
        return { kind: 'opened' };
      }
      case 'apply': {
        const damage = this.ink.follow(this.model!.apply(message.changes), new Map(message.parts));
        return { kind: 'applied', damage };
      }
      case 'touched':
        return { kind: 'touched', ids: this.ink.touchedBy(message.layerId, message.bytes, message.pen) };
      default:
        return { kind: 'stopped' };
    }
  }
}
