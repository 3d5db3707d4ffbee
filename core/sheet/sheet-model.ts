import type { AnyEntity, Erasure, Layer, SheetSettings, TableName, Tables } from './entities';
import { layersOf, layerTree, type Branch } from './layer-tree';
import { planWrites, type Change, type Read, type Write } from './steps';
import { StrokeTable } from './stroke-table';

/** A sheet as it stands, in memory. One writer for the page and its worker. */
export class SheetModel {
  settings: SheetSettings;
  readonly layers = new Map<string, Layer>();
  readonly strokes = new StrokeTable();
  readonly erasures = new Map<string, Erasure>();

  constructor(settings: SheetSettings, layers: Iterable<Layer> = []) {
    this.settings = settings;
    for (const layer of layers) this.layers.set(layer.id, layer);
  }

  readonly read: Read = <T extends TableName>(table: T, id: string): Tables[T] | undefined => {
    if (table === 'sheet') return this.settings as Tables[T];
    return this.tableOf(table).get(id) as Tables[T] | undefined;
  };

  /**
   * Applies a step's changes; entities are replaced, never modified.
   * @returns what was written.
   * @throws {StepRefused} as {@link planWrites}; then nothing was written.
   */
  apply(changes: readonly Change[]): Write[] {
    const writes = planWrites(changes, this.read);
    for (const write of writes) this.write(write);
    return writes;
  }

  /** Layers that stand, bottom first: what a group holds, then the group. */
  stack(): Layer[] {
    return layersOf(this.tree());
  }

  /** The same as they lie in groups. */
  tree(): Branch[] {
    return layerTree(this.layers.values());
  }

  private tableOf(table: Exclude<TableName, 'sheet'>): EntityTable {
    return this[table] as EntityTable;
  }

  private write(write: Write): void {
    if (write.kind === 'insert') {
      this.tableOf(write.table).set(write.row.id, write.row);
    } else if (write.table === 'sheet') {
      this.settings = { ...this.settings, [write.field]: write.value };
    } else {
      const table = this.tableOf(write.table);
      table.set(write.id, { ...table.get(write.id)!, [write.field]: write.value } as AnyEntity);
    }
  }
}

interface EntityTable {
  get(id: string): AnyEntity | undefined;
  set(id: string, entity: AnyEntity): unknown;
}
