import { RasterWorkspace } from '../../core/raster/draw-stroke';
import { TILE_SIDE, tileRect } from '../../core/raster/tiles';
import { FIRST_LAYER, newSettings, type Stroke } from '../../core/sheet/entities';
import { inverseOf } from '../../core/sheet/history';
import { assign, putRows, type Assign, type Change, type Step } from '../../core/sheet/steps';
import { encodeSamples } from '../../core/stroke/pack-samples';
import { makePen } from '../../core/stroke/pen';
import { keepTiles } from '../../workers/keep-tiles';
import { FollowedSheet } from '../../workers/followed-sheet';
import { Previews } from '../../workers/previews';
import { TileMaker } from '../../workers/tile-maker';
import { openedInk, packedStrokes, strokeEntity } from '../measures/sheets';
import { handSamples } from '../measures/strokes';

const PAPER = { widthPx: 250, heightPx: 250, ppi: 150 };
const TILE = { layerId: 'lines', level: 0, tx: 0, ty: 0 };
const line = (y: number) => encodeSamples(handSamples((u) => [20 + 180 * u, y + 20 * Math.sin(4 * u)], { ms: 200 }));

/** A sheet of three lines in a worker, and its artist. */
function sheet() {
  const bytes = new Map(['a', 'b', 'c'].map((id, i) => [id, line(40 + 60 * i)]));
  const strokes = [...bytes.keys()].map((id, i) => strokeEntity(id, { order: `a${i}` }));
  const stored = (names: readonly string[]) =>
    new Map(names.flatMap((name) => [[name, bytes.get(name.slice(1))!] as const]));
  const maker = new TileMaker(
    { samples: (names) => Promise.resolve(stored(names)), lowTiles: () => Promise.resolve(new Map()) },
    1,
  );
  const followed = new FollowedSheet(maker);
  followed.open({
    ink: { seq: 1, strokes: packedStrokes(strokes, bytes), erasures: [], damage: [] },
    missed: [],
    settings: newSettings(150),
    layers: [FIRST_LAYER],
    paper: PAPER,
  });
  let n = 0;
  /** Does a step; the tile in sight is painted before and after, as the screen has it. */
  const act = async (changes: Change[], parts: [string, Uint8Array][] = [], undoes?: string): Promise<Step> => {
    await maker.pixels(TILE);
    const step: Step = { id: `step${n++}`, device: 'd', undoable: true, label: 'x', changes, undoes };
    for (const [id, part] of parts) bytes.set(id, part);
    await followed.apply(changes, parts, { id: step.id, undoes });
    return step;
  };
  const undo = async (step: Step) => act(inverseOf(step, followed.model.read).changes, [], step.id);
  const preview = async (changes: Assign[]) => {
    await followed.preview(changes);
    await maker.pixels(TILE);
  };
  /** Expects that the tile is what a fresh opening draws. */
  const expectFresh = async (when: string) => {
    const pixels = await maker.pixels(TILE);
    const all = [...followed.model.strokes.values()];
    const fresh = openedInk(all, [], bytes).draw('lines', 0, tileRect(TILE), new RasterWorkspace(TILE_SIDE, TILE_SIDE));
    expect([when, Buffer.from(pixels!.data).equals(Buffer.from(fresh!.data))]).toEqual([when, true]);
  };
  return { followed, maker, act, undo, preview, expectFresh, stroke: (id: string) => followed.model.strokes.get(id)! };
}
type Sheet = ReturnType<typeof sheet>;

const hidden = (stroke: Stroke): Assign => assign('strokes', stroke, 'deleted', true);

/** What tools do with the ink after they have shown it: the changes, and what is shown before. */
const TOOLS: Record<string, (s: Sheet) => { shown: Assign[]; changes: Change[]; parts?: [string, Uint8Array][] }> = {
  'a pull, which puts another line in the place of one that it has hidden': ({ stroke }) => ({
    shown: [hidden(stroke('b'))],
    changes: [putRows('strokes', strokeEntity('new', { order: 'a1V' })), hidden(stroke('b'))],
    parts: [['new', line(120)]],
  }),
  'moving by handles': ({ stroke }) => {
    const changes = [assign('strokes', stroke('a'), 'matrix', [1, 0, 0, 1, 20, 30] as const)];
    return { shown: changes, changes };
  },
  'another pen, live': ({ stroke }) => {
    const changes = [assign('strokes', stroke('c'), 'pen', makePen('dip', 22, 30, true, 1))];
    return { shown: changes, changes };
  },
  'what was shown otherwise than it was done': ({ stroke }) => ({
    shown: [assign('strokes', stroke('a'), 'matrix', [1, 0, 0, 1, 90, 30])],
    changes: [assign('strokes', stroke('a'), 'matrix', [1, 0, 0, 1, 20, 30])],
  }),
};

describe('what is shown before it is done', () => {
  it.each(Object.keys(TOOLS))('%s: done, undone and done again it is what a fresh opening shows', async (tool) => {
    const made = sheet();
    await made.expectFresh('opened');
    const { shown, changes, parts } = TOOLS[tool](made);
    await made.preview(shown);
    const step = await made.act(changes, parts);
    await made.expectFresh('done');
    const back = await made.undo(step);
    await made.expectFresh('undone');
    await made.undo(back);
    await made.expectFresh('done again');
  });

  it('beside something else that is shown leaves that as it is', async () => {
    const made = sheet();
    const step = await made.act([assign('strokes', made.stroke('c'), 'colour', '#aa0000')]);
    await made.preview([assign('strokes', made.stroke('a'), 'matrix', [1, 0, 0, 1, 20, 30])]);
    const back = await made.undo(step);
    await made.preview([assign('strokes', made.stroke('a'), 'matrix', made.stroke('a').matrix)]);
    await made.expectFresh('let go');
    await made.undo(back);
    await made.expectFresh('done again');
  });

  it('is never kept: not while it stands, and not when it was let go in the middle', async () => {
    const { followed, preview, stroke } = sheet();
    const left: string[] = [];
    const keep = () =>
      keepTiles(followed, {
        seq: 1,
        leave: (batch) => Promise.resolve(left.push(...batch.map(([address]) => address.layerId)) > 0),
        drop: () => Promise.resolve(),
        isCalm: () => true,
      });
    const was = stroke('a').matrix;
    await preview([assign('strokes', stroke('a'), 'matrix', [1, 0, 0, 1, 20, 30])]);
    expect([await keep(), left]).toEqual([{ isAll: false }, []]);
    await preview([assign('strokes', stroke('a'), 'matrix', was)]);
    expect([await keep(), left.length > 0]).toEqual([{ isAll: true }, true]);
  });
});

describe('previews', () => {
  it('stand until they are let go, or a step sets what they show', () => {
    const made = sheet();
    const previews = new Previews();
    const { read } = made.followed.model;
    const a = made.stroke('a');
    previews.show([assign('strokes', a, 'colour', '#aa0000'), hidden(a)], read);
    expect(previews.stand).toBe(true);
    previews.done([hidden(a)]);
    expect(previews.stand).toBe(true);
    previews.show([assign('strokes', a, 'colour', a.colour)], read);
    expect(previews.stand).toBe(false);
    previews.show([assign('strokes', a, 'group', 'g')], read);
    previews.show([assign('strokes', a, 'group', null)], read);
    expect(previews.stand).toBe(false);
  });
});
