import { nanoid } from 'nanoid';
import type { ContourWays } from '../../core/fill/contour';
import { IDENTITY } from '../../core/geometry/matrix';
import { isInkable, type Layer, type Stroke } from '../../core/sheet/entities';
import { putAt, spotOf } from '../../core/sheet/layer-changes';
import { isVisible } from '../../core/sheet/layer-tree';
import { ordersAbove } from '../../core/sheet/orders';
import { isTooLarge } from '../../core/sheet/step-size';
import { putRows } from '../../core/sheet/steps';
import { ENGINE, makePen } from '../../core/stroke/pen';
import { OutOfReach } from '../../workers/sheet-client';
import { freeName, newLayer } from './inking';
import { lineCount } from './pickable';
import type { SheetSession } from './session';

/** The layers that a contour can go around: work that is inked and shown, bottom first. */
export const contourable = ({ model }: SheetSession): Layer[] =>
  model.stack().filter((layer) => isInkable(layer) && layer.kind !== 'rough' && isVisible(layer, model.layers));

/** What is told of a contour. */
export interface Told {
  say(text: string): void;
  warn(text: string): void;
}

/**
 * Draws thick lines around all that is on some layers, on a layer of their own right beneath the lowest of them: one step.
 * @returns whether there is one now.
 */
export async function drawContour(
  session: SheetSession,
  layerIds: readonly string[],
  ways: ContourWays,
  colour: string,
  { say, warn }: Told,
): Promise<boolean> {
  await session.ready;
  const { model } = session;
  const found = await session.client.colour<'contour'>({ what: 'contour', layerIds, ways }).catch((error: unknown) => {
    if (!(error instanceof OutOfReach)) console.error(error);
    warn(error instanceof OutOfReach ? UNREACHED : FAILED);
    return undefined;
  });
  if (!found) return false;
  if (!found.length) {
    say('Nothing is inked there that a contour could go around.');
    return false;
  }
  const lowest = model.stack().find(({ id }) => layerIds.includes(id));
  if (!lowest) return false;
  const layer = { ...newLayer(session, 'ink'), name: freeName('Contour', model.stack()) };
  const group = found.length > 1 ? nanoid() : null;
  const orders = ordersAbove([], found.length);
  const parts: [string, Uint8Array][] = [];
  const strokes = found.map(({ bytes, sizePx }, n): Stroke => {
    const id = nanoid();
    parts.push([id, bytes]);
    return {
      ...{ id, deleted: false, layerId: layer.id, order: orders[n], colour, matrix: IDENTITY, engine: ENGINE, group },
      pen: makePen('fineliner', sizePx, 0, false, 1),
    };
  });
  const changes = [...putAt(model, [layer], spotOf(model, lowest.id)), putRows('strokes', ...strokes)];
  if (isTooLarge(changes, parts)) {
    warn('That contour is too much for one step, so none was drawn. Draw it around fewer layers.');
    return false;
  }
  await session.act('Contour', changes, { parts });
  say(`${lineCount(strokes.length)} on ${layer.name} now. On Ink they are picked, bent and restyled like drawn ones.`);
  return true;
}

const UNREACHED = 'The lines there are not on this device yet, and the server cannot be reached, so no contour was drawn. Try again when it can.'; // prettier-ignore
const FAILED = 'The contour could not be worked out, so none was drawn. Try again.';
