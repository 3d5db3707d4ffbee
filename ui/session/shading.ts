import { isInkable, type ColourLayer, type InkableLayer, type Layer } from '../../core/sheet/entities';
import { layersIn, putAt, spotOf } from '../../core/sheet/layer-changes';
import { isFlat, insideOf } from '../../core/sheet/laid-parts';
import { layerTree } from '../../core/sheet/layer-tree';
import { assign } from '../../core/sheet/steps';
import { freeName, newLayer } from './inking';
import type { SheetSession } from './session';
import { takeTarget } from './stack-actions';

/**
 * What shades are laid with: multiplied, a grey that is a little cool darkens; screened, one that is a little warm
 * lightens (common practice, no source).
 */
export const SHADES = {
  shadow: { name: 'Shadow', blend: 'multiply', colour: '#9a9bb5' },
  light: { name: 'Light', blend: 'screen', colour: '#6b6250' },
} as const;
export type Shade = keyof typeof SHADES;

const isColour = (layer: Layer): layer is ColourLayer => layer.kind === 'colour' && !layer.deleted;

/** The topmost layer for shadow, or for light: kept inside the colour beneath it, and laid as such. */
export const shadeLayer = (stack: readonly Layer[], shade: Shade): ColourLayer | undefined =>
  stack.filter(isColour).findLast((layer) => layer.inside && layer.blend === SHADES[shade].blend);

/**
 * Colour lands on the layer for shadow or light from now on. Where there is none it is made over the flats, in one step:
 * shadow right above them, light above all colour.
 * @returns false: there is no colour that it could lie on.
 */
export async function takeShade(session: SheetSession, shade: Shade): Promise<boolean> {
  await session.ready;
  const { model } = session;
  const stack = model.stack();
  const known = shadeLayer(stack, shade);
  if (known) {
    if (model.settings.target !== known.id) await takeTarget(session, known);
    return true;
  }
  const flat = stack.findLast(isFlat);
  if (!flat) return false;
  const { name, blend } = SHADES[shade];
  const { parent, index } = spotOf(model, flat.id);
  const above = shade === 'light' ? layersIn(model, parent).findLastIndex(isColour) : index;
  const layer = { ...newLayer(session, 'colour'), name: freeName(name, stack), blend, inside: true };
  await session.act(`New layer ${layer.name}`, [
    ...putAt(model, [layer], { parent, index: above + 1 }),
    assign('sheet', model.settings, 'target', layer.id),
  ]);
  return true;
}

/** Whether a layer has colour beneath it that it can be kept inside of. */
export function hasColourBelow(stack: readonly Layer[], layer: InkableLayer): boolean {
  const kept = stack.map((one) => (one.id === layer.id ? { ...layer, inside: true } : one));
  return insideOf(layerTree(kept)).has(layer.id);
}

/** Keeps what lies on a layer inside the colour beneath it, or no longer. */
export const setInside = (session: SheetSession, layer: InkableLayer, isKept: boolean): Promise<void> =>
  session.act(isKept ? `Keep ${layer.name} inside` : `${layer.name} everywhere`, [
    assign('layers', layer, 'inside', isKept),
  ]);

/**
 * What is painted on the target is kept inside the colour beneath it, or no longer. Where nothing lies beneath the target it
 * is itself what is painted on: a layer above it is made, kept inside.
 */
export async function keepTargetInside(session: SheetSession, isKept: boolean): Promise<void> {
  await session.ready;
  const { model } = session;
  const layer = model.layers.get(model.settings.target ?? '');
  if (!isInkable(layer) || layer.deleted) return;
  if (!isKept || hasColourBelow(model.stack(), layer)) return setInside(session, layer, isKept);
  const { parent, index } = spotOf(model, layer.id);
  const above = { ...newLayer(session, 'colour'), inside: true };
  await session.act(`New layer ${above.name}`, [
    ...putAt(model, [above], { parent, index: index + 1 }),
    assign('sheet', model.settings, 'target', above.id),
  ]);
}
