import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openStore, type Store } from '../../server/store';

/** Gives each test a store of its own, with an empty sheet `s` of 800 x 600 px. */
export function setUpStore(take: (store: Store) => void): void {
  let folder: string;
  let store: Store;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'hush-line-store-'));
    store = openStore(folder);
    const paper = { widthPx: 800, heightPx: 600, ppi: 300 };
    store.sheets.act({ id: 'act', kind: 'create', sheetId: 's', name: 'Reeds', paper }, 1000);
    take(store);
  });
  afterEach(() => {
    store.close();
    rmSync(folder, { recursive: true });
  });
}
