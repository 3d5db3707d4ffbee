import { isEmpty, transformBox, type Box } from '../../core/geometry/box';
import type { Matrix } from '../../core/geometry/matrix';
import '../../core/stroke/engine-1/provided';
import { InkMeasure } from '../../core/sheet/ink-box';
import type { Pen } from '../../core/stroke/pen';
import type { SampleRange } from '../../core/stroke/spine-maker';
import type { Db } from './open';
import { Statements } from './statements';

export const BOX_COLUMNS = 'x0, y0, x1, y1';
/** Under which id the samples of a stroke `t` are stored. */
export const SAMPLES_OF_STROKE = `COALESCE(json_extract(t.stands, '$.samples'), json_extract(COALESCE(t.pour, t.label), '$.shape'), t.id)`;
/** Strokes that are measured before others have a turn: some 20 ms. */
const AT_A_TIME = 200;

type MarkTable = 'strokes' | 'erasures';
interface BoxRow {
  x0: number | null;
  y0: number;
  x1: number;
  y1: number;
}

/** Lets other requests in between two pieces of long work. */
export const turn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/**
 * Where ink lies, kept with it: its box before its matrix. Ink from before boxes were kept is measured when its sheet is
 * first opened.
 */
export class InkBoxes {
  private readonly measure = new InkMeasure();
  private readonly statements: Statements;

  constructor(private readonly db: Db) {
    this.statements = new Statements(db);
  }

  /** The values of {@link BOX_COLUMNS} of a new mark. */
  valuesOf(
    bytes: Uint8Array,
    mark: { pen: Pen; engine: number; stands?: SampleRange },
  ): [number, number, number, number] {
    const { x0, y0, x1, y1 } = this.measure.boxOf(bytes, mark);
    return [x0, y0, x1, y1];
  }

  /** Measures what of a sheet was never measured, in pieces. */
  async measureSheet(sheetId: string): Promise<void> {
    for (const table of ['strokes', 'erasures'] as const)
      while (this.measureSome(table, sheetId) === AT_A_TIME) await turn();
  }

  private measureSome(table: MarkTable, sheetId: string): number {
    const ids = this.statements
      .of(`SELECT id FROM ${table} WHERE sheet_id = ? AND x0 IS NULL LIMIT ${AT_A_TIME}`)
      .pluck()
      .all(sheetId) as string[];
    if (ids.length) this.db.transaction(() => ids.forEach((id) => this.remeasure(table, sheetId, id)))();
    return ids.length;
  }

  /** Measures a mark anew: its pen has changed, or it never was measured. */
  remeasure(table: MarkTable, sheetId: string, id: string): void {
    const row = this.statements
      .of(
        `SELECT t.pen, t.engine, ${table === 'strokes' ? 't.stands' : 'NULL AS stands'}, m.bytes FROM ${table} t
         LEFT JOIN samples m ON m.sheet_id = t.sheet_id AND m.id = ${table === 'strokes' ? SAMPLES_OF_STROKE : 't.id'}
         WHERE t.sheet_id = ? AND t.id = ?`,
      )
      .get(sheetId, id) as { pen: string; engine: number; stands: string | null; bytes: Buffer | null };
    const values = this.valuesOf(row.bytes ?? new Uint8Array(), {
      pen: JSON.parse(row.pen) as Pen,
      engine: row.engine,
      ...(row.stands === null ? {} : { stands: JSON.parse(row.stands) as SampleRange }),
    });
    this.statements
      .of(`UPDATE ${table} SET x0 = ?, y0 = ?, x1 = ?, y1 = ? WHERE sheet_id = ? AND id = ?`)
      .run(...values, sheetId, id);
  }

  /** The layer of a mark and where it lies, paper px; undefined where nothing of it can be seen. */
  placeOf(table: MarkTable, sheetId: string, id: string): { layerId: string; box: Box } | undefined {
    const query = () =>
      this.statements
        .of(
          `SELECT layer_id, ${BOX_COLUMNS}, ${table === 'strokes' ? 'matrix' : 'NULL AS matrix'}
           FROM ${table} WHERE sheet_id = ? AND id = ?`,
        )
        .get(sheetId, id) as (BoxRow & { layer_id: string; matrix: string | null }) | undefined;
    let row = query();
    if (row?.x0 === null) {
      this.remeasure(table, sheetId, id);
      row = query();
    }
    if (!row) return undefined;
    const own = row as Box;
    if (isEmpty(own)) return undefined;
    const box = row.matrix === null ? own : transformBox(own, JSON.parse(row.matrix) as Matrix);
    return { layerId: row.layer_id, box: { x0: box.x0, y0: box.y0, x1: box.x1, y1: box.y1 } };
  }
}
