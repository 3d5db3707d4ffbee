import { grow, overlaps, union, type Box } from '../core/geometry/box';
import { gridArea } from '../core/raster/draw-stroke';
import { TILE_APRON, tileBox, type TileAddress } from '../core/raster/tiles';

/** A part of a layer, paper px. */
export interface LayerBox {
  layerId: string;
  box: Box;
}

/** More parts of one tile than this are made one: each is drawn by itself. */
const MOST_PARTS = 12;

/** Whether something in a box of a layer can show on a tile with its apron. */
export const touchesTile = (d: LayerBox, t: TileAddress): boolean =>
  d.layerId === t.layerId && overlaps(gridArea(d.box, 2 ** t.level), grow(tileBox(t.tx, t.ty), TILE_APRON));

/**
 * What has changed on a sheet, in its order. Pixels remember the place in the log at which they were right; what has
 * come since says which parts of them are not any more.
 */
export class DamageLog {
  private entries: LayerBox[] = [];

  /** The place of what comes next. */
  get end(): number {
    return this.entries.length;
  }

  add(damage: readonly LayerBox[]): void {
    for (const { layerId, box } of damage) this.entries.push({ layerId, box });
  }

  clear(): void {
    this.entries = [];
  }

  /** Parts of a tile (paper px) that have changed since a place in the log, apart from each other. */
  since(place: number, tile: TileAddress): Box[] {
    let parts: Box[] = [];
    for (let i = place; i < this.entries.length; i++) {
      if (!touchesTile(this.entries[i], tile)) continue;
      let { box } = this.entries[i];
      for (let hit = parts.find((p) => overlaps(p, box)); hit; hit = parts.find((p) => overlaps(p, box))) {
        box = union(box, hit);
        parts = parts.filter((p) => p !== hit);
      }
      parts.push(box);
      if (parts.length > MOST_PARTS) parts = [parts.reduce(union)];
    }
    return parts;
  }
}
