import { resultSize } from '../core/picture/recipe';
import type { Picture } from '../core/picture/warp';
import { traced, type Traced } from '../core/trace/trace';
import { loopAt, tracedPage, type TracedPage } from '../core/trace/traced-page';
import type { Made, TraceWish } from './picture-protocol';

/** Pages are traced at this size of the longer side, or their own: a line of a pencil is some px wide then. */
const TRACE_SIDE_PX = 2600;

/** What tracing needs of the worker around it. */
interface Around {
  develop(scale: number): Promise<Picture>;
  /** Lets a stop arrive. */
  step(part: number): Promise<void>;
}

/** Traces pages; keeps what the last one was traced to, so that simplifying it otherwise is quick. */
class Tracer {
  private kept: { key: string; traced: Traced; scale: number } | undefined;

  async trace(made: Made, { nearPx, ...rule }: TraceWish, around: Around): Promise<TracedPage> {
    const key = JSON.stringify([made, rule]);
    if (this.kept?.key !== key) this.kept = { key, ...(await this.lines(made, rule, around)) };
    return tracedPage(this.kept.traced, this.kept.scale, nearPx);
  }

  private async lines(made: Made, rule: Omit<TraceWish, 'nearPx'>, around: Around) {
    const { width, height } = resultSize(made.picture, made.recipe);
    const scale = Math.min(1, TRACE_SIDE_PX / Math.max(width, height));
    const { specksPx, widestPx, gapPx, loop } = rule;
    const work = traced(await around.develop(scale), {
      specksPx: specksPx * scale,
      ...(widestPx === undefined ? {} : { widestPx: widestPx * scale }),
      ...(gapPx === undefined ? {} : { gapPx: gapPx * scale }),
      ...(loop ? { loop: loopAt(loop, scale) } : {}),
    });
    for (;;) {
      const step = work.next();
      if (step.done) return { traced: step.value, scale };
      await around.step(step.value);
    }
  }
}

export const tracer = new Tracer();
