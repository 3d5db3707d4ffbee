import type { AnyEntity, TableName } from '../../core/sheet/entities';

type Cast = 'plain' | 'flag' | 'json';
interface Column {
  field: string;
  column: string;
  cast: Cast;
}

const col = (field: string, cast: Cast = 'plain', column = field): Column => ({ field, column, cast });

/** How each entity's fields lie in its table. */
const COLUMNS: Record<TableName, readonly Column[]> = {
  sheet: [
    col('paperColour', 'plain', 'paper_colour'),
    col('hush'),
    col('scaffoldingShown', 'flag', 'scaffolding_shown'),
    col('veil'),
    col('target'),
    col('nibs', 'json'),
    col('guides', 'json'),
    col('swatches', 'json'),
    col('frame', 'json'),
  ],
  layers: [
    col('id'),
    col('kind'),
    col('name'),
    col('order', 'plain', 'ord'),
    col('visible', 'flag'),
    col('locked', 'flag'),
    col('opacity'),
    col('deleted', 'flag'),
    col('picture', 'json'),
    col('placement', 'json'),
    col('parent', 'json'),
    col('blend', 'json'),
    col('folded', 'json'),
    col('inside', 'json'),
    col('veil', 'json'),
    col('beside', 'json'),
    col('recipe', 'json'),
  ],
  strokes: [
    col('id'),
    col('layerId', 'plain', 'layer_id'),
    col('order', 'plain', 'ord'),
    col('colour'),
    col('pen', 'json'),
    col('matrix', 'json'),
    col('engine'),
    col('deleted', 'flag'),
    col('stands', 'json'),
    col('group', 'json', 'grp'),
    col('pour', 'json'),
    col('tied', 'json'),
    col('label', 'json'),
  ],
  erasures: [
    col('id'),
    col('layerId', 'plain', 'layer_id'),
    col('pen', 'json'),
    col('strokeIds', 'json', 'stroke_ids'),
    col('matrices', 'json'),
    col('engine'),
    col('deleted', 'flag'),
  ],
};

export const columnsOf = (table: TableName): string => COLUMNS[table].map((c) => c.column).join(', ');

/** The column of a field. @throws {Error} a field that the table does not have. */
export function columnFor(table: TableName, field: string): Column {
  const found = COLUMNS[table].find((c) => c.field === field);
  if (!found) throw new Error(`table ${table} has no column for ${field}`);
  return found;
}

export function toSql(column: Column, value: unknown): unknown {
  if (value === undefined || value === null) return null;
  return column.cast === 'flag' ? Number(value) : column.cast === 'json' ? JSON.stringify(value) : value;
}

/** The values of a row in the order of {@link columnsOf}. */
export const rowValues = (table: TableName, row: AnyEntity): unknown[] =>
  COLUMNS[table].map((c) => toSql(c, (row as unknown as Record<string, unknown>)[c.field]));

/** An entity from a database row; null columns of optional fields are left out. */
export function entityFrom<T extends AnyEntity>(table: TableName, row: Record<string, unknown>): T {
  const out: Record<string, unknown> = table === 'sheet' ? { id: 'sheet' } : {};
  for (const { field, column, cast } of COLUMNS[table]) {
    const value = row[column];
    if (value === null && cast === 'json') continue;
    out[field] = cast === 'flag' ? value === 1 : cast === 'json' ? JSON.parse(value as string) : value;
  }
  return out as unknown as T;
}
