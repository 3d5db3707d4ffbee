import { isFaded, type Pen } from '../../core/stroke/pen';
import { sentLayers } from '../../core/sheet/sent-layers';
import {
  type Guides,
  type InkableLayer,
  type Layer,
  type Placement,
  type PictureLayer,
  type ReferenceLayer,
  type SheetSettings,
  type Swatch,
} from '../../core/sheet/entities';
import { movedStrokes } from '../../core/sheet/moved-strokes';
import { insideOf } from '../../core/sheet/laid-parts';
import { groupsOf } from '../../core/sheet/layer-tree';
import { fieldChange } from '../../core/sheet/layer-changes';
import type { Recipe } from '../../core/picture/recipe';
import { keptPlacement, shownSize } from '../../core/sheet/recipe-placement';
import { placementMove } from '../../core/sheet/placement';
import { assign, type Change } from '../../core/sheet/steps';
import type { SheetSession } from './session';

/** Sets a field of the sheet that is a way of looking or working, not a part of the drawing. */
export const setSetting = <F extends keyof SheetSettings & string>(
  session: SheetSession,
  field: F,
  value: SheetSettings[F],
  label: string,
): Promise<void> => session.act(label, [assign('sheet', session.model.settings, field, value)], { undoable: false });

/** Lines over the picture; null: none. */
export const setGuides = (session: SheetSession, guides: Guides | null): Promise<void> =>
  session.act(guides ? 'Guides' : 'No guides', [assign('sheet', session.model.settings, 'guides', guides)]);

/** Keeps more colours with the sheet, after those that are. */
export const addSwatches = (session: SheetSession, fresh: readonly Swatch[]): Promise<void> => {
  const { settings } = session.model;
  const all = [...(settings.swatches ?? []), ...fresh];
  return session.act(fresh.length === 1 ? 'A swatch' : `${fresh.length} swatches`, [
    assign('sheet', settings, 'swatches', all),
  ]);
};

/** The sheet's swatches, as they are from now on. */
export const setSwatches = (session: SheetSession, swatches: readonly Swatch[], label: string): Promise<void> =>
  session.act(label, [assign('sheet', session.model.settings, 'swatches', [...swatches])]);

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

/** A white wash over one picture, 0 to 1. */
export const setPictureVeil = (session: SheetSession, layer: ReferenceLayer, veil: number): Promise<void> =>
  session.act(`Veil over ${layer.name}`, [assign('layers', layer, 'veil', veil)]);

/** Changes what was done to a picture; what is kept of it stays where it lies on the paper. */
export const setRecipe = (session: SheetSession, layer: PictureLayer, recipe: Recipe, label: string): Promise<void> =>
  session.act(label, [
    assign('layers', layer, 'recipe', recipe),
    assign('layers', layer, 'placement', keptPlacement(layer.placement, layer.picture, layer.recipe, recipe)),
  ]);

/** Lays a picture beside the paper, to be looked at, or back under the ink. */
export const setBeside = (session: SheetSession, layer: ReferenceLayer, beside: boolean): Promise<void> =>
  session.act(`Lay ${layer.name} ${beside ? 'beside the paper' : 'under the ink'}`, [
    assign('layers', layer, 'beside', beside),
  ]);

export const setLayerOpacity = (session: SheetSession, layer: Layer, opacity: number): Promise<void> =>
  session.act(`Opacity of ${layer.name}`, [assign('layers', layer, 'opacity', opacity)]);

/** Whether there is any ink, or a picture, on the layers that are sent. */
export const hasSentInk = (session: SheetSession): boolean =>
  sentLayers(session.model).some(({ kind }) => kind === 'lifted') ||
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

/** Whether some of the layers that are sent show only where colour lies beneath them. */
export function hasKeptInside({ model }: SheetSession): boolean {
  const kept = insideOf(model.tree());
  return sentLayers(model).some(({ id }) => kept.has(id));
}

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
  before: PictureLayer,
  placement: Placement,
  withInk: boolean,
): Promise<void> {
  const changes: Change[] = [assign('layers', before, 'placement', placement)];
  if (withInk) {
    await session.ready;
    const moved = placementMove(before.placement, placement, shownSize(before));
    const standing = [...session.model.strokes.values()].filter((s) => !s.deleted);
    changes.push(...movedStrokes(standing, moved));
  }
  return session.act('Move picture', changes);
}
