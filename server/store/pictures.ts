import { createHash, randomUUID } from 'node:crypto';
import { mkdir, open, rename, rm } from 'node:fs/promises';
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { StoredPicture } from '../../contract/answers';
import { WORKING_SIDE_PX } from '../../contract/limits';
import { rasterKindOf, type RasterKind } from '../decoding/kinds';
import { largeCopy, type Prepared } from '../picture-intake';
import type { Db } from './open';

export const PICTURE_COPIES = ['original', 'working', 'large'] as const;
export type PictureCopy = (typeof PICTURE_COPIES)[number];

/** Pictures by the SHA-256 of their untouched bytes: files in the data folder, a row for each. */
export class PictureStore {
  /** Large copies on their way. */
  private readonly making = new Map<string, Promise<void>>();

  constructor(
    private readonly db: Db,
    private readonly folder: string,
  ) {
    this.sweep();
  }

  /** Takes away what a killed upload left half written. */
  private sweep(): void {
    const root = join(this.folder, 'pictures');
    if (!existsSync(root)) return;
    for (const name of readdirSync(root, { recursive: true }) as string[])
      if (HALF_WRITTEN.test(name)) rmSync(join(root, name), { force: true });
  }

  /** The stored picture with these bytes, if there is one and its files are whole. */
  byBytes(bytes: Uint8Array): StoredPicture | undefined {
    const hash = hashOf(bytes);
    const hasFiles = (['original', 'working'] as const).every((copy) => existsSync(this.path(hash, copy)));
    return hasFiles ? this.answer(hash) : undefined;
  }

  answer(hash: string): StoredPicture | undefined {
    return this.db.prepare('SELECT hash, width, height, frames FROM pictures WHERE hash = ?').get(hash) as
      StoredPicture | undefined;
  }

  /** Stores the original and its working copy; both are on disk before the row is. */
  async add(original: Uint8Array, prepared: Prepared, now: number): Promise<StoredPicture> {
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

  /** Where a copy lies and its media type. The large one is made when it is first asked for. */
  async file(hash: string, copy: PictureCopy): Promise<{ path: string; type: string } | undefined> {
    const row = this.db.prepare('SELECT type, working_type, width, height FROM pictures WHERE hash = ?').get(hash) as
      { type: string; working_type: string; width: number; height: number } | undefined;
    if (!row) return undefined;
    // What is no larger, or was drawn as large as the usual copy, has no larger one.
    const kind = rasterKindOf(row.type);
    const hasLarge = Math.max(row.width, row.height) > WORKING_SIDE_PX && kind !== undefined;
    const kept = copy === 'large' && !hasLarge ? 'working' : copy;
    const path = this.path(hash, kept);
    if (!existsSync(path)) {
      if (kept !== 'large' || !kind) return undefined;
      await this.makeLarge(hash, kind);
    }
    return { path, type: kept === 'original' ? row.type : row.working_type };
  }

  /** Once, however many ask for it meanwhile. */
  private makeLarge(hash: string, kind: RasterKind): Promise<void> {
    const known = this.making.get(hash);
    if (known) return known;
    const making = largeCopy(this.path(hash, 'original'), kind)
      .then((bytes) => this.writeFile(hash, 'large', bytes))
      .finally(() => this.making.delete(hash));
    this.making.set(hash, making);
    return making;
  }

  private path(hash: string, copy: PictureCopy): string {
    return join(this.folder, 'pictures', hash.slice(0, 2), `${hash}.${copy}`);
  }

  /** Writes beside, flushes, then renames: a file under its name is always whole. */
  private async writeFile(hash: string, copy: PictureCopy, bytes: Uint8Array): Promise<void> {
    const path = this.path(hash, copy);
    await mkdir(join(path, '..'), { recursive: true });
    const beside = `${path}.${randomUUID()}`;
    try {
      const file = await open(beside, 'w');
      try {
        await file.writeFile(bytes);
        await file.sync();
      } finally {
        await file.close();
      }
      await rename(beside, path);
    } catch (error) {
      await rm(beside, { force: true });
      throw error;
    }
  }
}

/** A file beside its place-to-be: hash, copy and a UUID. */
const HALF_WRITTEN = /\.(original|working|large)\.[0-9a-f-]{36}$/;

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
