import { InkLines } from '../core/areas/ink-lines';
import { AreaFinder, type Bounds } from '../core/fill/area-finder';
import { POUR_PEN } from '../core/fill/pour-path';
import { pourTarget } from '../core/fill/pouring';
import { unfilledShapes } from '../core/fill/unfilled';
import { IDENTITY } from '../core/geometry/matrix';
import { FIRST_LAYER, type ColourLayer, type Stroke, type Swatch } from '../core/sheet/entities';
import { finish } from '../core/sheet/ink-work';
import type { InkStore } from '../core/sheet/ink-store';
import { ordersAbove } from '../core/sheet/orders';
import type { PaperSize } from '../core/sheet/paper';
import { ENGINE } from '../core/stroke/pen';
import { PAGE } from './curves';

/** Colours, and where each is poured, in units of the demo's pages. */
export interface Flats {
  /** Beneath all ink, above the pictures. */
  layer: Pick<ColourLayer, 'id' | 'name' | 'order'>;
  against: readonly string[];
  gapPx: number;
  colours: readonly { name: string; colour: string; at: readonly (readonly [x: number, y: number])[] }[];
}

const wood = '#8d7358';
const bronze = '#b8894d';

export const BELL_FLATS: Flats = {
  layer: { id: 'bell-flats', name: 'Flats', order: 'Zzzz' },
  against: ['bell'],
  gapPx: 40,
  colours: [
    {
      name: 'Morning',
      colour: '#e6e2d2',
      at: [
        [740, 120],
        [250, 300],
      ],
    },
    { name: 'Bronze', colour: bronze, at: [[490, 350], [490, 500], [520, 262], [520, 300]] }, // prettier-ignore
    { name: 'Bright bronze', colour: '#d9b06f', at: [[500, 416], [490, 600]] }, // prettier-ignore
    { name: 'Inside the bell', colour: '#5c452b', at: [[520, 655]] },
    { name: 'Clapper', colour: '#3c4650', at: [[520, 714], [520, 680]] }, // prettier-ignore
    { name: 'Wood', colour: wood, at: [[182, 620], [182, 900], [440, 212], [182, 168], [330, 320]] }, // prettier-ignore
    { name: 'Rope', colour: '#d3c19a', at: [[528, 1022], [182, 714], [182, 734], [182, 754], ...Array.from({ length: 14 }, (_, i): [number, number] => [522 + 9 * Math.sin((i * 19.5 + 20) / 150), 757 + i * 19.5])] }, // prettier-ignore
    {
      name: 'Water',
      colour: '#a9bfc2',
      at: [
        [620, 908],
        [620, 970],
      ],
    },
    { name: 'Tern', colour: '#ffffff', at: [[780, 345], [706, 378]] }, // prettier-ignore
  ],
};

export const HERON_FLATS: Flats = {
  layer: { id: 'flats', name: 'Flats', order: 'Zzzz' },
  against: ['heron', 'jetty'],
  gapPx: 24,
  colours: [
    { name: 'Feathers', colour: '#8fa3b5', at: [[450, 560]] },
    { name: 'Sun', colour: '#f4e3b4', at: [[663, 470]] },
    { name: 'Eye', colour: '#e3b23c', at: [[340, 250]] },
  ],
};

/** Small shapes that were left out, in the colour beside them. @param colourOf of a pour. */
export function smallFlats(
  ink: InkStore,
  paper: PaperSize,
  { layer, against, gapPx }: Flats,
  colourOf: (id: string) => string,
): Poured {
  // prettier-ignore
  const finder = new AreaFinder(new InkLines());
  const found = finish(unfilledShapes(ink, finder, paper, { against, gapPx }, { colourIds: [layer.id], inkIds: against })); // prettier-ignore
  const orders = ordersAbove(['zz'], found.length);
  const strokes = found.map(({ x, y, besideId }, n) => strokeOf(`${layer.id}-small-${n}`, layer.id, orders[n], colourOf(besideId), [x, y], { against, gapPx })); // prettier-ignore
  return { strokes, parts: found.map(({ bytes }, n) => [strokes[n].id, bytes]) };
}

interface Poured {
  strokes: Stroke[];
  parts: [string, Uint8Array][];
}

const strokeOf = (
  id: string,
  layerId: string,
  order: string,
  colour: string,
  seed: [number, number],
  bounds: Bounds,
): Stroke => ({
  // prettier-ignore
  ...{ id, deleted: false, layerId, order, colour, pen: POUR_PEN, matrix: IDENTITY, engine: ENGINE },
  tied: true,
  pour: { seeds: [seed], ...bounds },
});

/** Pours the colours of a sheet between its lines. */
export function pourFlats(
  ink: InkStore,
  paper: PaperSize,
  flats: Flats,
): { layer: ColourLayer; swatches: Swatch[]; strokes: Stroke[]; parts: [string, Uint8Array][] } {
  // prettier-ignore
  const { against, gapPx, colours } = flats;
  const finder = new AreaFinder(new InkLines());
  const bounds = { against, gapPx };
  const scale = paper.widthPx / PAGE.width;
  const strokes: Stroke[] = [];
  const parts: [string, Uint8Array][] = [];
  const poured = new Set<string>();
  const orders = ordersAbove(
    [],
    colours.reduce((sum, { at }) => sum + at.length, 0),
  );
  for (const { colour, at } of colours)
    for (const [x, y] of at) {
      const target = finish(pourTarget(ink, finder, paper, bounds, undefined, [x * scale, y * scale]));
      if (!target) throw new Error(`no shape at ${x}, ${y}`);
      const { shape } = target;
      // Two places of one shape are one pour.
      const key = shape.bytes.join();
      if (poured.has(key)) continue;
      poured.add(key);
      const id = `${flats.layer.id}-${strokes.length}`;
      strokes.push(strokeOf(id, flats.layer.id, orders[strokes.length], colour, shape.seed, bounds));
      parts.push([id, shape.bytes]);
    }
  const layer: ColourLayer = { ...FIRST_LAYER, ...flats.layer, kind: 'colour' };
  const swatches = colours.map(({ name, colour }, n): Swatch => ({ id: `swatch-${n}`, name, colour }));
  return { layer, swatches, strokes, parts };
}
