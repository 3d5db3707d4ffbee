import { openDatabase, type Db } from './open';
import { PictureStore } from './pictures';
import { SheetStore } from './sheets';
import { StepStore } from './steps';

/** Everything that is kept. All SQL lives in this folder. */
export interface Store {
  db: Db;
  sheets: SheetStore;
  steps: StepStore;
  pictures: PictureStore;
  close(): void;
}

/** Opens the store in a data folder, which is made when missing. */
export function openStore(folder: string): Store {
  const db = openDatabase(folder);
  return {
    db,
    sheets: new SheetStore(db),
    steps: new StepStore(db),
    pictures: new PictureStore(db, folder),
    close: () => db.close(),
  };
}
