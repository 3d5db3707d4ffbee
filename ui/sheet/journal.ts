import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Step } from '../../core/sheet/steps';
import type { Pen } from '../../core/stroke/pen';

/** A step that the server has not acknowledged. */
export interface WaitingStep {
  n?: number;
  sheetId: string;
  step: Step;
  parts: [string, Uint8Array][];
}

/** A stroke that found no layer to land on, kept until the artist decides. */
export interface HeldStroke {
  id: string;
  sheetId: string;
  bytes: Uint8Array;
  pen: Pen;
  colour: string;
}

interface JournalSchema extends DBSchema {
  waiting: { key: number; value: WaitingStep; indexes: { sheet: string } };
  held: { key: string; value: HeldStroke; indexes: { sheet: string } };
}

/** What waits on this device, in IndexedDB: it outlives the page, the browser and the server. */
export class Journal {
  private constructor(private readonly db: IDBPDatabase<JournalSchema>) {}

  static async open(): Promise<Journal> {
    return new Journal(
      await openDB<JournalSchema>('hush-line', 1, {
        upgrade(db) {
          db.createObjectStore('waiting', { keyPath: 'n', autoIncrement: true }).createIndex('sheet', 'sheetId');
          db.createObjectStore('held', { keyPath: 'id' }).createIndex('sheet', 'sheetId');
        },
      }),
    );
  }

  /** Resolves with the step's place once it is on disk. */
  async add(sheetId: string, step: Step, parts: [string, Uint8Array][]): Promise<number> {
    return this.db.add('waiting', { sheetId, step, parts });
  }

  /** Waiting steps of a sheet, in order. */
  waiting(sheetId: string): Promise<WaitingStep[]> {
    return this.db.getAllFromIndex('waiting', 'sheet', sheetId);
  }

  /** Waiting steps of all sheets, in order. */
  allWaiting(): Promise<WaitingStep[]> {
    return this.db.getAll('waiting');
  }

  async remove(places: number[]): Promise<void> {
    const tx = this.db.transaction('waiting', 'readwrite');
    await Promise.all([...places.map((n) => tx.store.delete(n)), tx.done]);
  }

  held(sheetId: string): Promise<HeldStroke[]> {
    return this.db.getAllFromIndex('held', 'sheet', sheetId);
  }

  async hold(stroke: HeldStroke): Promise<void> {
    await this.db.put('held', stroke);
  }

  async release(ids: string[]): Promise<void> {
    const tx = this.db.transaction('held', 'readwrite');
    await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done]);
  }

  close(): void {
    this.db.close();
  }
}
