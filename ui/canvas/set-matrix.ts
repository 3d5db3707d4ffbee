import type { Matrix } from '../../core/geometry/matrix';

/** From now on what is drawn goes through this matrix alone. */
export const setMatrix = (ctx: CanvasRenderingContext2D, [a, b, c, d, e, f]: Matrix): void =>
  ctx.setTransform(a, b, c, d, e, f);
