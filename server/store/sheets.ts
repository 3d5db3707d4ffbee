import type { SheetCard, SheetHead } from '../../contract/answers';
import { packInk, type KeptErasure } from '../../contract/ink-frame';
import type { MadeFrom } from '../../contract/low-tiles';
import type { DrawerAct } from '../../contract/requests';
import { FIRST_LAYER, newSettings, type Erasure, type Layer, type SheetSettings } from '../../core/sheet/entities';
import { StrokePacker, type StrokeRow } from '../../core/sheet/packed-strokes';
import type { Box } from '../../core/geometry/box';
import { columnsOf, entityFrom, rowValues } from './columns';
import { BOX_COLUMNS, turn, type InkBoxes } from './ink-boxes';
import type { KeptInk, PackedInk } from './kept-ink';
import { isOfSheet, type LowTileStore } from './low-tiles';
import type { Db } from './open';

type Row = Record<string, unknown>;

/** The drawer's sheets, and reading one of them. */
export class SheetStore {
  constructor(
    private readonly db: Db,
    private readonly boxes: InkBoxes,
    private readonly lowTiles: LowTileStore,
    private readonly keptInk: KeptInk,
  ) {}

  list(): SheetCard[] {
    const rows = this.db.prepare(`${CARD_QUERY} WHERE deleted = 0 ORDER BY updated_at DESC, id`).all() as Row[];
    return rows.map(cardFrom);
  }

  /**
   * Does a drawer act, once: one with a known id changes nothing.
   * @returns `unknown`: the sheet that it is about does not exist; `taken`: the one that it would make does.
   */
  act(act: DrawerAct, now: number): 'done' | 'unknown' | 'taken' {
    return this.db
      .transaction(() => {
        if (this.db.prepare('SELECT 1 FROM drawer_acts WHERE id = ?').get(act.id)) return 'done';
        if (act.kind !== 'create' && !this.exists(act.sheetId)) return 'unknown';
        if (act.kind === 'duplicate' && this.exists(act.newId)) return 'taken';
        this.perform(act, now);
        this.db
          .prepare('INSERT INTO drawer_acts (id, body, at) VALUES (?, ?, ?)')
          .run(act.id, JSON.stringify(act), now);
        return 'done';
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
      ['strokes', `${columnsOf('strokes')}, ${BOX_COLUMNS}`, `AND (deleted = 0 OR EXISTS (${PARTS_QUERY}))`],
      ['erasures', `${columnsOf('erasures')}, ${BOX_COLUMNS}`, 'AND deleted = 0'],
      ['samples', 'id, bytes', ''],
    ];
    for (const [table, columns, which] of copies)
      db.prepare(
        `INSERT INTO ${table} (sheet_id, ${columns}) SELECT ?, ${columns} FROM ${table} WHERE sheet_id = ? ${which}`,
      ).run(to, from);
    // A small picture of an earlier step is of no step of the copy.
    db.prepare(
      `INSERT INTO overviews (sheet_id, seq, png, width_px, height_px)
       SELECT ?, CASE WHEN ${OVERVIEW_IS_CURRENT} THEN 0 ELSE -1 END, o.png, o.width_px, o.height_px
       FROM overviews o JOIN sheets s ON s.id = o.sheet_id WHERE o.sheet_id = ?`,
    ).run(to, from);
    this.lowTiles.duplicate(from, to);
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
      tops: this.tops(id, layers),
      isOverviewDue: !this.db.prepare(CURRENT_OVERVIEW_QUERY).get(id),
    };
  }

  /** The place of the topmost stroke of each layer that has any, tombstones included. */
  private tops(id: string, layers: readonly Row[]): Record<string, string> {
    const top = this.db.prepare('SELECT MAX(ord) FROM strokes WHERE sheet_id = ? AND layer_id = ?').pluck();
    const tops: Record<string, string> = {};
    for (const { id: layerId } of layers as { id: string }[]) {
      const order = top.get(id, layerId) as string | null;
      if (order !== null) tops[layerId] = order;
    }
    return tops;
  }

  /**
   * All strokes and erasures of a sheet, tombstones included (undo needs them), packed; without the strokes' samples. As
   * the sheet was at the step that it names: of a large one that may lie some steps back.
   * @param after also where later steps than this, up to that one, have changed the ink.
   */
  async ink(id: string, after: number): Promise<PackedInk> {
    const { body, parts } = this.keptInk.find(id, this.seqOf(id)) ?? (await this.pack(id));
    const damage = this.lowTiles.damageAfter(id, after).filter(([seq]) => seq <= body.seq);
    return { body: { ...body, damage } as PackedInk['body'], parts };
  }

  /** Packs the ink of a sheet as it is; read in pieces, so that others have their turn. */
  private async pack(id: string): Promise<PackedInk> {
    await this.boxes.measureSheet(id);
    for (let tries = 1; ; tries++) {
      const seq = this.seqOf(id);
      const packer = new StrokePacker();
      let rows: StrokeValues[];
      let last: [layerId: string, order: string, id: string] = ['', '', ''];
      do {
        rows = this.db
          .prepare(STROKES_QUERY)
          .raw()
          .all(id, ...last) as StrokeValues[];
        for (const row of rows) packer.add(strokeRow(row));
        const [lastId, layerId, order] = rows[rows.length - 1] ?? [];
        last = [layerId, order, lastId];
        if (tries < MOST_TRIES) await turn();
      } while (rows.length === ROWS_AT_A_TIME);
      // A step in between may have moved a stroke past where the reading was; the last try leaves it no room.
      if (this.seqOf(id) !== seq) continue;
      const packed = packInk(seq, packer.columns(), this.erasures(id));
      this.keptInk.keep(id, packer.size, packed);
      return packed;
    }
  }

  private erasures(id: string): KeptErasure[] {
    const rows = this.db.prepare(ERASURES_QUERY).all(id) as (Row & Box & { samples: Buffer | null })[];
    return rows.map((row) => ({
      erasure: entityFrom<Erasure>('erasures', row),
      bytes: row.samples ?? undefined,
      box: { x0: row.x0, y0: row.y0, x1: row.x1, y1: row.y1 },
    }));
  }

  /** The samples of strokes and erasures by their ids, and the first shapes of strokes, as many as there are. */
  samples(id: string, ids: readonly string[]): Map<string, Uint8Array> {
    const current = this.db.prepare(SAMPLES_QUERY).pluck();
    const first = this.db.prepare('SELECT bytes FROM samples WHERE sheet_id = @id AND id = substr(@mark, 2)').pluck();
    return new Map(
      ids.flatMap((mark): [string, Uint8Array][] => {
        const bytes = (mark.startsWith('~') ? first : current).get({ id, mark }) as Buffer | undefined;
        return bytes ? [[mark, bytes]] : [];
      }),
    );
  }

  private seqOf(id: string): number {
    return this.db.prepare('SELECT seq FROM sheets WHERE id = ?').pluck().get(id) as number;
  }

  overview(id: string): Buffer | undefined {
    return this.db.prepare('SELECT png FROM overviews WHERE sheet_id = ?').pluck().get(id) as Buffer | undefined;
  }

  /**
   * Keeps a sheet's small picture, unless a later one is there.
   * @returns false for one of a step that is not written yet (it would never be replaced), or of another paper.
   */
  putOverview(id: string, made: MadeFrom, png: Uint8Array): boolean {
    if (!isOfSheet(this.db, id, made)) return false;
    this.db
      .prepare(
        `INSERT INTO overviews (sheet_id, seq, png, width_px, height_px) VALUES (?, ?, ?, ?, ?)
         ON CONFLICT (sheet_id) DO UPDATE SET seq = excluded.seq, png = excluded.png,
           width_px = excluded.width_px, height_px = excluded.height_px WHERE excluded.seq >= overviews.seq`,
      )
      .run(id, made.seq, Buffer.from(png), made.widthPx, made.heightPx);
    return true;
  }
}

/** Of a sheet `s` and its small picture `o`. */
const OVERVIEW_IS_CURRENT = 'o.seq = s.seq AND o.width_px = s.width_px AND o.height_px = s.height_px';
const CURRENT_OVERVIEW_QUERY = `SELECT 1 FROM sheets s JOIN overviews o ON o.sheet_id = s.id WHERE s.id = ? AND ${OVERVIEW_IS_CURRENT}`;

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

/** The samples of a stroke, a part of one, or an erasure. */
const SAMPLES_QUERY = `SELECT bytes FROM samples WHERE sheet_id = @id AND id = COALESCE(
  (SELECT COALESCE(json_extract(stands, '$.samples'), json_extract(COALESCE(pour, label), '$.shape'))
   FROM strokes WHERE sheet_id = @id AND id = @mark), @mark)`;
/** Parts that a stroke was severed into: what has erased it has erased them. */
export const PARTS_QUERY = `SELECT 1 FROM strokes p INDEXED BY strokes_severed
  WHERE p.sheet_id = strokes.sheet_id AND p.part_of = strokes.id`;

/** Strokes that are read before others have a turn: some 20 ms. */
const ROWS_AT_A_TIME = 4000;
/** A sheet that is inked while it is read is read again; the last time in one go. */
const MOST_TRIES = 3;

const STROKES_QUERY = `SELECT id, layer_id, ord, colour, pen, matrix, engine, deleted, stands, grp, pour, tied, label, ${BOX_COLUMNS} FROM strokes
  WHERE sheet_id = ? AND (layer_id, ord, id) > (?, ?, ?) ORDER BY layer_id, ord, id LIMIT ${ROWS_AT_A_TIME}`;
const ERASURES_QUERY = `SELECT t.*, m.bytes AS samples FROM erasures t
  LEFT JOIN samples m ON m.sheet_id = t.sheet_id AND m.id = t.id WHERE t.sheet_id = ?`;

type StrokeValues = [
  id: string,
  layerId: string,
  order: string,
  colour: string,
  penJson: string,
  matrixJson: string,
  engine: number,
  deleted: number,
  standsJson: string | null,
  groupJson: string | null,
  pourJson: string | null,
  tiedJson: string | null,
  labelJson: string | null,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
];

function strokeRow(values: StrokeValues): StrokeRow {
  const [id, layerId, order, colour, penJson, matrixJson, engine, deleted, ...rest] = values;
  const [standsJson, groupJson, pourJson, tiedJson, labelJson, x0, y0, x1, y1] = rest;
  return {
    id,
    layerId,
    order,
    colour,
    penJson,
    matrixJson,
    engine,
    deleted,
    standsJson,
    groupJson,
    pourJson,
    tiedJson,
    labelJson,
    box: { x0, y0, x1, y1 },
  };
}
