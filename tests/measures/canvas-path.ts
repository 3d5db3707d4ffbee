import type { createCanvas } from '@napi-rs/canvas';
import type { StrokePath } from '../../core/stroke/path';

export type CanvasContext = ReturnType<ReturnType<typeof createCanvas>['getContext']>;

/** The curves of a closed path, for a reference library to fill or to draw as a line. */
export function tracePath(context: CanvasContext, { nodes }: StrokePath): void {
  context.beginPath();
  context.moveTo(nodes[0].x, nodes[0].y);
  nodes.forEach((a, i) => {
    const b = nodes[(i + 1) % nodes.length];
    context.bezierCurveTo(a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY, b.x, b.y);
  });
  context.closePath();
}
