import { between, FIRST_FRAME, type Frame } from '../geometry/frame';
import { apply, compose, isIdentity, type Matrix } from '../geometry/matrix';
import { isPicture, type Guides, type Layer, type Placement, type Stroke } from './entities';
import { sameValue } from './history';
import { fieldKey, type Assign, type Change } from './steps';

/** The frame that changes give the sheet; undefined: they leave it as it is. */
export function frameSetBy(changes: readonly Change[]): Frame | undefined {
  const set = changes.find((c) => c.op === 'set' && c.table === 'sheet' && c.field === 'frame') as Assign | undefined;
  return set && ((set.after[0] as Frame | null | undefined) ?? FIRST_FRAME);
}

/** The fields that hold places of the paper; all others stay as they are when the frame changes. */
const MOVES: Record<string, (value: unknown, move: Matrix) => unknown> = {
  'strokes/matrix': (matrix, move) => compose(move, matrix as Matrix),
  'layers/placement': (placement, move) => movedPlacement(placement as Placement, move),
  'sheet/guides': (guides, move) => guides && movedGuides(guides as Guides, move),
};

export function movedPlacement(placement: Placement, move: Matrix): Placement {
  const [cx, cy] = apply(move, placement.cx, placement.cy);
  return { ...placement, cx, cy, scale: placement.scale * move[0] };
}

export const movedGuides = (guides: Guides, move: Matrix): Guides => ({
  ...guides,
  points: guides.points.map(([x, y]) => apply(move, x, y)),
});

/** Changes that were made on one frame as they are on another. Those that set the frame say where all comes to lie. */
export function rebased(changes: Change[], from: Frame, to: Frame): Change[] {
  const move = between(from, to);
  if (isIdentity(move) || frameSetBy(changes)) return changes;
  return changes.map((change): Change => {
    if (change.op === 'set') {
      const moved = MOVES[`${change.table}/${change.field}`];
      if (!moved) return change;
      const each = (values: unknown[]) => values.map((value) => moved(value, move));
      return { ...change, before: each(change.before), after: each(change.after) };
    }
    // An erasure goes along with the strokes that it lists.
    if (change.table === 'strokes')
      return { ...change, rows: (change.rows as Stroke[]).map((s) => ({ ...s, matrix: compose(move, s.matrix) })) };
    if (change.table === 'layers')
      return {
        ...change,
        rows: (change.rows as Layer[]).map((l) =>
          isPicture(l) ? { ...l, placement: movedPlacement(l.placement, move) } : l,
        ),
      };
    return change;
  });
}

/** What of a sheet goes along when its frame changes. */
export interface Movable {
  strokes: Iterable<Pick<Stroke, 'id' | 'matrix'>>;
  layers: Iterable<Layer>;
  guides?: Guides | null;
}

/**
 * Changes that set the frame, for a sheet that may hold more than whoever made them knew: all else on it goes along, and so
 * does what has been moved since.
 * @param from the frame that the sheet has.
 * @param settled fields that hold already what the step gives them (`fieldKey`).
 */
export function completed(
  changes: Change[],
  from: Frame,
  sheet: Movable,
  settled: ReadonlySet<string> = new Set(),
): Change[] {
  const to = frameSetBy(changes);
  if (!to) return changes;
  const move = between(from, to);
  if (isIdentity(move)) return changes;
  const known = new Map<string, { before: unknown; after: unknown }>();
  const rest: Change[] = [];
  for (const change of changes) {
    if (change.op !== 'set' || !MOVES[`${change.table}/${change.field}`]) rest.push(change);
    else
      change.ids.forEach((id, i) =>
        known.set(`${change.table}/${id}`, { before: change.before[i], after: change.after[i] }),
      );
  }
  const along = (table: Assign['table'], field: string, all: Iterable<readonly [id: string, value: unknown]>) => {
    const set: Assign = { op: 'set', table, field, ids: [], before: [], after: [] };
    for (const [id, value] of all) {
      const own = known.get(`${table}/${id}`);
      if (!own && settled.has(fieldKey(table, id, field))) continue;
      set.ids.push(id);
      set.before.push(value);
      const isKnown = own !== undefined && sameValue(own.before, value);
      set.after.push(isKnown ? own.after : MOVES[`${table}/${field}`](value, move));
    }
    if (set.ids.length) rest.push(set);
  };
  along(
    'strokes',
    'matrix',
    entries(sheet.strokes, (s) => s.matrix),
  );
  along(
    'layers',
    'placement',
    entries([...sheet.layers].filter(isPicture), (l) => l.placement),
  );
  if (sheet.guides) along('sheet', 'guides', [['sheet', sheet.guides]]);
  return rest;
}

function* entries<T extends { id: string }>(
  all: Iterable<T>,
  valueOf: (one: T) => unknown,
): Generator<readonly [string, unknown]> {
  for (const one of all) yield [one.id, valueOf(one)];
}
