import { union, type Box } from '../../core/geometry/box';
import { isIdentity, type Matrix } from '../../core/geometry/matrix';
import { isShape, type Erasure } from '../../core/sheet/entities';
import type { Write } from '../../core/sheet/steps';
import { entityFrom } from './columns';
import type { InkBoxes } from './ink-boxes';
import { KEPT_STEPS } from './low-tiles';
import type { Db } from './open';
import { Statements } from './statements';

/** What is too old is looked for once in so many steps. */
const SWEEP_STEPS = 512;

/**
 * Where each step has changed the ink: what a tile that was kept before it has to be mended by. `before` is asked before
 * a step's writes are done, `note` after.
 */
export class InkDamage {
  private readonly statements: Statements;

  constructor(
    db: Db,
    private readonly boxes: InkBoxes,
    private readonly bounds = { keptSteps: KEPT_STEPS, sweepSteps: SWEEP_STEPS },
  ) {
    this.statements = new Statements(db);
  }

  /** Where the ink lies that writes are about to change. */
  before(sheetId: string, writes: readonly Write[]): Map<string, Box> {
    const damage = new Map<string, Box>();
    for (const write of writes) if (write.kind === 'assign') this.addMark(damage, sheetId, write.table, write.id);
    return damage;
  }

  /** Adds where the changed ink lies now, and keeps all under the step's number. */
  note(sheetId: string, seq: number, writes: readonly Write[], damage: Map<string, Box>): void {
    for (const write of writes) {
      if (write.kind === 'insert') this.addMark(damage, sheetId, write.table, write.row.id);
      else if (write.table === 'strokes' || write.table === 'erasures') {
        if (write.field === 'pen' || write.field === 'engine' || isShape(write.field))
          this.boxes.remeasure(write.table, sheetId, write.id);
        this.addMark(damage, sheetId, write.table, write.id);
      }
    }
    const insert = this.statements.of(
      'INSERT INTO ink_damage (sheet_id, seq, layer_id, x0, y0, x1, y1) VALUES (?,?,?,?,?,?,?)',
    );
    for (const [layerId, { x0, y0, x1, y1 }] of damage) insert.run(sheetId, seq, layerId, x0, y0, x1, y1);
    const { keptSteps, sweepSteps } = this.bounds;
    if (seq % sweepSteps === 0) this.sweep(sheetId, seq - keptSteps);
  }

  private addMark(damage: Map<string, Box>, sheetId: string, table: Write['table'], id: string): void {
    if (table !== 'strokes' && table !== 'erasures') return;
    const place = this.boxes.placeOf(table, sheetId, id);
    if (place) add(damage, place);
    if (place && table === 'erasures') for (const moved of this.movedUnder(sheetId, id)) add(damage, moved);
  }

  /** Strokes that an erasure goes along with, and parts that these were severed into: it shows where they are. */
  private movedUnder(sheetId: string, id: string): { layerId: string; box: Box }[] {
    const row = this.statements.of('SELECT * FROM erasures WHERE sheet_id = ? AND id = ?').get(sheetId, id);
    const { strokeIds, matrices, layerId } = entityFrom<Erasure>('erasures', row as Record<string, unknown>);
    const family = this.statements.of(FAMILY_QUERY);
    return strokeIds.flatMap((listed) =>
      (family.all({ sheetId, listed }) as FamilyRow[]).flatMap(({ id, matrix, layer_id }) => {
        const isMoved = matrices?.[listed] || layer_id !== layerId || !isIdentity(JSON.parse(matrix) as Matrix);
        return (isMoved && this.boxes.placeOf('strokes', sheetId, id)) || [];
      }),
    );
  }

  /** Forgets what is so old that no tile is mended by it any more. */
  private sweep(sheetId: string, seq: number): void {
    for (const table of ['ink_damage', 'low_tiles'])
      this.statements.of(`DELETE FROM ${table} WHERE sheet_id = ? AND seq <= ?`).run(sheetId, seq);
  }
}

interface FamilyRow {
  id: string;
  matrix: string;
  layer_id: string;
}

/** A stroke and all that it was severed into. The order of joins is given: the other way round reads a whole sheet. */
export const FAMILY_QUERY = `WITH RECURSIVE family (id) AS (
    SELECT @listed
    UNION SELECT s.id FROM family CROSS JOIN strokes s INDEXED BY strokes_severed
      ON s.sheet_id = @sheetId AND s.part_of = family.id
  ) SELECT s.id, s.matrix, s.layer_id FROM family CROSS JOIN strokes s ON s.sheet_id = @sheetId AND s.id = family.id`;

function add(damage: Map<string, Box>, { layerId, box }: { layerId: string; box: Box }): void {
  const known = damage.get(layerId);
  damage.set(layerId, known ? union(known, box) : box);
}
