/** What the keys of a slider do to its value (WAI-ARIA slider pattern): a step, ten of them, or to its ends. */
export function sliderKey(
  key: string,
  value: number,
  { min, max, step }: { min: number; max: number; step: number },
): number | undefined {
  const to: Record<string, number> = {
    ArrowRight: value + step,
    ArrowUp: value + step,
    ArrowLeft: value - step,
    ArrowDown: value - step,
    PageUp: value + 10 * step,
    PageDown: value - 10 * step,
    Home: min,
    End: max,
  };
  return Object.hasOwn(to, key) ? Math.min(max, Math.max(min, to[key])) : undefined;
}
