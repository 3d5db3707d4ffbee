import { isFaded, type Pen } from '../../core/stroke/pen';
import { sentLayers } from '../../core/sheet/sent-layers';
import { compose, invert, type Matrix } from '../../core/geometry/matrix';
import {
  type InkableLayer,
  type Layer,
  type Placement,
  type ReferenceLayer,
  type SheetSettings,
} from '../../core/sheet/entities';
import { groupsOf } from '../../core/sheet/layer-tree';
import { fieldChange } from '../../core/sheet/layer-changes';
import { fittedPlacement, placementMatrix } from '../../core/sheet/placement';
import { assign, type Change } from '../../core/sheet/steps';
import type { SheetSession } from './session';

/** Sets a field of the sheet that is a way of looking or working, not a part of the drawing. */
export const setSetting = <F extends keyof SheetSettings & string>(
  session: SheetSession,
  field: F,
  value: SheetSettings[F],
  label: string,
): Promise<void> => session.act(label, [assign('sheet', session.model.settings, field, value)], { undoable: false });

/** What layers are called together. */
export const namesOf = (layers: readonly Layer[]): string =>
  layers.length === 1 ? layers[0].name : `${layers.length} layers`;

export const takeTarget = (session: SheetSession, layer: InkableLayer): Promise<void> =>
  setSetting(session, 'target', layer.id, `Ink on ${layer.name}`);

export const setVisible = (session: SheetSession, layers: readonly Layer[], visible: boolean): Promise<void> =>
  session.act(
    `${visible ? 'Show' : 'Hide'} ${namesOf(layers)}`,
    fieldChange(layers, 'visible', () => visible),
    {
      undoable: false,
    },
  );

export const setLocked = (session: SheetSession, layers: readonly Layer[], locked: boolean): Promise<void> =>
  session.act(
    `${locked ? 'Lock' : 'Unlock'} ${namesOf(layers)}`,
    fieldChange(layers, 'locked', () => locked),
    {
      undoable: false,
    },
  );

export const setLayerOpacity = (session: SheetSession, layer: Layer, opacity: number): Promise<void> =>
  session.act(`Opacity of ${layer.name}`, [assign('layers', layer, 'opacity', opacity)]);

/** Whether there is any ink on the layers that are sent. */
export const hasSentInk = (session: SheetSession): boolean =>
  session.hasInkOn(sentLayers(session.model).map((l) => l.id));

/** Whether some of it has no outlines. */
export const hasFadedInk = (session: SheetSession): boolean => hasSent(session, isFaded);

/** Whether some of it was erased softly. */
export const hasSoftErasures = (session: SheetSession): boolean => hasSent(session, ({ fades }) => fades === true);

/** Whether some of the layers that are sent, or groups around them, mix with what is below. */
export const hasBlending = ({ model }: SheetSession): boolean =>
  sentLayers(model).some((layer) =>
    [layer, ...groupsOf(layer, model.layers)].some(({ blend }) => blend && blend !== 'normal'),
  );

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
