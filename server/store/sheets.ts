import type { SheetCard, SheetHead } from '../../contract/answers';
import { packInk, type StrokeRow } from '../../contract/ink-frame';
import type { DrawerAct } from '../../contract/requests';
import { FIRST_LAYER, newSettings, type Erasure, type Layer, type SheetSettings } from '../../core/sheet/entities';
import { columnsOf, entityFrom, rowValues } from './columns';
import type { Db } from './open';

type Row = Record<string, unknown>;

/** The drawer's sheets, and reading one of them. */
export class SheetStore {
  constructor(private readonly db: Db) {}

  list(): SheetCard[] {
    const rows = this.db.prepare(`${CARD_QUERY} WHERE deleted = 0 ORDER BY updated_at DESC, id`).all() as Row[];
    return rows.map(cardFrom);
  }

  /**
   * Does a drawer act, once: one with a known id changes nothing.
   * @returns whether the sheet that it is about exists.
   */
  act(act: DrawerAct, now: number): boolean {
    return this.db
      .transaction(() => {
        if (this.db.prepare('SELECT 1 FROM drawer_acts WHERE id = ?').get(act.id)) return true;
        if (act.kind !== 'create' && !this.exists(act.sheetId)) return false;
        this.perform(act, now);
        this.db
          .prepare('INSERT INTO drawer_acts (id, body, at) VALUES (?, ?, ?)')
          .run(act.id, JSON.stringify(act), now);
        return true;
      })
      .immediate();
  }

  private perform(act: DrawerAct, now: number): void {
    const { db } = this;
    switch (act.kind) {
      case 'create':
        return this.create(act, now);
      case 'rename':
        db.prepare('UPDATE sheets SET name = ? WHERE id = ?').run(act.name, act.sheetId);
        return;
      case 'resize':
        db.prepare('UPDATE sheets SET width_px = ?, height_px = ?, ppi = ?, updated_at = ? WHERE id = ?').run(
          act.paper.widthPx,
          act.paper.heightPx,
          act.paper.ppi,
          now,
          act.sheetId,
        );
        return;
      case 'delete':
      case 'restore':
        db.prepare('UPDATE sheets SET deleted = ? WHERE id = ?').run(Number(act.kind === 'delete'), act.sheetId);
        return;
      case 'duplicate':
        return this.duplicate(act.sheetId, act.newId, act.name, now);
    }
  }

  private create(act: Extract<DrawerAct, { kind: 'create' }>, now: number): void {
    const { widthPx, heightPx, ppi } = act.paper;
    const values = [act.sheetId, act.name, widthPx, heightPx, ppi, now, now, ...rowValues('sheet', newSettings(ppi))];
    this.db
      .prepare(
        `INSERT OR IGNORE INTO sheets (id, name, width_px, height_px, ppi, created_at, updated_at, ${columnsOf('sheet')})
         VALUES (${values.map(() => '?').join(', ')})`,
      )
      .run(...values);
    const layer = [act.sheetId, ...rowValues('layers', FIRST_LAYER)];
    this.db
      .prepare(
        `INSERT OR IGNORE INTO layers (sheet_id, ${columnsOf('layers')}) VALUES (${layer.map(() => '?').join(', ')})`,
      )
      .run(...layer);
  }

  /** Copies a sheet as it stands; the copy begins a journal of its own. */
  private duplicate(from: string, to: string, name: string, now: number): void {
    const { db } = this;
    const shape = 'width_px, height_px, ppi';
    db.prepare(
      `INSERT INTO sheets (id, name, ${shape}, created_at, updated_at, ${columnsOf('sheet')})
       SELECT ?, ?, ${shape}, ?, ?, ${columnsOf('sheet')} FROM sheets WHERE id = ?`,
    ).run(to, name, now, now, from);
    const copies: [table: string, columns: string, which: string][] = [
      ['layers', `${columnsOf('layers')}, picture_hash`, ''],
      ['strokes', columnsOf('strokes'), 'AND deleted = 0'],
      ['erasures', columnsOf('erasures'), 'AND deleted = 0'],
      ['samples', 'id, bytes', ''],
    ];
    for (const [table, columns, which] of copies)
      db.prepare(
        `INSERT INTO ${table} (sheet_id, ${columns}) SELECT ?, ${columns} FROM ${table} WHERE sheet_id = ? ${which}`,
      ).run(to, from);
    db.prepare('INSERT INTO overviews (sheet_id, seq, png) SELECT ?, 0, png FROM overviews WHERE sheet_id = ?').run(
      to,
      from,
    );
  }

  exists(id: string): boolean {
    return this.db.prepare('SELECT 1 FROM sheets WHERE id = ?').get(id) !== undefined;
  }

  head(id: string): SheetHead | undefined {
    const row = this.db.prepare(`${CARD_QUERY} WHERE id = ?`).get(id) as Row | undefined;
    if (!row) return undefined;
    const settings = this.db.prepare(`SELECT deleted, ${columnsOf('sheet')} FROM sheets WHERE id = ?`).get(id) as Row;
    const layers = this.db.prepare(`SELECT ${columnsOf('layers')} FROM layers WHERE sheet_id = ?`).all(id) as Row[];
    return {
      card: cardFrom(row),
      deleted: settings.deleted === 1,
      settings: entityFrom<SheetSettings>('sheet', settings),
      layers: layers.map((l) => entityFrom<Layer>('layers', l)),
    };
  }

  /** All strokes and erasures of a sheet with their samples, tombstones included (undo needs them), packed. */
  strokes(id: string): ReturnType<typeof packInk> {
    const { db } = this;
    return db.transaction(() => {
      const rows = db.prepare(STROKES_QUERY).all(id) as StrokeRow[];
      const erasures = db.prepare(ERASURES_QUERY).all(id) as (Row & { samples: Buffer | null })[];
      return packInk(
        db.prepare('SELECT seq FROM sheets WHERE id = ?').pluck().get(id) as number,
        rows,
        erasures.map((row) => ({ erasure: entityFrom<Erasure>('erasures', row), samples: row.samples })),
      );
    })();
  }

  overview(id: string): Buffer | undefined {
    return this.db.prepare('SELECT png FROM overviews WHERE sheet_id = ?').pluck().get(id) as Buffer | undefined;
  }

  /**
   * Keeps a sheet's small picture, unless a later one is there.
   * @returns false for one of a step that is not written yet: it would never be replaced.
   */
  putOverview(id: string, seq: number, png: Uint8Array): boolean {
    if (seq > (this.db.prepare('SELECT seq FROM sheets WHERE id = ?').pluck().get(id) as number)) return false;
    this.db
      .prepare(
        `INSERT INTO overviews (sheet_id, seq, png) VALUES (?, ?, ?)
         ON CONFLICT (sheet_id) DO UPDATE SET seq = excluded.seq, png = excluded.png WHERE excluded.seq >= overviews.seq`,
      )
      .run(id, seq, Buffer.from(png));
    return true;
  }
}

const CARD_QUERY = `SELECT id, name, width_px, height_px, ppi, updated_at, seq,
  (SELECT o.seq FROM overviews o WHERE o.sheet_id = sheets.id) AS overview_seq FROM sheets`;

const cardFrom = (r: Row): SheetCard => ({
  id: r.id as string,
  name: r.name as string,
  widthPx: r.width_px as number,
  heightPx: r.height_px as number,
  ppi: r.ppi as number,
  updatedAt: r.updated_at as number,
  seq: r.seq as number,
  overviewSeq: r.overview_seq as number | null,
});

const SAMPLES_OF = (table: 'strokes' | 'erasures'): string =>
  `FROM ${table} t LEFT JOIN samples m ON m.sheet_id = t.sheet_id AND m.id = t.id WHERE t.sheet_id = ?`;
const STROKES_QUERY = `SELECT t.id, t.layer_id AS layerId, t.ord AS "order", t.colour, t.pen AS penJson,
  t.matrix AS matrixJson, t.engine, t.deleted, m.bytes AS samples ${SAMPLES_OF('strokes')}`;
const ERASURES_QUERY = `SELECT t.*, m.bytes AS samples ${SAMPLES_OF('erasures')}`;
