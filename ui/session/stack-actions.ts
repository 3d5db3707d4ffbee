import { isFaded, type Pen } from '../../core/stroke/pen';
import { sentLayers } from '../../core/sheet/sent-layers';
import { compose, invert, type Matrix } from '../../core/geometry/matrix';
import {
  isInkable,
  type InkableLayer,
  type Layer,
  type Placement,
  type ReferenceLayer,
  type SheetSettings,
} from '../../core/sheet/entities';
import { ordersForMove } from '../../core/sheet/orders';
import { fittedPlacement, placementMatrix } from '../../core/sheet/placement';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { newLayer } from './inking';
import type { SheetSession } from './session';

/** Sets a field of the sheet that is a way of looking or working, not a part of the drawing. */
export const setSetting = <F extends keyof SheetSettings & string>(
  session: SheetSession,
  field: F,
  value: SheetSettings[F],
  label: string,
): Promise<void> => session.act(label, [assign('sheet', session.model.settings, field, value)], { undoable: false });

export const takeTarget = (session: SheetSession, layer: InkableLayer): Promise<void> =>
  setSetting(session, 'target', layer.id, `Ink on ${layer.name}`);

export const setVisible = (session: SheetSession, layer: Layer, visible: boolean): Promise<void> =>
  session.act(`${visible ? 'Show' : 'Hide'} ${layer.name}`, [assign('layers', layer, 'visible', visible)], {
    undoable: false,
  });

export const setLocked = (session: SheetSession, layer: Layer, locked: boolean): Promise<void> =>
  session.act(`${locked ? 'Lock' : 'Unlock'} ${layer.name}`, [assign('layers', layer, 'locked', locked)], {
    undoable: false,
  });

export const renameLayer = (session: SheetSession, layer: Layer, name: string): Promise<void> =>
  session.act('Rename layer', [assign('layers', layer, 'name', name)]);

export const setLayerOpacity = (session: SheetSession, layer: Layer, opacity: number): Promise<void> =>
  session.act(`Opacity of ${layer.name}`, [assign('layers', layer, 'opacity', opacity)]);

/** Adds a layer above all others; ink lands on it at once. */
export function addLayer(session: SheetSession, kind: InkableLayer['kind']): Promise<void> {
  const layer = newLayer(session, kind);
  return session.act(`Add ${layer.name}`, [
    putRows('layers', layer),
    assign('sheet', session.model.settings, 'target', layer.id),
  ]);
}

/** Takes a layer away; ink that was meant for it goes to the topmost one that is left. */
export function deleteLayer(session: SheetSession, layer: Layer): Promise<void> {
  const changes: Change[] = [assign('layers', layer, 'deleted', true)];
  const { settings } = session.model;
  if (settings.target === layer.id) {
    const next = session.model.stack().findLast((l) => isInkable(l) && l.id !== layer.id);
    changes.push(assign('sheet', settings, 'target', next?.id ?? null));
  }
  return session.act(`Delete ${layer.name}`, changes);
}

/** The change that gives layers new places in the stack. */
export const orderChange = (session: SheetSession, places: readonly { id: string; order: string }[]): Change => ({
  op: 'set',
  table: 'layers',
  field: 'order',
  ids: places.map((p) => p.id),
  before: places.map((p) => session.model.layers.get(p.id)!.order),
  after: places.map((p) => p.order),
});

/** Moves a layer to a place in the stack, counted from the bottom. */
export async function moveLayerTo(session: SheetSession, layer: Layer, index: number): Promise<void> {
  const stack = session.model.stack();
  const at = stack.findIndex((l) => l.id === layer.id);
  const to = Math.min(stack.length - 1, Math.max(0, index));
  if (at < 0 || at === to) return;
  const places = ordersForMove(
    stack.filter((l) => l.id !== layer.id),
    layer.id,
    to,
  );
  await session.act(`Move ${layer.name}`, [orderChange(session, places)]);
}

/** Moves a layer one place up (+1) or down (-1) in the stack. */
export function moveLayer(session: SheetSession, layer: Layer, by: 1 | -1): Promise<void> {
  const at = session.model.stack().findIndex((l) => l.id === layer.id);
  return moveLayerTo(session, layer, at + by);
}

/** Whether there is any ink on the layers that are sent. */
export const hasSentInk = (session: SheetSession): boolean =>
  session.hasInkOn(sentLayers(session.model).map((l) => l.id));

/** Whether some of it has no outlines. */
export const hasFadedInk = (session: SheetSession): boolean => hasSent(session, isFaded);

/** Whether some of it was erased softly. */
export const hasSoftErasures = (session: SheetSession): boolean => hasSent(session, ({ fades }) => fades === true);

function hasSent(session: SheetSession, suits: (pen: Pen) => boolean): boolean {
  const layers = sentLayers(session.model).map((l) => l.id);
  return session.model.strokes.countOn(layers, 1, suits) > 0;
}

/** Whether any ink stands on the sheet. */
export const hasInk = (session: SheetSession): boolean => session.hasInkOn([...session.model.layers.keys()]);

/**
 * Places a picture anew.
 * @param withInk all ink goes with it: each stroke's matrix is moved by what the picture moved.
 */
export async function placePicture(
  session: SheetSession,
  before: ReferenceLayer,
  placement: Placement,
  withInk: boolean,
): Promise<void> {
  const changes: Change[] = [assign('layers', before, 'placement', placement)];
  if (withInk) {
    await session.ready;
    const was = placementMatrix(before.placement, before.picture);
    const moved: Matrix = compose(placementMatrix(placement, before.picture), invert(was));
    const strokes = [...session.model.strokes.values()].filter((s) => !s.deleted);
    if (strokes.length)
      changes.push({
        op: 'set',
        table: 'strokes',
        field: 'matrix',
        ids: strokes.map((s) => s.id),
        before: strokes.map((s) => s.matrix),
        after: strokes.map((s) => compose(moved, s.matrix)),
      });
  }
  return session.act('Move picture', changes);
}

export const resetPlacement = (session: SheetSession, layer: ReferenceLayer, withInk: boolean): Promise<void> =>
  placePicture(session, layer, fittedPlacement(layer.picture, session.paper), withInk);
