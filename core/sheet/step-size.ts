import type { Change } from './steps';

/** A step of more than this is not taken by the server (32 MB), with room for what is around it. */
const MOST_BYTES = 30e6;
/** Steps of fewer values are never so large: they are not measured. */
const FEW_VALUES = 2000;

/** Whether changes with the samples that they bring are too large to be one step. */
export function isTooLarge(changes: readonly Change[], parts: readonly [string, Uint8Array][] = []): boolean {
  const values = changes.reduce((sum, c) => sum + (c.op === 'put' ? c.rows.length : c.ids.length), 0);
  if (values < FEW_VALUES) return false;
  const samples = parts.reduce((sum, [, bytes]) => sum + bytes.length, 0);
  return samples + JSON.stringify(changes).length > MOST_BYTES;
}
