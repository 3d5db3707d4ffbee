import { InkBoxes } from './ink-boxes';
import { InkDamage } from './ink-damage';
import { KeptInk } from './kept-ink';
import { LowTileStore } from './low-tiles';
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
  lowTiles: LowTileStore;
  close(): void;
}

/**
 * Opens the store in a data folder, which is made when missing.
 * @param bounds how many steps kept tiles may be behind, and how often what is older is let go.
 */
export function openStore(folder: string, bounds?: { keptSteps: number; sweepSteps: number }): Store {
  const db = openDatabase(folder);
  const boxes = new InkBoxes(db);
  const lowTiles = new LowTileStore(db, bounds?.keptSteps);
  return {
    db,
    sheets: new SheetStore(db, boxes, lowTiles, new KeptInk(db)),
    steps: new StepStore(db, boxes, new InkDamage(db, boxes, bounds)),
    pictures: new PictureStore(db, folder),
    lowTiles,
    close: () => db.close(),
  };
}
