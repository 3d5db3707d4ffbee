import Database from 'better-sqlite3';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { MIGRATIONS } from './migrations';

export type Db = Database.Database;

const FILE = 'hush-line.sqlite';

/** A data folder that cannot be opened; the message says why, and what to do. */
export class StoreTrouble extends Error {}

/** Whether an error of the database means that its file is damaged. @see SQLite, "Result and Error Codes" */
export const isDamage = (code: unknown): boolean =>
  typeof code === 'string' && (code.startsWith('SQLITE_CORRUPT') || code === 'SQLITE_NOTADB');

/**
 * Opens (or makes) the database in `folder` and brings it up to date.
 * `synchronous=FULL` with WAL: a committed transaction survives a killed process and a power cut.
 * @param folder made when missing; `:memory:` for tests.
 * @throws {StoreTrouble} it is of a newer format, damaged, or cannot be read or written.
 */
export function openDatabase(folder: string): Db {
  try {
    return opened(folder);
  } catch (error) {
    if (error instanceof StoreTrouble) throw error;
    const { code, message } = error as { code?: unknown; message?: string };
    const file = join(folder, FILE);
    if (isDamage(code))
      throw new StoreTrouble(
        `The database ${file} is damaged (${message}). Nothing was changed. Put a copy of the data folder in its place, or name another folder with HUSH_DATA.`,
      );
    throw new StoreTrouble(
      `The data folder ${folder} cannot be opened (${message}). Nothing was changed. See that it can be written and that the disk has room, or name another folder with HUSH_DATA.`,
    );
  }
}

function opened(folder: string): Db {
  if (folder !== ':memory:') mkdirSync(folder, { recursive: true });
  const db = new Database(folder === ':memory:' ? folder : join(folder, FILE));
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
    throw new StoreTrouble(
      `The data folder was written by a newer Hush Line (format ${version}; this one knows ${MIGRATIONS.length}). Nothing was changed. Start the newer one, or name another folder with HUSH_DATA.`,
    );
  for (let i = version; i < MIGRATIONS.length; i++)
    db.transaction(() => {
      const migration = MIGRATIONS[i];
      if (typeof migration === 'string') db.exec(migration);
      else migration(db);
      db.pragma(`user_version = ${i + 1}`);
    })();
}
