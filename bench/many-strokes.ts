import { unpackInk } from '../contract/ink-frame';
import { sheetPng } from '../core/formats/sheet-png';
import type { Stroke } from '../core/sheet/entities';
import { InkStore } from '../core/sheet/ink-store';
import { SheetModel } from '../core/sheet/sheet-model';
import { putRows, type Step } from '../core/sheet/steps';
import { encodeSamples } from '../core/stroke/codec';
import { makePen } from '../core/stroke/pen';
import { openStore, type Store } from '../server/store';
import { strokeEntity } from '../tests/measures/sheets';
import { handSamples, random } from '../tests/measures/strokes';

const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };

/** A sheet of `count` strokes, in a data folder. */
export function fillStrokes(folder: string, count: number, paper = PAPER): void {
  const store = openStore(folder);
  store.sheets.act(
    {
      id: `create-${count}`,
      kind: 'create',
      sheetId: `s${count}`,
      name: `${count} strokes`,
      paper,
    },
    0,
  );
  const rnd = random(count);
  for (let from = 0; from < count; from += 1000) {
    const parts = new Map<string, Uint8Array>();
    const strokes = Array.from({ length: Math.min(1000, count - from) }, (_, i): Stroke => {
      const id = `k${from + i}`;
      const [x, y] = [100 + rnd() * (paper.widthPx - 300), 100 + rnd() * (paper.heightPx - 300)];
      const [a, l] = [rnd() * 6.28, 80 + rnd() * 320];
      parts.set(
        id,
        encodeSamples(
          handSamples((u) => [x + l * u * Math.cos(a) + 20 * Math.sin(u * 5), y + l * u * Math.sin(a)], {
            ms: 330,
            seed: from + i + 1,
          }),
        ),
      );
      const order = `a${String(from + i).padStart(7, '0')}`;
      return strokeEntity(id, { order, pen: makePen('dip', 4 + Math.round(rnd() * 12), 30, true, 1) });
    });
    const step: Step = {
      id: `fill${from}`,
      device: 'bench',
      undoable: false,
      label: 'Fill',
      changes: [putRows('strokes', ...strokes)],
    };
    store.steps.append(`s${count}`, [step], parts, 0);
  }
  keepOverview(store, `s${count}`);
  store.close();
}

/** Leaves the small picture behind, as the app does after inking. */
function keepOverview(store: Store, id: string): void {
  const { settings, layers, card } = store.sheets.head(id)!;
  const { strokes, erasures, samples } = unpackInk(store.sheets.strokes(id));
  const ink = new InkStore(-3);
  ink.load(strokes, erasures, samples);
  const png = sheetPng(new SheetModel(settings, layers), ink, card, { level: -3, onPaper: true });
  let made = png.next();
  while (!made.done) made = png.next();
  store.sheets.putOverview(id, card.seq, Buffer.concat(made.value));
}
