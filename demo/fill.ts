// Fills a data folder with the demo's sheets, once: node demo/fill.ts FOLDER
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decodeFrame } from '../contract/frame';
import { FIRST_LAYER, type InkableLayer, type ReferenceLayer, type Stroke } from '../core/sheet/entities';
import { fittedPlacement } from '../core/sheet/placement';
import { sheetPng } from '../core/formats/sheet-png';
import { finish } from '../core/sheet/ink-store';
import { assign, putRows, type Change, type Step } from '../core/sheet/steps';
import { takeIn } from '../server/picture-intake';
import { openStore, type Store } from '../server/store';
import { wholeInk } from './whole-ink';

const SHEET = 'heron-at-the-jetty';
const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };

/** Adds "Heron at the jetty" to a store that does not have it. */
export async function fillDemo(store: Store, now: number): Promise<void> {
  if (store.sheets.exists(SHEET)) return;
  const folder = join(__dirname, 'heron');
  const bytes = readFileSync(join(folder, 'photo.jpg'));
  const [{ prepared }] = (await takeIn(bytes)).pictures;
  const picture = await store.pictures.add(bytes, prepared, now);
  const { body, parts } = decodeFrame(new Uint8Array(readFileSync(join(folder, 'ink.frame'))));
  const { layers, strokes } = body as { layers: InkableLayer[]; strokes: Stroke[] };
  store.sheets.act(
    { id: 'demo-create', kind: 'create', sheetId: SHEET, name: 'Heron at the jetty', paper: PAPER },
    now,
  );
  const ref = { hash: picture.hash, width: picture.width, height: picture.height };
  const reference: ReferenceLayer = {
    ...FIRST_LAYER,
    id: 'photo',
    kind: 'reference',
    name: 'Heron photo',
    order: 'Zz',
    picture: ref,
    placement: fittedPlacement(ref, PAPER),
  };
  const head = store.sheets.head(SHEET)!;
  const top = layers[layers.length - 1];
  const changes: Change[] = [
    putRows('layers', reference, ...layers),
    assign('layers', FIRST_LAYER, 'deleted', true),
    assign('sheet', head.settings, 'target', top.id),
    assign('sheet', head.settings, 'nibs', [5, 9, 15, 26]),
    putRows('strokes', ...strokes),
  ];
  const step: Step = { id: 'demo-ink', device: 'demo', undoable: false, label: 'Demo', changes };
  const { results } = store.steps.append(SHEET, [step], parts, now);
  if ('refused' in results[0]) throw new Error(results[0].refused.message);
  const { ink, model } = await wholeInk(store, SHEET);
  const overview = finish(sheetPng(model, ink, PAPER, { level: -2, onPaper: true }));
  store.sheets.putOverview(SHEET, 1, Buffer.concat(overview));
}

async function main(folder: string | undefined): Promise<void> {
  if (!folder) throw new Error('usage: fill.ts FOLDER');
  const store = openStore(folder);
  try {
    await fillDemo(store, Date.now());
  } finally {
    store.close();
  }
}

if (require.main === module) void main(process.argv[2]);
