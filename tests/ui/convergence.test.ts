import 'fake-indexeddb/auto';
import { nanoid } from 'nanoid';
import { unpackInk } from '../../contract/ink-frame';
import { FIRST_LAYER, isInkable, newSettings } from '../../core/sheet/entities';
import { erasingChanges } from '../../core/sheet/erasing';
import { sizeOf } from '../../core/sheet/paper';
import { SheetModel } from '../../core/sheet/sheet-model';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { ENGINE, makePen } from '../../core/stroke/pen';
import type { SheetSession } from '../../ui/session/session';
import { actsOn } from '../measures/layer-acts';
import { setLayerOpacity } from '../../ui/session/stack-actions';
import { Browser, ink, openedInTurn, setUpWorld, world } from '../measures/devices';
import { listed } from '../measures/sheets';
import { handSamples, random } from '../measures/strokes';

setUpWorld();

/** Erases through the lines of all strokes on the first layer that has some, as the hand does. */
async function eraseAcross(session: SheetSession, x: number): Promise<void> {
  const bytes = encodeSamples(handSamples((u) => [x, 20 + 40 * u], { ms: 100 }));
  const mark = { id: nanoid(), layerId: 'lines', pen: makePen('fineliner', 14, 0, false, 1), engine: ENGINE };
  const erased = await session.client.erased('lines', bytes, mark.pen);
  const changes = erasingChanges(erased, mark, (id) => session.model.strokes.get(id), nanoid);
  await session.act('Erase', changes, { parts: [[mark.id, bytes]] });
}

describe('three devices', () => {
  const tablesOf = (model: SheetModel) =>
    JSON.stringify([
      Object.entries(model.settings).sort(),
      ...[model.layers, model.strokes, model.erasures].map((t) =>
        [...(t as Map<string, object>).values()]
          // What an entity may lack is the same as null.
          .map((e) =>
            Object.entries(e)
              .filter(([, value]) => value !== null)
              .sort(),
          )
          .sort((a, b) => (String(a) < String(b) ? -1 : 1)),
      ),
    ]);

  let severed = 0;
  afterAll(() => expect(severed).toBeGreaterThan(10));
  // Random acts, delays, repeats and lost answers; afterwards all must hold one drawing.
  it.each([1, 2, 3, 4, 5, 6])('end with one drawing, which is their journal replayed: run %d', async (seed) => {
    const rnd = random(seed * 7919);
    const devices = await Promise.all(['tablet', 'phone', 'desk'].map((name) => openedInTurn(new Browser(name))));
    const steady = globalThis.fetch;
    let isRough = true;
    globalThis.fetch = (async (path: string, init?: RequestInit) => {
      const luck = rnd();
      if (isRough && luck < 0.1) throw new TypeError('failed to fetch');
      await new Promise((r) => setTimeout(r, isRough ? rnd() * 12 : 0));
      const answer = await steady(path, init);
      if (isRough && luck > 0.85) throw new TypeError('the answer was lost');
      if (isRough && luck > 0.7) await new Promise((r) => setTimeout(r, rnd() * 25));
      return answer;
    }) as typeof fetch;
    let n = 0;
    for (let round = 0; round < 60; round++) {
      const { session } = devices[Math.floor(rnd() * 3)];
      const { acts } = actsOn(session);
      const layers = session.model.stack();
      const layer = layers[Math.floor(rnd() * layers.length)];
      const strokes = [...session.model.strokes.keys()];
      const what = rnd();
      if (what < 0.3) {
        const id = `${session['device']}-${n++}`;
        await ink(session, id);
      } else if (what < 0.5 && layer) await setLayerOpacity(session, layer, Math.round(rnd() * 100) / 100);
      else if (what < 0.6 && layer) await acts.rename(layer, `Layer ${n++}`);
      else if (what < 0.65 && layers.length < 6) await acts.add('ink');
      else if (what < 0.67 && layers.length > 1) await acts.delete([layer.id]);
      else if (what < 0.7 && layers.length > 1) await acts.merge(layers.slice(-2).map(({ id }) => id));
      else if (what < 0.72 && layer) await acts.group([layer.id]);
      else if (what < 0.74 && layer?.kind === 'group') await acts.ungroup(layer);
      else if (what < 0.76 && isInkable(layer)) await acts.setKind(layer, rnd() < 0.5 ? 'rough' : 'ink');
      else if (what < 0.8 && layer) await acts.step(layer.id, rnd() < 0.7 ? 'up' : 'down');
      else if (what < 0.84) await eraseAcross(session, 20 + 100 * rnd());
      else if (what < 0.9) await session.undo();
      else if (what < 0.95) await session.redo();
      else if (strokes.length)
        await session.act('Move', [
          {
            op: 'set',
            table: 'strokes',
            field: 'matrix',
            ids: strokes,
            before: strokes.map((id) => session.model.strokes.get(id)!.matrix),
            after: strokes.map(() => [1, 0, 0, 1, n++, 0]),
          },
        ]);
      if (rnd() < 0.3) await new Promise((r) => setTimeout(r, rnd() * 20));
      if (rnd() < 0.2) devices[Math.floor(rnd() * 3)].session.retryNow();
    }
    isRough = false;
    const serverSeq = () => world.store.sheets.head('sheet')!.card.seq;
    for (let i = 0; i < 300; i++) {
      for (const { session } of devices) session.retryNow();
      await new Promise((r) => setTimeout(r, 10));
      if (devices.every(({ session }) => !session['sender'].waiting.length && session['seq'] === serverSeq())) break;
    }
    globalThis.fetch = steady;
    const { steps } = world.store.steps.after('sheet', 0, 1e9);
    expect(steps.length).toBeGreaterThan(20);
    expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length);
    const replayed = new SheetModel(newSettings(300), [FIRST_LAYER]);
    for (const step of steps) replayed.apply(step.changes);
    const head = world.store.sheets.head('sheet')!;
    const kept = new SheetModel(head.settings, head.layers);
    const { strokes, erasures } = unpackInk(await world.store.sheets.ink('sheet', 0));
    kept.strokes.open(strokes);
    for (const { erasure } of erasures) kept.erasures.set(erasure.id, erasure);
    severed += listed(strokes).filter((s) => s.stands).length;
    expect(tablesOf(kept)).toBe(tablesOf(replayed));
    // Devices know the paper's size by the sheet's card.
    kept.settings = { ...kept.settings, paper: sizeOf(head.card) };
    for (const { session } of devices) expect(tablesOf(session.model)).toBe(tablesOf(kept));
  });
});
