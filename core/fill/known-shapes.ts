import type { Rings } from '../geometry/rings';
import type { Matrix } from '../geometry/matrix';
import { LruCache } from '../raster/lru-cache';
import { pourShape, type PourShape } from './pour-shape';
import { Inside, type Place } from './shape-inside';

/** What is kept takes at most about so much. */
const INSIDE_BYTES = 12 * 1024 * 1024;
const SHAPE_BYTES = 4 * 1024 * 1024;
/** What a point of a ring takes where it is looked up by its place. */
const POINT_BYTES = 28;

/**
 * What was made of borders, kept: after most edits the border of a pour is what it was, and neither fitting a path to it nor
 * sorting its edges is to be done again.
 */
export class KnownShapes {
  private readonly insides = new LruCache<Inside>(INSIDE_BYTES);
  private readonly shapes = new LruCache<Omit<PourShape, 'seed'> | 'none'>(SHAPE_BYTES);

  insideOf(rings: Rings): Inside {
    const key = hashOf(rings);
    const known = this.insides.get(key);
    if (known) return known;
    const made = new Inside(rings);
    this.insides.set(
      key,
      made,
      rings.reduce((sum, ring) => sum + POINT_BYTES * (ring.length / 2), 0),
    );
    return made;
  }

  /** See {@link pourShape}. */
  shapeOf(rings: Rings, seed: Place, matrix?: Matrix): PourShape | undefined {
    const key = `${hashOf(rings)} ${matrix?.join(' ') ?? ''}`;
    let known = this.shapes.get(key);
    if (!known) {
      known = pourShape(rings, seed, matrix) ?? 'none';
      this.shapes.set(key, known, known === 'none' ? key.length : known.bytes.length);
    }
    return known === 'none' ? undefined : { ...known, seed };
  }
}

/** 64 bits that tell rings apart: FNV-1a (Fowler, Noll, Vo) word by word, and the same with another multiplier and a shift. */
function hashOf(rings: Rings): string {
  let [a, b] = [0x811c9dc5, 0x9747b28c];
  for (const ring of rings) {
    const words = new Uint32Array(ring.buffer, ring.byteOffset, 2 * ring.length);
    a = Math.imul(a ^ words.length, 0x01000193);
    for (let i = 0; i < words.length; i++) {
      a = Math.imul(a ^ words[i], 0x01000193);
      b = Math.imul(b ^ words[i], 0x5bd1e995);
      b ^= b >>> 15;
    }
  }
  return `${(a >>> 0).toString(36)}.${(b >>> 0).toString(36)}`;
}
