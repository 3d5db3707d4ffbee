import Database from 'better-sqlite3';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { MIGRATIONS } from './migrations';

export type Db = Database.Database;

/**
 * Opens (or makes) the database in `folder` and brings it up to date.
 * `synchronous=FULL` with WAL: a committed transaction survives a killed process and a power cut.
 * @param folder made when missing; `:memory:` for tests.
 */
export function openDatabase(folder: string): Db {
  if (folder !== ':memory:') mkdirSync(folder, { recursive: true });
  const db = new Database(folder === ':memory:' ? folder : join(folder, 'hush-line.sqlite'));
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 5000');
  migrate(db);
  return db;
}

function migrate(db: Db): void {
  const version = db.pragma('user_version', { simple: true }) as number;
  if (version > MIGRATIONS.length)
    throw new Error(
      `this data folder was written by a newer Hush Line (format ${version}, known ${MIGRATIONS.length})`,
    );
  for (let i = version; i < MIGRATIONS.length; i++)
    db.transaction(() => {
      const migration = MIGRATIONS[i];
      if (typeof migration === 'string') db.exec(migration);
      else migration(db);
      db.pragma(`user_version = ${i + 1}`);
    })();
}
