import type { Parts } from '../../contract/frame';
import {
  keptTile,
  type BlankTilesRow,
  type DamageRow,
  type KeptTile,
  type LowTileRow,
  type LowTilesBody,
  type MadeFrom,
} from '../../contract/low-tiles';
import { LOOK, lowLevels, tilesOfPaper } from '../../core/raster/low-tiles';
import { TILE, TILE_APRON, tileAddress, tileKey, type TileAddress } from '../../core/raster/tiles';
import type { Db } from './open';
import { Statements } from './statements';

export const KEPT_STEPS = 5000;
/** Ink shows at most so far beyond its box, grid px: what is nearer to a tile may show on it. */
const SLACK = TILE_APRON + 2;

type TileValues = [layerId: string, level: number, tx: number, ty: number, seq: number, isBlank: number];

/**
 * The tiles of a sheet's low levels, as devices leave them. Each says for itself up to which step it shows its layer, a
 * blank one too (it has no bytes): of a tile that is not here nothing is known.
 */
export class LowTileStore {
  private readonly statements: Statements;

  /** @param keptSteps a tile that has fallen behind by more steps than this is not mended any more. */
  constructor(
    private readonly db: Db,
    private readonly keptSteps = KEPT_STEPS,
  ) {
    this.statements = new Statements(db);
  }

  /** What is kept of a sheet, and the tiles of one level that fit `bytes`. */
  of(sheetId: string, level: number, bytes: number): { body: LowTilesBody; parts: Parts } {
    return this.db.transaction(() => {
      const rows = this.statements
        .of(
          `SELECT layer_id, level, tx, ty, seq, length(bytes) = 0 FROM low_tiles
           WHERE sheet_id = ? AND look = ? ORDER BY layer_id, level, seq`,
        )
        .raw()
        .all(sheetId, LOOK) as TileValues[];
      const tiles = rows.flatMap(([layerId, of, tx, ty, seq, isBlank]): LowTileRow[] =>
        isBlank ? [] : [[layerId, of, tx, ty, seq]],
      );
      const oldest = rows.reduce((least, row) => Math.min(least, row[4]), Infinity);
      const damage = Number.isFinite(oldest) ? this.damageAfter(sheetId, oldest) : [];
      const body: LowTilesBody = { seq: this.seqOf(sheetId), tiles, blank: blankRows(rows), damage };
      const wanted = tiles.filter((t) => t[1] === level).map(keptTile);
      return { body, parts: this.bytesOf(sheetId, wanted, bytes) };
    })();
  }

  /** Those of the tiles asked for that are kept as that step left them, by their keys, as many as fit `bytes`. */
  bytesOf(sheetId: string, tiles: readonly KeptTile[], bytes: number): Parts {
    const one = this.statements
      .of(
        `SELECT bytes FROM low_tiles
         WHERE sheet_id = ? AND level = ? AND layer_id = ? AND tx = ? AND ty = ? AND seq = ? AND look = ?`,
      )
      .pluck();
    const parts: Parts = new Map();
    let left = bytes;
    for (const tile of tiles) {
      const { layerId, level, tx, ty, seq } = tile;
      const found = one.get(sheetId, level, layerId, tx, ty, seq, LOOK) as Buffer | undefined;
      left -= found?.length ?? 0;
      if (left < 0 && parts.size) break;
      if (found) parts.set(tileKey(tile), found);
    }
    return parts;
  }

  /** Where steps after `seq` have changed the ink. */
  damageAfter(sheetId: string, seq: number): DamageRow[] {
    return this.statements
      .of('SELECT seq, layer_id, x0, y0, x1, y1 FROM ink_damage WHERE sheet_id = ? AND seq > ? ORDER BY seq')
      .raw()
      .all(sheetId, seq) as DamageRow[];
  }

  private seqOf(sheetId: string): number {
    return this.statements.of('SELECT seq FROM sheets WHERE id = ?').pluck().get(sheetId) as number;
  }

  /**
   * Keeps tiles as a step left them, unless later ones are there.
   * @param tiles by their keys; one without bytes is blank.
   * @returns false for what they were not made from: a step that is not written yet or too old to be mended by what came
   *   since, another paper, or a layer or place that the sheet does not have.
   */
  put(sheetId: string, made: MadeFrom, tiles: Parts): boolean {
    return this.db.transaction(() => {
      if (!isOfSheet(this.db, sheetId, made)) return false;
      const { seq } = made;
      if (seq <= this.seqOf(sheetId) - this.keptSteps) return false;
      const addresses = [...tiles].map(([key, bytes]) => ({ ...tileAddress(key), bytes }));
      if (!this.areOn(sheetId, made, addresses)) return false;
      const put = this.statements.of(
        `INSERT INTO low_tiles (sheet_id, level, layer_id, tx, ty, seq, look, bytes) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
         ON CONFLICT (sheet_id, level, layer_id, tx, ty)
         DO UPDATE SET seq = excluded.seq, look = excluded.look, bytes = excluded.bytes
         WHERE excluded.seq >= seq OR look <> excluded.look`,
      );
      for (const { layerId, level, tx, ty, bytes } of addresses)
        put.run(sheetId, level, layerId, tx, ty, seq, LOOK, Buffer.from(bytes));
      return true;
    })();
  }

  /** Whether a sheet of this paper has all these tiles. */
  private areOn(sheetId: string, paper: MadeFrom, addresses: readonly TileAddress[]): boolean {
    const layer = this.statements.of('SELECT 1 FROM layers WHERE sheet_id = ? AND id = ?');
    const ranges = new Map(lowLevels(paper).map((level) => [level, tilesOfPaper(paper, level)]));
    return (
      addresses.every(({ level, tx, ty }) => {
        const range = ranges.get(level);
        return range !== undefined && tx >= 0 && ty >= 0 && tx < range.x1 && ty < range.y1;
      }) && [...new Set(addresses.map(({ layerId }) => layerId))].every((id) => layer.get(sheetId, id) !== undefined)
    );
  }

  /** Lets go of all that is kept of a sheet, the small picture too: it was found not to be what its steps give. */
  drop(sheetId: string): void {
    this.db.transaction(() => {
      this.statements.of('DELETE FROM low_tiles WHERE sheet_id = ?').run(sheetId);
      // It stays to be seen until another is there, but is of no step.
      this.statements.of('UPDATE overviews SET seq = -1 WHERE sheet_id = ?').run(sheetId);
      this.statements.of('UPDATE sheets SET kept_drops = kept_drops + 1 WHERE id = ?').run(sheetId);
    })();
  }

  /** How often what was kept of a sheet was found to be wrong. */
  dropsOf(sheetId: string): number {
    return this.statements.of('SELECT kept_drops FROM sheets WHERE id = ?').pluck().get(sheetId) as number;
  }

  /** Copies the tiles on which nothing has changed since they were left to a sheet that begins as a copy. */
  duplicate(from: string, to: string): void {
    this.statements
      .of(
        `INSERT INTO low_tiles (sheet_id, level, layer_id, tx, ty, seq, look, bytes)
         SELECT @to, level, layer_id, tx, ty, 0, look, bytes FROM low_tiles t WHERE sheet_id = @from AND NOT EXISTS (
           SELECT 1 FROM ink_damage d WHERE d.sheet_id = @from AND d.seq > t.seq AND d.layer_id = t.layer_id
             AND d.x0 < (((t.tx + 1) * ${TILE} + ${SLACK}) << -t.level) AND d.x1 > ((t.tx * ${TILE} - ${SLACK}) << -t.level)
             AND d.y0 < (((t.ty + 1) * ${TILE} + ${SLACK}) << -t.level) AND d.y1 > ((t.ty * ${TILE} - ${SLACK}) << -t.level))`,
      )
      .run({ from, to });
  }
}

/** Whether a sheet has written this step and lies on this paper. */
export function isOfSheet(db: Db, sheetId: string, { seq, widthPx, heightPx }: MadeFrom): boolean {
  const sheet = db.prepare('SELECT seq, width_px, height_px FROM sheets WHERE id = ?').get(sheetId) as
    { seq: number; width_px: number; height_px: number } | undefined;
  return sheet !== undefined && seq <= sheet.seq && widthPx === sheet.width_px && heightPx === sheet.height_px;
}

/** Blank tiles, those of one layer, level and step together. @param rows in this order. */
function blankRows(rows: readonly TileValues[]): BlankTilesRow[] {
  const blank: BlankTilesRow[] = [];
  for (const [layerId, level, tx, ty, seq, isBlank] of rows) {
    if (!isBlank) continue;
    const last = blank[blank.length - 1];
    if (last?.[0] === layerId && last[1] === level && last[2] === seq) last[3].push(tx, ty);
    else blank.push([layerId, level, seq, [tx, ty]]);
  }
  return blank;
}
