import type { Spine } from './spine';

// A place of a spine is the number of a point, and a part of the way to the next.

/** What lies at a place: middle and radius, paper px. */
export function pointAt({ data, count }: Spine, place: number): [x: number, y: number, r: number] {
  const i = Math.min(count - 1, Math.floor(place));
  const next = Math.min(count - 1, i + 1);
  const along = (c: number) => data[3 * i + c] + (place - i) * (data[3 * next + c] - data[3 * i + c]);
  return [along(0), along(1), along(2)];
}

/** The unit vector along a line at a place; of pieces without length, that of the nearest which has some. */
export function directionAt({ data, count }: Spine, place: number): [x: number, y: number] {
  const first = Math.min(Math.max(0, count - 2), Math.floor(place));
  for (let away = 0; away < count; away++)
    for (const i of away ? [first - away, first + away] : [first]) {
      if (i < 0 || i + 1 >= count) continue;
      const dx = data[3 * i + 3] - data[3 * i];
      const dy = data[3 * i + 4] - data[3 * i + 1];
      const length = Math.hypot(dx, dy);
      if (length > 1e-9) return [dx / length, dy / length];
    }
  return [1, 0];
}
