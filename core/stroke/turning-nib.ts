import type { Footprint } from './footprint';
import { OWN, type Spine } from './spine';

/** By how much the tips of a flat nib may jump where one piece of a cone ends and the next begins, px. */
const JUMP_PX = 0.2;
const MOST_PIECES = 32;

/** Into how many pieces, each with one direction, the cone from point i to i + 1 is cut: as many as its nib turns. */
export function piecesOf({ data, own, count }: Spine, i: number, scale: number, { flat }: Footprint): number {
  if (!own || flat === 1 || i + 1 >= count) return 1;
  const p = OWN * i;
  const dx = own[p + OWN + 1] - own[p + 1];
  const dy = own[p + OWN + 2] - own[p + 2];
  const r = Math.max(data[3 * i + 2], data[3 * i + 5]) * scale;
  return Math.min(MOST_PIECES, Math.max(1, Math.ceil((r * Math.sqrt(dx * dx + dy * dy)) / JUMP_PX)));
}

/** The direction of the nib at the part `u` of the way from point i to the next: a unit vector. */
export function directionWithin(
  { own, count }: Spine,
  i: number,
  u: number,
  { ex, ey }: Footprint,
): readonly [x: number, y: number] {
  if (!own) return [ex, ey];
  const p = OWN * i;
  const q = i + 1 < count ? p + OWN : p;
  const x = own[p + 1] + u * (own[q + 1] - own[p + 1]);
  const y = own[p + 2] + u * (own[q + 2] - own[p + 2]);
  const length = Math.sqrt(x * x + y * y);
  return length > 0 ? [x / length, y / length] : [own[p + 1], own[p + 2]];
}
