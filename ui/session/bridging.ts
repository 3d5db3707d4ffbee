import { nanoid } from 'nanoid';
import type { FoundLeak } from '../../core/check/found-leak';
import { IDENTITY } from '../../core/geometry/matrix';
import { isInkable, type Stroke } from '../../core/sheet/entities';
import { isLocked } from '../../core/sheet/layer-tree';
import { orderAbove } from '../../core/sheet/orders';
import { encodePath } from '../../core/stroke/pack-path';
import { ENGINE, makePen } from '../../core/stroke/pen';
import type { SheetSession } from './session';

/** Lines over gaps, with what they are made of. */
export interface Bridges {
  strokes: Stroke[];
  parts: [string, Uint8Array][];
  /** So many gaps lie on a locked layer, and get none. */
  shut: number;
}

/** Lines that close leaks, of the layer and colour that each loose end has, on top of its layer. */
export function bridgesOver(session: Pick<SheetSession, 'model' | 'topOrderOf'>, leaks: readonly FoundLeak[]): Bridges {
  const { model } = session;
  const orders = new Map<string, string>();
  const parts: [string, Uint8Array][] = [];
  let shut = 0;
  const strokes = leaks.flatMap(({ id, layerId, bridge }): Stroke[] => {
    const line = model.strokes.get(id);
    const layer = model.layers.get(layerId);
    if (!line || !isInkable(layer)) return [];
    if (isLocked(layer, model.layers)) {
      shut++;
      return [];
    }
    const top = orders.get(layerId) ?? session.topOrderOf(layerId);
    const order = orderAbove(top === undefined ? [] : [top]);
    orders.set(layerId, order);
    const own = nanoid();
    parts.push([own, encodePath(bridge.path)]);
    const row = { order, pen: makePen('fineliner', bridge.sizePx, 0, false, 1), colour: line.colour };
    return [{ ...row, id: own, layerId, matrix: IDENTITY, engine: ENGINE, deleted: false }];
  });
  return { strokes, parts, shut };
}

/** What is said where gaps lie on a locked layer. */
export const shutWords = (shut: number): string =>
  `${shut === 1 ? 'One gap lies' : `${shut} gaps lie`} on a locked layer and stayed open. Unlock it in the stack to bridge there.`;
