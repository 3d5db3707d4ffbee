import {
  byOrder,
  FIRST_LAYER,
  isInkable,
  isScaffolding,
  type GroupLayer,
  type InkableLayer,
  type Layer,
} from './entities';
import { grouped } from './grouped';
import { insideOf } from './laid-parts';
import { fieldChange, groupChanges, outermost, spotOf } from './layer-changes';
import { isLocked, isVisible } from './layer-tree';
import { ordersAbove } from './orders';
import { SheetModel } from './sheet-model';
import { assign, type Change } from './steps';

/** Why layers are not merged. */
export type NoMerge = 'single' | 'apart' | 'picture' | 'group' | 'text' | 'kinds' | 'locked' | 'hidden' | 'bounds';
/** Why merged lines would look otherwise than the layers did. */
export type KeptApart = 'opacity' | 'blend' | 'inside' | 'colour' | 'erased';

export type Merge =
  | { kind: 'merged'; into: InkableLayer; changes: Change[] }
  /** They look as before in a group. */
  | { kind: 'grouped'; because: KeptApart }
  | { kind: 'refused'; because: NoMerge; layer?: Layer };

/**
 * Merges layers that lie next to each other into the lowest: their lines come to lie on it, in their order. Not where
 * that would change what is seen: opacity and blending act on each layer as a whole, a soft eraser's strokes take away
 * from all that lies below them in their layer, and shades are kept inside colour, not inside lines. Hard erasures belong
 * to their lines and go with them. A group is refused where other layers would be kept inside of something else by it.
 */
export function mergeOf(model: SheetModel, ids: readonly string[]): Merge {
  const layers = outermost(model, ids);
  const refused = (because: NoMerge, layer?: Layer): Merge => ({ kind: 'refused', because, layer });
  if (layers.length < 2) return refused('single', layers[0]);
  const spots = layers.map(({ id }) => spotOf(model, id));
  if (spots.some(({ parent, index }, i) => parent !== spots[0].parent || index !== spots[0].index + i))
    return refused('apart');
  for (const layer of layers) {
    if (!isInkable(layer))
      return refused(layer.kind === 'group' || layer.kind === 'text' ? layer.kind : 'picture', layer);
    if (isLocked(layer, model.layers)) return refused('locked', layer);
    if (!isVisible(layer, model.layers)) return refused('hidden', layer);
    if (isScaffolding(layer) !== isScaffolding(layers[0])) return refused('kinds', layer);
  }
  const [into, ...upper] = layers as InkableLayer[];
  const because = keptApart(model, into, upper);
  if (!because) return { kind: 'merged', into, changes: mergeChanges(model, into, upper) };
  const displaced = displacedBy(model, groupChanges(model, ids, TRIAL_GROUP));
  return displaced ? refused('bounds', displaced) : { kind: 'grouped', because };
}

function keptApart(model: SheetModel, into: InkableLayer, upper: readonly InkableLayer[]): KeptApart | undefined {
  const all = [into, ...upper];
  if (all.some(({ opacity }) => opacity < 1)) return 'opacity';
  if (all.some(({ blend }) => blend && blend !== 'normal')) return 'blend';
  if (all.some(({ inside }) => inside)) return 'inside';
  if (all.some(({ kind }) => (kind === 'colour') !== (into.kind === 'colour'))) return 'colour';
  const fades = upper.some(({ id }) => model.strokes.countOn([id], 1, (pen) => pen.fades === true) > 0);
  return fades ? 'erased' : undefined;
}

/** A group that is only tried. */
const TRIAL_GROUP: GroupLayer = { ...FIRST_LAYER, kind: 'group', id: ' trial' };

/** The lowest layer that would be kept inside of something else after changes of layers; undefined: none. */
export function displacedBy(model: SheetModel, changes: readonly Change[]): Layer | undefined {
  const after = new SheetModel(model.settings, model.layers.values());
  after.apply(changes);
  const [was, is] = [insideOf(model.tree()), insideOf(after.tree())];
  const said = (bounds: ReadonlyMap<string, readonly string[]>, id: string) =>
    [...(bounds.get(id) ?? [])].sort().join();
  return model.stack().find(({ id }) => said(was, id) !== said(is, id));
}

/** Lines that are gone go along: brought back later, they lie where the others do. */
function mergeChanges(model: SheetModel, into: InkableLayer, upper: readonly InkableLayer[]): Change[] {
  const byLayer = grouped(model.strokes.values(), ({ layerId }) => layerId);
  const moving = upper.flatMap(({ id }) => (byLayer.get(id) ?? []).sort(byOrder));
  const top = model.strokes.topOrderOf(into.id);
  const orders = ordersAbove(top === undefined ? [] : [top], moving.length);
  const set = (field: 'layerId' | 'order', after: unknown[]): Change => ({
    op: 'set',
    table: 'strokes',
    field,
    ids: moving.map(({ id }) => id),
    before: moving.map((stroke) => stroke[field]),
    after,
  });
  const { settings } = model;
  const changes: Change[] = moving.length
    ? [
        set(
          'layerId',
          moving.map(() => into.id),
        ),
        set('order', orders),
      ]
    : [];
  if (upper.some(({ id }) => id === settings.target)) changes.push(assign('sheet', settings, 'target', into.id));
  return [...changes, ...fieldChange(upper, 'deleted', () => true)];
}
