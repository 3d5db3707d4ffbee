import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Frame } from '../../core/geometry/frame';
import type { Step } from '../../core/sheet/steps';
import type { Pen } from '../../core/stroke/pen';

/** A step that the server has not acknowledged. */
export interface WaitingStep {
  n?: number;
  sheetId: string;
  step: Step;
  parts: [string, Uint8Array][];
  /** Why the server did not take it: it is set aside, to be looked at. */
  setAside?: string;
}

/** A stroke that found no layer to land on, kept until the artist decides. */
export interface HeldStroke {
  id: string;
  sheetId: string;
  bytes: Uint8Array;
  pen: Pen;
  colour: string;
  /** It is to go under the layer's others. */
  beneath?: boolean;
  /** The frame of the paper that it was drawn on; absent: the first. */
  on?: Frame;
}

interface JournalSchema extends DBSchema {
  waiting: { key: number; value: WaitingStep; indexes: { sheet: string } };
  held: { key: string; value: HeldStroke; indexes: { sheet: string } };
}
type Database = IDBPDatabase<JournalSchema>;

/** A browser that does not answer by then (another tab may block it) keeps nothing. */
const OPEN_MS = 4000;

const NOTHING_KEPT =
  'This browser keeps nothing on the device (a private window?). Steps are safe once "Saved" is shown; until then keep this page open.';
const WRITE_FAILED =
  'This device could not keep a step (its storage may be full). Keep this page open until "Saved" is shown.';

/**
 * What waits on this device, in IndexedDB: it outlives the page, the browser and the server.
 * The store may be missing, full, or closed in the middle: nothing here throws for that. What could
 * not be written says so (`undefined`) and is told once; the artist goes on.
 */
export class Journal {
  private db: Database | undefined;
  private closed = false;
  private told = new Set<string>();
  /** Removals that failed, to be tried with the next. */
  private leftOver: number[] = [];

  private constructor(private readonly tell: (text: string) => void) {}

  /** @param tell says to the artist what this device cannot keep. */
  static async open(tell: (text: string) => void = () => {}): Promise<Journal> {
    const journal = new Journal(tell);
    journal.db = await openDatabase();
    if (!journal.db) journal.tellOnce(NOTHING_KEPT);
    return journal;
  }

  /** Resolves with the step's place once it is on disk; with undefined when it could not be put there. */
  async add(sheetId: string, step: Step, parts: [string, Uint8Array][]): Promise<number | undefined> {
    const place = await this.doing((db) => db.add('waiting', { sheetId, step, parts }));
    if (place === undefined) this.tellOnce(this.db ? WRITE_FAILED : NOTHING_KEPT);
    return place;
  }

  /** Waiting steps of a sheet, in order. */
  async waiting(sheetId: string): Promise<WaitingStep[]> {
    const all = await this.doing((db) => db.getAllFromIndex('waiting', 'sheet', sheetId));
    return (all ?? []).filter((w) => w.setAside === undefined);
  }

  /** Steps of a sheet that the server did not take. */
  async setAside(sheetId: string): Promise<WaitingStep[]> {
    const all = await this.doing((db) => db.getAllFromIndex('waiting', 'sheet', sheetId));
    return (all ?? []).filter((w) => w.setAside !== undefined);
  }

  /** Waiting steps of all sheets, in order. */
  async allWaiting(): Promise<WaitingStep[]> {
    return ((await this.doing((db) => db.getAll('waiting'))) ?? []).filter((w) => w.setAside === undefined);
  }

  /** Sets a step aside: it is sent no more, and kept. */
  async putAside(waiting: WaitingStep, reason: string): Promise<void> {
    await this.doing((db) => db.put('waiting', { ...waiting, setAside: reason }));
  }

  async remove(places: readonly number[]): Promise<void> {
    const all = [...this.leftOver, ...places];
    const done = await this.doing(async (db) => {
      const tx = db.transaction('waiting', 'readwrite');
      await Promise.all([...all.map((n) => tx.store.delete(n)), tx.done]);
      return true;
    });
    // Harmless: what the server knows is dropped at the next opening.
    this.leftOver = done ? [] : all;
  }

  async held(sheetId: string): Promise<HeldStroke[]> {
    return (await this.doing((db) => db.getAllFromIndex('held', 'sheet', sheetId))) ?? [];
  }

  async hold(stroke: HeldStroke): Promise<void> {
    const done = await this.doing((db) => db.put('held', stroke));
    if (done === undefined) this.tellOnce(this.db ? WRITE_FAILED : NOTHING_KEPT);
  }

  async release(ids: readonly string[]): Promise<void> {
    await this.doing(async (db) => {
      const tx = db.transaction('held', 'readwrite');
      await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done]);
      return true;
    });
  }

  close(): void {
    this.closed = true;
    this.db?.close();
  }

  /** Does something with the database; opened anew once if it fails. Undefined when that failed too. */
  private async doing<T>(act: (db: Database) => Promise<T>): Promise<T | undefined> {
    for (let attempt = 0; attempt < 2 && this.db && !this.closed; attempt++)
      try {
        return await act(this.db);
      } catch {
        if (attempt > 0 || this.closed) break;
        const before = this.db;
        this.db = (await openDatabase()) ?? before;
        if (this.db !== before) before.close();
      }
    return undefined;
  }

  private tellOnce(text: string): void {
    if (this.told.has(text)) return;
    this.told.add(text);
    this.tell(text);
  }
}

async function openDatabase(): Promise<Database | undefined> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<undefined>((resolve) => (timer = setTimeout(() => resolve(undefined), OPEN_MS)));
  try {
    const opening = openDB<JournalSchema>('hush-line', 1, {
      upgrade(db) {
        db.createObjectStore('waiting', { keyPath: 'n', autoIncrement: true }).createIndex('sheet', 'sheetId');
        db.createObjectStore('held', { keyPath: 'id' }).createIndex('sheet', 'sheetId');
      },
    });
    return await Promise.race([opening, late]);
  } catch {
    return undefined;
  } finally {
    clearTimeout(timer);
  }
}
