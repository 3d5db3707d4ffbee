import { deflateRaw } from 'pako';
import type { Pixels } from './pixels';

/** Packs a tile without loss: its channels one after the other, deflated (RFC 1951). */
export function packTile({ data }: Pixels): Uint8Array {
  const count = data.length / 4;
  const planes = new Uint8Array(data.length);
  for (let i = 0; i < count; i++) for (let c = 0; c < 4; c++) planes[c * count + i] = data[4 * i + c];
  return deflateRaw(planes);
}
