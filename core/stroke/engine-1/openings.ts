/** Hand speed (CSS px per ms) at which a speed-made width is half way to its smallest. */
const HALF_SPEED = 1.2;

/** How much of the pen's range a pressure 0 to 1 opens: rises fast, levels off. */
export const openingOfPressure = (p: number): number => p * (2 - p);

/** How much of the range a hand speed (CSS px per ms, >= 0) opens: 1 at rest, 1/2 at 1.2 px/ms. */
export function openingOfSpeed(speed: number): number {
  const v = speed / HALF_SPEED;
  return 1 / (1 + v * v);
}
