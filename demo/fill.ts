// Fills a data folder with the demo's sheets, once: node demo/fill.ts FOLDER
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { decodeFrame } from '../contract/frame';
import { partsOf, type Recipe } from '../core/picture/recipe';
import { FIRST_LAYER, isInkable, type PictureLayer, type PictureRef } from '../core/sheet/entities';
import { fittedPlacement } from '../core/sheet/placement';
import { sheetPng } from '../core/formats/sheet-png';
import { finish } from '../core/sheet/ink-work';
import { assign, putRows, type Change, type Step } from '../core/sheet/steps';
import { takeIn } from '../server/picture-intake';
import { openStore, type Store } from '../server/store';
import { CORNERS, SHOT } from './bell-curves';
import type { DemoInk } from './desk';
import { BELL_FLATS, HERON_FLATS, pourFlats, smallFlats, type Flats } from './flats';
import { wholeInk } from './whole-ink';

const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };

/** A sheet of the demo, whose photo and ink lie in a folder of its name. */
interface DemoSheet {
  id: string;
  name: string;
  folder: string;
  nibs: [number, number, number, number];
  flats: Flats;
  /** The layers that show its photo. */
  pictures(picture: PictureRef): PictureLayer[];
}

const BASE = { ...FIRST_LAYER, placement: { cx: 0, cy: 0, scale: 1, turnDeg: 0, mirrored: false } };

const HERON: DemoSheet = {
  id: 'heron-at-the-jetty',
  name: 'Heron at the jetty',
  folder: 'heron',
  nibs: [5, 9, 15, 26],
  flats: HERON_FLATS,
  pictures: (picture) => [
    { ...BASE, id: 'photo', kind: 'reference', name: 'Heron photo', order: 'Zz', picture, placement: fittedPlacement(picture, PAPER) }, // prettier-ignore
  ],
};

/** The page squared up by its corners, its light made even, its lines lifted off. */
const BELL_LIFT: Recipe = [
  { id: 'bell-page', kind: 'crop', on: true, corners: partsOf(CORNERS, SHOT), width: 1650, height: 2200 },
  { id: 'bell-light', kind: 'even', on: true, reach: 0.1 },
  { id: 'bell-lines', kind: 'lift', on: true, paper: 0.92, line: 0.42, keep: 0.62, specks: 5 },
];

const BELL: DemoSheet = {
  id: 'ferry-bell',
  name: 'Ferry bell',
  folder: 'bell',
  nibs: [6, 10, 16, 24],
  flats: BELL_FLATS,
  pictures: (picture) => {
    const placement = fittedPlacement({ width: 1650, height: 2200 }, PAPER);
    const pale: Recipe = [...BELL_LIFT, { id: 'bell-tint', kind: 'tint', on: true, colour: '#6fa8dc', amount: 1 }];
    return [
      { ...BASE, id: 'page', kind: 'reference', name: 'Bell page', order: 'Zz', picture, placement, recipe: pale },
      { ...BASE, id: 'lifted', kind: 'lifted', name: 'Bell page lifted', order: 'Zzz', picture, placement, recipe: BELL_LIFT, visible: false }, // prettier-ignore
    ];
  },
};

/** Adds the demo's sheets to a store that does not have them. */
export async function fillDemo(store: Store, now: number): Promise<void> {
  await fillSheet(store, BELL, now);
  await fillSheet(store, HERON, now + 1);
}

async function fillSheet(store: Store, sheet: DemoSheet, now: number): Promise<void> {
  const { id, name } = sheet;
  if (store.sheets.exists(id)) return;
  const folder = join(__dirname, sheet.folder);
  const bytes = readFileSync(join(folder, 'photo.jpg'));
  const [{ prepared }] = (await takeIn(bytes)).pictures;
  const { hash, width, height } = await store.pictures.add(bytes, prepared, now);
  const { body, parts } = decodeFrame(new Uint8Array(readFileSync(join(folder, 'ink.frame'))));
  const { layers, strokes } = body as Pick<DemoInk, 'layers' | 'strokes'>;
  store.sheets.act({ id: `demo-${id}`, kind: 'create', sheetId: id, name, paper: PAPER }, now);
  const head = store.sheets.head(id)!;
  const top = layers.findLast((layer) => isInkable(layer))!;
  const changes: Change[] = [
    putRows('layers', ...sheet.pictures({ hash, width, height }), ...layers),
    assign('layers', FIRST_LAYER, 'deleted', true),
    assign('sheet', head.settings, 'target', top.id),
    assign('sheet', head.settings, 'nibs', sheet.nibs),
    putRows('strokes', ...strokes),
  ];
  const step: Step = { id: 'demo-ink', device: 'demo', undoable: false, label: 'Demo', changes };
  const { results } = store.steps.append(id, [step], parts, now);
  if ('refused' in results[0]) throw new Error(results[0].refused.message);
  await pour(store, sheet, now);
  await fillSmall(store, sheet, now);
  const { ink, model } = await wholeInk(store, id);
  const overview = finish(sheetPng(model, ink, PAPER, { level: -2, onPaper: true }));
  store.sheets.putOverview(id, store.sheets.head(id)!.card, Buffer.concat(overview));
}

/** Colours it: a second step. Small shapes get the colour beside them. */
async function pour(store: Store, { id, flats }: DemoSheet, now: number): Promise<void> {
  const { ink, model } = await wholeInk(store, id);
  const { layer, swatches, strokes, parts } = pourFlats(ink, PAPER, flats);
  const changes = [putRows('layers', layer), assign('sheet', model.settings, 'swatches', swatches), putRows('strokes', ...strokes)]; // prettier-ignore
  const step: Step = { id: 'demo-flats', device: 'demo', undoable: false, label: 'Demo', changes };
  const { results } = store.steps.append(id, [step], new Map(parts), now);
  if ('refused' in results[0]) throw new Error(results[0].refused.message);
}

async function fillSmall(store: Store, { id, flats }: DemoSheet, now: number): Promise<void> {
  const { ink, model } = await wholeInk(store, id);
  const { strokes, parts } = smallFlats(ink, PAPER, flats, (one) => model.strokes.get(one)!.colour);
  const step: Step = { id: 'demo-small', device: 'demo', undoable: false, label: 'Demo', changes: [putRows('strokes', ...strokes)] }; // prettier-ignore
  store.steps.append(id, [step], new Map(parts), now);
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
