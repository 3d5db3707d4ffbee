import { createHash, randomUUID } from 'node:crypto';
import { mkdir, open, rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { PictureAnswer } from '../../contract/sheets';
import type { Prepared } from '../picture-intake';
import type { Db } from './open';

export type PictureCopy = 'original' | 'working';

/** Pictures by the SHA-256 of their untouched bytes: files in the data folder, a row for each. */
export class PictureStore {
  constructor(
    private readonly db: Db,
    private readonly folder: string,
  ) {}

  /** The stored picture with these bytes, if there is one. */
  byBytes(bytes: Uint8Array): PictureAnswer | undefined {
    return this.answer(hashOf(bytes));
  }

  answer(hash: string): PictureAnswer | undefined {
    return this.db.prepare('SELECT hash, width, height, frames FROM pictures WHERE hash = ?').get(hash) as
      PictureAnswer | undefined;
  }

  /** Stores the original and its working copy; both are on disk before the row is. */
  async add(original: Uint8Array, prepared: Prepared, now: number): Promise<PictureAnswer> {
    const hash = hashOf(original);
    await this.writeFile(hash, 'original', original);
    await this.writeFile(hash, 'working', prepared.working);
    this.db
      .prepare(
        `INSERT OR IGNORE INTO pictures (hash, type, bytes, width, height, frames, working_type, added_at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
      )
      .run(
        hash,
        prepared.type,
        original.length,
        prepared.width,
        prepared.height,
        prepared.frames,
        prepared.workingType,
        now,
      );
    return { hash, width: prepared.width, height: prepared.height, frames: prepared.frames };
  }

  /** Where a copy lies and its media type. */
  async file(hash: string, copy: PictureCopy): Promise<{ path: string; type: string } | undefined> {
    const row = this.db.prepare('SELECT type, working_type FROM pictures WHERE hash = ?').get(hash) as
      { type: string; working_type: string } | undefined;
    if (!row) return undefined;
    const path = this.path(hash, copy);
    await stat(path);
    return { path, type: copy === 'original' ? row.type : row.working_type };
  }

  private path(hash: string, copy: PictureCopy): string {
    return join(this.folder, 'pictures', hash.slice(0, 2), `${hash}.${copy}`);
  }

  /** Writes beside, flushes, then renames: a file under its name is always whole. */
  private async writeFile(hash: string, copy: PictureCopy, bytes: Uint8Array): Promise<void> {
    const path = this.path(hash, copy);
    await mkdir(join(path, '..'), { recursive: true });
    const beside = `${path}.${randomUUID()}`;
    const file = await open(beside, 'w');
    try {
      await file.writeFile(bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(beside, path);
  }
}

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
