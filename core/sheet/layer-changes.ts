import {
  DEFAULT_HUSH,
  isInk,
  isInkable,
  type GroupLayer,
  type InkableLayer,
  type InkLayer,
  type Layer,
  type Stroke,
} from './entities';
import { grouped } from './grouped';
import { branchOf, groupsOf, withHeld, type Branch } from './layer-tree';
import { ordersAbove, ordersForMove } from './orders';
import type { SheetModel } from './sheet-model';
import { assign, putRows, type Assign, type Change } from './steps';

// What the acts on layers change. Ids are in any order; what a picked group holds goes with it.

/** A place in the stack: in a group or in none, so many from the bottom among what lies there. */
export interface Spot {
  parent: string | null;
  index: number;
}

/** What lies in a group, or in none, bottom first. */
export function layersIn(model: SheetModel, parent: string | null): Layer[] {
  const tree = model.tree();
  return (parent === null ? tree : (branchOf(parent, tree)?.children ?? [])).map(({ layer }) => layer);
}

/** Where a layer lies. */
export function spotOf(model: SheetModel, id: string): Spot {
  const layer = model.layers.get(id);
  const parent = (layer && groupsOf(layer, model.layers)[0]?.id) ?? null;
  return {
    parent,
    index: Math.max(
      0,
      layersIn(model, parent).findIndex((one) => one.id === id),
    ),
  };
}

/** Those of the layers that no other of them holds, bottom first. */
export function outermost(model: SheetModel, ids: readonly string[]): Layer[] {
  const picked = new Set(ids);
  const of = (branches: readonly Branch[]): Layer[] =>
    branches.flatMap(({ layer, children }) => (picked.has(layer.id) ? layer : of(children)));
  return of(model.tree());
}

/** Layers and all that they hold, bottom first. */
export function allHeld(model: SheetModel, ids: readonly string[]): Layer[] {
  const tree = model.tree();
  return outermost(model, ids).flatMap(({ id }) => withHeld(id, tree));
}

/** One field of layers, of those that do not hold the value yet. */
export function fieldChange<F extends keyof GroupLayer & string>(
  layers: readonly Layer[],
  field: F,
  after: (layer: Layer) => GroupLayer[F],
): Assign[] {
  const valueOf = (layer: Layer) => (layer as GroupLayer)[field] ?? null;
  const changing = layers.filter((layer) => valueOf(layer) !== (after(layer) ?? null));
  if (!changing.length) return [];
  const ids = changing.map(({ id }) => id);
  return [{ op: 'set', table: 'layers', field, ids, before: changing.map(valueOf), after: changing.map(after) }];
}

/** The changes that put layers at a place, in their order; `index` counts what lies there without them. */
export function moveChanges(model: SheetModel, ids: readonly string[], { parent, index }: Spot): Change[] {
  const moving = outermost(model, ids);
  const movingIds = moving.map(({ id }) => id);
  if (parent !== null && allHeld(model, movingIds).some(({ id }) => id === parent)) return [];
  const there = layersIn(model, parent);
  const others = there.filter(({ id }) => !movingIds.includes(id));
  const at = Math.min(others.length, Math.max(0, index));
  const after = [...others.slice(0, at), ...moving, ...others.slice(at)];
  if (after.length === there.length && after.every((layer, i) => layer === there[i])) return [];
  return [...fieldChange(moving, 'parent', () => parent), ...placesFor(model, others, movingIds, at).changes];
}

/** The places that put layers at one among others, and the change of those that are there already. */
function placesFor(model: SheetModel, others: readonly Layer[], ids: readonly string[], at: number) {
  const places = new Map(ordersForMove(others, ids, at).map(({ id, order }) => [id, order]));
  const known = [...places.keys()].flatMap((id) => model.layers.get(id) ?? []);
  return { places, changes: fieldChange(known, 'order', ({ id }) => places.get(id)!) };
}

/** Puts new layers at a place of the stack, one above the other; one beyond the topmost is above that. */
export function putAt(model: SheetModel, layers: readonly Layer[], { parent, index }: Spot): Change[] {
  const ids = layers.map(({ id }) => id);
  const others = layersIn(model, parent);
  const { places, changes } = placesFor(model, others, ids, Math.min(others.length, index));
  return [
    putRows('layers', ...layers.map((layer) => ({ ...layer, order: places.get(layer.id)!, parent }))),
    ...changes,
  ];
}

/** Puts layers into a new group, which takes the place of the topmost of them. */
export function groupChanges(model: SheetModel, ids: readonly string[], group: GroupLayer): Change[] {
  const members = outermost(model, ids);
  const top = members[members.length - 1];
  if (!top) return [];
  const { parent } = spotOf(model, top.id);
  const orders = new Map(ordersAbove([], members.length).map((order, i) => [members[i].id, order]));
  return [
    putRows('layers', { ...group, order: top.order, parent }),
    ...fieldChange(members, 'parent', () => group.id),
    ...fieldChange(members, 'order', ({ id }) => orders.get(id)!),
  ];
}

/** What a group holds takes its place. */
export function ungroupChanges(model: SheetModel, group: GroupLayer): Change[] {
  const members = layersIn(model, group.id);
  const { parent, index } = spotOf(model, group.id);
  const others = layersIn(model, parent).filter((layer) => layer !== group);
  const ids = members.map(({ id }) => id);
  return [
    ...(members.length ? placesFor(model, others, ids, index).changes : []),
    ...fieldChange(members, 'parent', () => parent),
    assign('layers', group, 'deleted', true),
  ];
}

/** Takes layers away with all that they hold; ink that was meant for one of them goes to the topmost that is left. */
export function deletion(model: SheetModel, ids: readonly string[]): { changes: Change[]; gone: Layer[] } {
  const gone = allHeld(model, ids);
  const changes: Change[] = fieldChange(gone, 'deleted', () => true);
  const { settings } = model;
  if (gone.some(({ id }) => id === settings.target)) {
    const left = model.stack().filter((layer) => isInkable(layer) && !gone.includes(layer));
    const next = left[left.length - 1];
    changes.push(assign('sheet', settings, 'target', left.length ? next.id : null));
  }
  return { changes, gone };
}

/** Above this a picture is too loud to ink over. */
const LOUD = 0.6;

/** Makes a layer a rough that is hushed and shown, with a fresh ink layer above it, where ink lands from then on. */
export function twoPassChanges(model: SheetModel, layer: InkableLayer, fresh: InkLayer): Change[] {
  const { settings } = model;
  const { parent, index } = spotOf(model, layer.id);
  const changes: Change[] = [
    ...kindChange(layer, 'rough'),
    ...putAt(model, [fresh], { parent, index: index + 1 }),
    assign('sheet', settings, 'target', fresh.id),
  ];
  if (settings.hush > LOUD) changes.push(assign('sheet', settings, 'hush', DEFAULT_HUSH));
  if (!settings.scaffoldingShown) changes.push(assign('sheet', settings, 'scaffoldingShown', true));
  return changes;
}

export const kindChange = (layer: InkableLayer, kind: InkableLayer['kind']): Change[] =>
  layer.kind === kind ? [] : [assign('layers', layer as Layer, 'kind', kind)];

/** The lines on layers that are inked: what a soft eraser left is none. */
function linesOn(model: SheetModel, layers: readonly Layer[]): Stroke[] {
  const ids = new Set(layers.map(({ id }) => id));
  return [...model.strokes.values()].filter((s) => !s.deleted && ids.has(s.layerId) && isInk(s));
}

/** How many they are. */
export const lineCountOn = (model: SheetModel, layers: readonly Layer[]): number =>
  model.strokes.countOn(
    layers.map(({ id }) => id),
    Infinity,
    (pen) => !pen.fades,
  );

/** Gives all lines of layers a colour. */
export function recolourChanges(model: SheetModel, layers: readonly Layer[], colour: string): Change[] {
  const lines = linesOn(model, layers).filter((line) => line.colour !== colour);
  if (!lines.length) return [];
  const [ids, before] = [lines.map(({ id }) => id), lines.map((line) => line.colour)];
  return [{ op: 'set', table: 'strokes', field: 'colour', ids, before, after: lines.map(() => colour) }];
}

/**
 * Copies of layers without their lines; those that lay side by side come to lie above the topmost of them.
 * @param nameOf what the copy of one of the outermost is called.
 * @returns the changes, and the ids of the new layers by those of the old.
 */
export function layerCopies(
  model: SheetModel,
  ids: readonly string[],
  newId: () => string,
  nameOf: (layer: Layer) => string,
): { changes: Change[]; copies: Map<string, string> } {
  const copies = new Map(allHeld(model, ids).map(({ id }) => [id, newId()]));
  const copyOf = (layer: Layer): Layer => ({ ...layer, id: copies.get(layer.id)! });
  const changes: Change[] = [];
  for (const [parent, roots] of grouped(outermost(model, ids), ({ id }) => spotOf(model, id).parent)) {
    const { index } = spotOf(model, roots[roots.length - 1].id);
    const rootCopies = roots.map((root) => ({ ...copyOf(root), name: nameOf(root) }));
    changes.push(...putAt(model, rootCopies, { parent, index: index + 1 }));
    // A group comes before what it holds.
    const held = roots.flatMap((root) => allHeld(model, [root.id]).filter((layer) => layer !== root)).reverse();
    if (held.length)
      changes.push(putRows('layers', ...held.map((one) => ({ ...copyOf(one), parent: copies.get(one.parent!)! }))));
  }
  return { changes, copies };
}

/** The layer right below another in the same group. */
export function nextBelow(model: SheetModel, id: string): Layer | undefined {
  const { parent, index } = spotOf(model, id);
  return layersIn(model, parent)[index - 1];
}
