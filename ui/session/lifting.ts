import { nanoid } from 'nanoid';
import { putAt, spotOf } from '../../core/sheet/layer-changes';
import type { LiftedLayer, PictureLayer } from '../../core/sheet/entities';
import { assign } from '../../core/sheet/steps';
import { freeName } from './inking';
import type { SheetSession } from './session';

/** Dark parts of a page up to this, a part of its longer side, are drawn at first, and wider ones are shadow. */
export const LIGHT_REACH = 0.1;

/**
 * Puts a lifted page among the work, right above it, and hides the reference that it was: two of a line would lie on
 * each other. @returns the new layer's id.
 */
export async function keepLifted(session: SheetSession, page: PictureLayer): Promise<string> {
  const { model } = session;
  const { picture, placement, recipe, parent } = page;
  const layer: LiftedLayer = {
    ...{ id: nanoid(), kind: 'lifted', deleted: false, visible: true, locked: false, opacity: 1, order: page.order },
    ...{ picture, placement, recipe: (recipe ?? []).map((step) => ({ ...step, id: nanoid() })), parent },
    name: freeName(`${page.name} lifted`, model.stack()),
  };
  const spot = spotOf(model, page.id);
  await session.act(`Lift ${page.name}`, [
    ...putAt(model, [layer], { ...spot, index: spot.index + 1 }),
    assign('layers', page, 'visible', false),
  ]);
  return layer.id;
}
