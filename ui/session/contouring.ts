import { nanoid } from 'nanoid';
import type { ContourLine, ContourWays } from '../../core/fill/contour';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Stroke } from '../../core/sheet/entities';
import { putAt, spotOf } from '../../core/sheet/layer-changes';
import { ordersAbove } from '../../core/sheet/orders';
import { isTooLarge } from '../../core/sheet/step-size';
import { putRows } from '../../core/sheet/steps';
import { ENGINE, makePen } from '../../core/stroke/pen';
import { OutOfReach } from '../../workers/sheet-client';
import { freeName, newLayer } from './inking';
import { lineCount } from './pickable';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** Draws contours: thick lines around all that is on some layers. */
export class Contouring {
  /** One is being worked out. */
  readonly busy = new Watched(false);

  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string) => void,
    private readonly warn: (text: string) => void,
  ) {}

  /** Lays it on a layer of its own right beneath the lowest of the layers: one step. @returns whether there is one now. */
  async draw(layerIds: readonly string[], ways: ContourWays, colour: string): Promise<boolean> {
    if (this.busy.now()) return false;
    this.busy.set(true);
    try {
      await this.session.ready;
      const ask = { what: 'contour', layerIds, ways } as const;
      const found = await this.session.client.colour<'contour'>(ask);
      if (found.length) return await this.keep(found, layerIds, colour);
      this.say('Nothing is inked there that a contour could go around.');
    } catch (error) {
      if (!(error instanceof OutOfReach)) console.error(error);
      this.warn(error instanceof OutOfReach ? UNREACHED : FAILED);
    } finally {
      this.busy.set(false);
    }
    return false;
  }

  private async keep(found: readonly ContourLine[], layerIds: readonly string[], colour: string): Promise<boolean> {
    const { session } = this;
    const { model } = session;
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
      this.warn('That contour is too much for one step, so none was drawn. Draw it around fewer layers.');
      return false;
    }
    await session.act('Contour', changes, { parts });
    this.say(
      `${lineCount(strokes.length)} on ${layer.name} now. On Ink they are picked, bent and restyled like drawn ones.`,
    );
    return true;
  }
}

const UNREACHED = 'The lines there are not on this device yet, and the server cannot be reached, so no contour was drawn. Try again when it can.'; // prettier-ignore
const FAILED = 'The contour could not be worked out, so none was drawn. Try again.';
