import type { Blend } from '../../../../core/raster/compose';
import type { InkableLayer, Layer } from '../../../../core/sheet/entities';

/** What kinds of layers are called. */
export const KIND_NAMES: Record<Layer['kind'], string> = {
  reference: 'Reference',
  lifted: 'Lifted',
  rough: 'Rough',
  ink: 'Ink',
  colour: 'Colour',
  text: 'Text',
  group: 'Group',
};

export const INKABLE_CHOICES = (['rough', 'ink', 'colour'] as const).map((value: InkableLayer['kind']) => ({
  value,
  label: KIND_NAMES[value],
}));

export const BLEND_NAMES: Record<Blend, string> = { normal: 'Normal', multiply: 'Multiply', screen: 'Screen' };
