import { moved } from '../../core/geometry/view';
import type { Stage } from './stage';

/** What is brought near is shown so large at least, CSS px; the page comes no nearer than that. */
const LEAST_CSS_PX = 12;
const MOST_NEAR = 3;

/** Brings a place of the paper into the middle of what is free, so near that something of `sizePx` there can be seen. */
export function bringNear(stage: Stage, x: number, y: number, sizePx: number): void {
  const { view } = stage;
  const scale = Math.max(view.scale, Math.min(MOST_NEAR, LEAST_CSS_PX / Math.max(1, sizePx)));
  const { x0, y0, x1, y1 } = stage.free();
  stage.setView(moved(view, stage.toScreen(x, y), [(x0 + x1) / 2, (y0 + y1) / 2], scale / view.scale));
}
