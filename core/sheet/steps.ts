import type { Frame } from '../geometry/frame';
import {
  isInkable,
  isPicture,
  isShape,
  storedName,
  type AnyEntity,
  type Label,
  type Layer,
  type Pour,
  type TableName,
  type Tables,
} from './entities';

/** New entities, each written whole; one that exists already is left as it is. */
export interface Put {
  op: 'put';
  table: Exclude<TableName, 'sheet'>;
  rows: AnyEntity[];
}

/** One field of many entities. `before` and `after` hold a value for each id, in the same order. */
export interface Assign {
  op: 'set';
  table: TableName;
  field: string;
  ids: string[];
  before: unknown[];
  after: unknown[];
}

export type Change = Put | Assign;

/**
 * One act of the artist. `seq` is the server's number, absent until it is acknowledged.
 * `undoes` names the step that this one takes back.
 */
export interface Step {
  id: string;
  device: string;
  seq?: number;
  undoes?: string;
  /** The frame of the paper on which it was made, until it is written; absent: the first. */
  on?: Frame;
  undoable: boolean;
  label: string;
  changes: Change[];
}

/** Reads an entity as it stands. */
export type Read = <T extends TableName>(table: T, id: string) => Tables[T] | undefined;

export const putRows = <T extends Exclude<TableName, 'sheet'>>(table: T, ...rows: Tables[T][]): Put => ({
  op: 'put',
  table,
  rows,
});

/** A change of one field of one entity, from what it holds to `after`. */
export function assign<T extends TableName, E extends Tables[T], F extends keyof E & string>(
  table: T,
  entity: E,
  field: F,
  after: E[F],
): Assign {
  return { op: 'set', table, field, ids: [entity.id], before: [entity[field]], after: [after] };
}

/** Ids of the shapes that strokes get by a change. */
export const shapesOf = (change: Change): string[] =>
  change.op === 'set' && change.table === 'strokes' && isShape(change.field)
    ? change.after.flatMap((shaped) => (shaped as Pour | Label).shape ?? [])
    : [];

/** Under which names a change brings samples and shapes. */
export const partsNamedBy = (change: Change): string[] =>
  change.op === 'put' ? change.rows.map(({ id }) => id) : shapesOf(change);

/** A field of an entity, as a key. */
export const fieldKey = (table: TableName, id: string, field: string): string => `${table}/${id}/${field}`;

/** The fields that a change sets. */
export const fieldKeys = (change: Change): string[] =>
  change.op === 'set' ? change.ids.map((id) => fieldKey(change.table, id, change.field)) : [];

/** By their names, the shapes that strokes had before a change: what an undo of it brings back. */
export const shapesBefore = (change: Change): string[] =>
  change.op === 'set' && change.table === 'strokes' && isShape(change.field)
    ? change.before.map((shaped, i) => storedName((shaped as Pour | Label | undefined)?.shape ?? change.ids[i]))
    : [];

/** What a writer must do: insert a row, or set one field of one row. */
export type Write =
  | { kind: 'insert'; table: Exclude<TableName, 'sheet'>; row: AnyEntity }
  | { kind: 'assign'; table: TableName; id: string; field: string; value: unknown };

/** The writes of an assignment to entities that are known to be there. */
export const writesOf = ({ table, field, ids, after }: Assign): Write[] =>
  ids.map((id, i) => ({ kind: 'assign', table, id, field, value: after[i] }));

/** A step asked for something that its entities cannot do. */
export class StepRefused extends Error {
  constructor(
    readonly code: 'not-inkable' | 'unknown-entity' | 'unknown-field' | 'bad-step',
    message: string,
  ) {
    super(message);
  }
}

/**
 * Plans the writes of a step from the few entities that it touches; both the page and the server
 * write just these. A step planned twice writes the same values again.
 *
 * @throws {StepRefused} ink on a layer that takes none; an id or field that does not exist;
 *   unequal numbers of ids and values.
 */
export function planWrites(changes: readonly Change[], read: Read): Write[] {
  const writes: Write[] = [];
  const parents = new Map<string, string | null | undefined>();
  const born = new Map<string, AnyEntity>();
  const find = (table: TableName, id: string): AnyEntity | undefined => born.get(`${table}/${id}`) ?? read(table, id);
  for (const change of changes) {
    if (change.op === 'put') {
      for (const row of change.rows) {
        if ('layerId' in row) refuseUninkable(find('layers', row.layerId), row.layerId, 'label' in row);
        if (find(change.table, row.id)) continue;
        if ('parent' in row) parents.set(row.id, row.parent);
        born.set(`${change.table}/${row.id}`, row);
        writes.push({ kind: 'insert', table: change.table, row });
      }
      continue;
    }
    if (change.ids.length !== change.after.length || change.ids.length !== change.before.length)
      throw new StepRefused('bad-step', `${change.ids.length} ids but ${change.after.length} values`);
    change.ids.forEach((id, i) => {
      const entity = find(change.table, id);
      if (!entity) throw new StepRefused('unknown-entity', `no ${change.table} ${id}`);
      const isField = change.field in entity || mayLack(change.table, entity, change.field);
      if (!isField || FIXED_FIELDS.has(change.field))
        throw new StepRefused('unknown-field', `${change.table} has no changeable ${change.field}`);
      if (change.field === 'kind') refuseOtherKind(entity as Layer, change.after[i]);
      if (change.field === 'parent') parents.set(id, change.after[i] as string | null);
      refuseBadReference(change, change.after[i], find);
      writes.push({ kind: 'assign', table: change.table, id, field: change.field, value: change.after[i] });
    });
  }
  refuseBadParents(parents, find);
  return writes;
}

/** What an entity may lack: that is the same as null. */
const OPTIONAL_FIELDS = new Set([
  ...['sheet/guides', 'sheet/swatches', 'sheet/paper', 'sheet/frame', 'strokes/group'],
  ...['layers/parent', 'layers/blend', 'layers/folded'],
]);
/** The same, of references alone, and of all pictures. */
const REFERENCE_FIELDS = new Set(['veil', 'beside']);
const PICTURE_FIELDS = new Set(['recipe']);
/** Of what takes ink. */
const INKABLE_FIELDS = new Set(['inside']);

const mayLack = (table: TableName, entity: AnyEntity, field: string): boolean =>
  OPTIONAL_FIELDS.has(`${table}/${field}`) ||
  ('kind' in entity &&
    ((entity.kind === 'reference' && REFERENCE_FIELDS.has(field)) ||
      (isPicture(entity) && PICTURE_FIELDS.has(field)) ||
      (isInkable(entity as Layer) && INKABLE_FIELDS.has(field))));

/** What an entity is never changes. */
const FIXED_FIELDS = new Set(['id', 'picture', 'stands']);

/** What takes ink may be changed into something else that does, and nothing else. */
function refuseOtherKind(layer: Layer, kind: unknown): void {
  if (!isInkable(layer) || !isInkable({ ...layer, kind } as Layer))
    throw new StepRefused('unknown-field', `"${layer.name}" cannot become ${String(kind)}`);
}

/** Groups hold layers, and never themselves. @param parents those that a step gives. */
function refuseBadParents(
  parents: ReadonlyMap<string, string | null | undefined>,
  find: (table: TableName, id: string) => AnyEntity | undefined,
): void {
  for (const [id, given] of parents) {
    if (!given) continue;
    const above = new Set([id]);
    for (let parent: string | null | undefined = given; parent;) {
      const group = find('layers', parent) as Layer | undefined;
      if (!group) throw new StepRefused('unknown-entity', `no group ${parent}`);
      if (group.kind !== 'group') throw new StepRefused('bad-step', `"${group.name}" is no group`);
      if (above.has(parent)) throw new StepRefused('bad-step', `"${group.name}" would lie in itself`);
      above.add(parent);
      parent = parents.has(parent) ? parents.get(parent) : group.parent;
    }
  }
}

function refuseBadReference(
  change: Assign,
  value: unknown,
  find: (table: TableName, id: string) => AnyEntity | undefined,
): void {
  const namesLayer = (change.table === 'sheet' && change.field === 'target') || change.field === 'layerId';
  if (namesLayer && value !== null) refuseUninkable(find('layers', String(value)), String(value));
}

/** @param isLabel that is what is put there: a text layer takes nothing else, and no other layer does. */
function refuseUninkable(layer: AnyEntity | undefined, id: string, isLabel = false): void {
  if (!layer || !('kind' in layer)) throw new StepRefused('unknown-entity', `no layer ${id}`);
  if (isLabel ? layer.kind !== 'text' : !isInkable(layer))
    throw new StepRefused('not-inkable', `"${layer.name}" is a ${layer.kind} and takes no ink`);
}
