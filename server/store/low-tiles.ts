import type { Parts } from '../../contract/frame';
import {
  lowTileAddress,
  type DamageRow,
  type LowLevelRow,
  type LowTileRow,
  type LowTilesBody,
} from '../../contract/low-tiles';
import { LOOK } from '../../core/raster/low-tiles';
import { tileAddress, tileKey, type TileAddress } from '../../core/raster/tiles';
import type { Db } from './open';
import { Statements } from './statements';

/** A tile that has fallen behind by more steps than this is not mended any more. */
export const KEPT_STEPS = 5000;

/** The tiles of a sheet's low levels, as devices leave them. */
export class LowTileStore {
  private readonly statements: Statements;

  constructor(private readonly db: Db) {
    this.statements = new Statements(db);
  }

  /** What is kept of a sheet, and the tiles of one level that fit `bytes`. */
  of(sheetId: string, level: number, bytes: number): { body: LowTilesBody; parts: Parts } {
    return this.db.transaction(() => {
      const tiles = this.all('SELECT layer_id, level, tx, ty, seq FROM low_tiles', sheetId) as LowTileRow[];
      const levels = this.all('SELECT layer_id, level, seq FROM low_levels', sheetId) as LowLevelRow[];
      const oldest = Math.min(...tiles.map((t) => t[4]), ...levels.map((l) => l[2]));
      const damage = Number.isFinite(oldest) ? this.damageAfter(sheetId, oldest) : [];
      const body: LowTilesBody = { seq: this.seqOf(sheetId), tiles, levels, damage };
      const wanted = tiles.filter((t) => t[1] === level).map(lowTileAddress);
      return { body, parts: this.bytesOf(sheetId, wanted, bytes) };
    })();
  }

  /** Those of the tiles asked for that are kept, by their keys, as many as fit `bytes`. */
  bytesOf(sheetId: string, addresses: readonly TileAddress[], bytes: number): Parts {
    const one = this.statements
      .of(
        'SELECT bytes FROM low_tiles WHERE sheet_id = ? AND level = ? AND layer_id = ? AND tx = ? AND ty = ? AND look = ?',
      )
      .pluck();
    const parts: Parts = new Map();
    let left = bytes;
    for (const address of addresses) {
      const { layerId, level, tx, ty } = address;
      const found = one.get(sheetId, level, layerId, tx, ty, LOOK) as Buffer | undefined;
      left -= found?.length ?? 0;
      if (left < 0 && parts.size) break;
      if (found) parts.set(tileKey(address), found);
    }
    return parts;
  }

  private all(query: string, sheetId: string): unknown[] {
    return this.statements.of(`${query} WHERE sheet_id = ? AND look = ?`).raw().all(sheetId, LOOK);
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
   * @param levels that are whole with these.
   * @returns false for a step that is not written yet, or too old to be mended by what came since.
   */
  put(sheetId: string, seq: number, tiles: Parts, levels: readonly [layerId: string, level: number][]): boolean {
    return this.db.transaction(() => {
      const latest = this.seqOf(sheetId);
      if (seq > latest || seq <= latest - KEPT_STEPS) return false;
      const remove = this.statements.of(
        'DELETE FROM low_tiles WHERE sheet_id = ? AND level = ? AND layer_id = ? AND tx = ? AND ty = ? AND seq <= ?',
      );
      const add = this.statements.of(
        `INSERT INTO low_tiles (sheet_id, level, layer_id, tx, ty, seq, look, bytes) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
         ON CONFLICT DO NOTHING`,
      );
      for (const [key, bytes] of tiles) {
        const { layerId, level, tx, ty } = tileAddress(key);
        remove.run(sheetId, level, layerId, tx, ty, seq);
        if (bytes.length) add.run(sheetId, level, layerId, tx, ty, seq, LOOK, Buffer.from(bytes));
      }
      const whole = this.statements.of(
        `INSERT INTO low_levels (sheet_id, layer_id, level, seq, look) VALUES (?, ?, ?, ?, ?)
         ON CONFLICT DO UPDATE SET seq = excluded.seq, look = excluded.look WHERE excluded.seq >= seq`,
      );
      for (const [layerId, level] of levels) whole.run(sheetId, layerId, level, seq, LOOK);
      return true;
    })();
  }

  /** Copies what is up to date to a sheet that begins as a copy. */
  duplicate(from: string, to: string): void {
    const isCurrent = (t: string) => `NOT EXISTS (SELECT 1 FROM ink_damage d
      WHERE d.sheet_id = ${t}.sheet_id AND d.seq > ${t}.seq AND d.layer_id = ${t}.layer_id)`;
    this.statements
      .of(
        `INSERT INTO low_tiles (sheet_id, level, layer_id, tx, ty, seq, look, bytes)
         SELECT ?, level, layer_id, tx, ty, 0, look, bytes FROM low_tiles t WHERE sheet_id = ? AND ${isCurrent('t')}`,
      )
      .run(to, from);
    this.statements
      .of(
        `INSERT INTO low_levels (sheet_id, layer_id, level, seq, look)
         SELECT ?, layer_id, level, 0, look FROM low_levels t WHERE sheet_id = ? AND ${isCurrent('t')}`,
      )
      .run(to, from);
  }
}
