import type { Browser, Page } from 'playwright-core';
import { sheetPng } from '../core/formats/sheet-png';
import { RasterWorkspace } from '../core/raster/draw-stroke';
import { lowLevels, tilesOfPaper } from '../core/raster/low-tiles';
import { packTile } from '../core/raster/pack-tile';
import { eachTile, TILE_SIDE, tileKey, tileRect } from '../core/raster/tiles';
import type { Stroke } from '../core/sheet/entities';
import { finish } from '../core/sheet/ink-work';
import { putRows, type Step } from '../core/sheet/steps';
import { encodeSamples } from '../core/stroke/pack-samples';
import { makePen } from '../core/stroke/pen';
import { wholeInk } from '../demo/whole-ink';
import { openStore, type Store } from '../server/store';
import { DESK, openPage, type TestServer } from '../tests/browser/harness';
import { settled } from '../tests/browser/sheet-driver';
import { strokeEntity } from '../tests/measures/sheets';
import { handSamples, random } from '../tests/measures/strokes';
import { FEWEST_STROKES } from '../workers/tile-maker';

const PAPER = { widthPx: 2400, heightPx: 3200, ppi: 300 };

/** A sheet of `count` strokes, in a data folder. */
export async function fillStrokes(folder: string, count: number, paper = PAPER): Promise<void> {
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
  await keepPictures(store, `s${count}`);
  store.close();
}

/** Opens a sheet of so many strokes on a wide screen, and waits until it is all there. */
export async function settledSheet(browser: Browser, server: TestServer, count: number): Promise<Page> {
  const { page } = await openPage(browser, DESK);
  await page.goto(`${server.url}/sheet/s${count}`);
  await page.getByTestId('paper').waitFor();
  await settled(page);
  return page;
}

/** Leaves behind what the app leaves after inking: the small picture, and the tiles of the low levels. */
async function keepPictures(store: Store, id: string): Promise<void> {
  const { card } = store.sheets.head(id)!;
  const { ink, model } = await wholeInk(store, id);
  store.sheets.putOverview(id, card, Buffer.concat(finish(sheetPng(model, ink, card, { level: -3, onPaper: true }))));
  if (ink.size < FEWEST_STROKES) return;
  const work = new RasterWorkspace(TILE_SIDE, TILE_SIDE);
  const layerIds = model.stack().map((l) => l.id);
  for (const level of lowLevels(card)) {
    const tiles = new Map<string, Uint8Array>();
    for (const layerId of layerIds)
      eachTile(tilesOfPaper(card, level), (tx, ty) => {
        const address = { layerId, level, tx, ty };
        const pixels = ink.draw(layerId, level, tileRect(address), work, 'exact');
        tiles.set(tileKey(address), pixels ? packTile(pixels) : new Uint8Array(0));
      });
    store.lowTiles.put(id, card, tiles);
  }
}
