import 'fake-indexeddb/auto';
import type { SheetModel } from '../../core/sheet/sheet-model';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { Inking } from '../../ui/session/inking';
import { Browser, BYTES, ink, opened, savedOn, serverStrokes, setUpWorld, world } from '../measures/devices';
import { handSamples } from '../measures/strokes';

setUpWorld();

describe('a session that cuts lines', () => {
  it('does so while the server is away, and is found so when it is opened again', async () => {
    const tablet = new Browser('tablet');
    const { session } = await opened(tablet);
    const inking = new Inking(
      session,
      () => {},
      () => {},
    );
    await ink(session, 'saved');
    await savedOn(session);
    world.away = true;
    await ink(session, 'waiting');
    const across = encodeSamples(handSamples((u) => [70, 20 + 40 * u], { ms: 100 }));
    await inking['erase']('lines', across, makePen('fineliner', 20, 0, false, 1), undefined);
    const standing = (model: SheetModel) =>
      [...model.strokes.values()].filter((s) => !s.deleted).map((s) => s.stands?.samples);
    expect(standing(session.model).sort()).toEqual(['saved', 'saved', 'waiting', 'waiting']);
    session.close();
    world.away = false;
    const again = await opened(tablet);
    expect(standing(again.session.model).sort()).toEqual(['saved', 'saved', 'waiting', 'waiting']);
    // The worker has the samples of all parts: an eraser along the line leaves nothing.
    const along = await again.session.client.erased('lines', BYTES, makePen('fineliner', 40, 0, false, 1));
    expect(along.map((s) => s.left)).toEqual([[], [], [], []]);
    await savedOn(again.session);
    expect(await again.session.setAside()).toEqual([]);
    expect((await serverStrokes()).filter(([, deleted]) => !deleted)).toHaveLength(4);
    expect(again.told.notices).toEqual([]);
  });
});
