import { drawStroke, RasterWorkspace, spineBox, type DrawableStroke } from '../core/raster/draw-stroke';
import { makePixels } from '../core/raster/pixels';
import { makePen, PEN_KINDS, settingsOf, type Pen } from '../core/stroke/pen';
import { spineOf } from '../core/stroke/spine-maker';
import { handPoints, handSamples } from '../tests/measures/strokes';
import { WetStroke } from '../ui/canvas/wet-stroke';
import { alternate, figure, type Figure } from './report';

const SIDE = 800;
const ALL = { x0: 0, y0: 0, x1: SIDE, y1: SIDE };
const SAMPLES_A_FRAME = 4;

/** A hand's loops at 240 Hz and 2 device px a CSS px. */
const hand = handSamples((u) => [400 + 300 * Math.cos(u * 12), 400 + 300 * Math.sin(u * 9)], {
  ms: 4000,
  tremorPx: 0.4,
});
/** The same, lying down now and then: a pencil is up to four times as wide. */
const lying = { ...hand, altitude: hand.altitude.map((_, i) => 40 + Math.round(30 * Math.sin(i / 90))) };
for (let i = 0; i < hand.count; i++) hand.altitude[i] = 70;

const pens: Pen[] = PEN_KINDS.map((kind) =>
  makePen(kind, 16, 35, true, 0.5, { ...settingsOf(kind), turns: kind === 'marker' }),
);

/** The main thread's work for a wet stroke, frame by frame: new cones, tail, and the pixels that changed. */
function inkWith(pen: Pen, samples = hand): void {
  const stroke = new WetStroke(pen, [0, 0, 0], 0, 1);
  let n = 0;
  for (const point of handPoints(samples)) {
    stroke.add(point);
    if (++n % SAMPLES_A_FRAME) continue;
    const { x0, y0, x1, y1 } = stroke.frame(ALL);
    if (x1 > x0) stroke.paint({ x0, y0, x1, y1 }, new Uint8ClampedArray(4 * (x1 - x0) * (y1 - y0)));
  }
}

/** What each pen costs over the fineliner, as it is drawn and in tiles. */
export function pensCost(): Figure[] {
  const pencil = pens[PEN_KINDS.indexOf('pencil')];
  const [flat, ...wet] = alternate(9, () => inkWith(pencil, lying), ...pens.map((pen) => () => inkWith(pen)));
  const strokes: DrawableStroke[] = pens.map((pen) => {
    const spine = spineOf(hand, pen, 0.1);
    return { spine, box: spineBox(spine), colour: [0, 0, 0], opacity: pen.opacity, holes: [] };
  });
  const pixels = makePixels(0, 0, SIDE, SIDE);
  const work = new RasterWorkspace(SIDE, SIDE);
  const set = alternate(9, ...strokes.map((stroke) => () => drawStroke(pixels, stroke, 1, work)));
  const lyingDown = figure(
    'pens: pencil lying down, wet',
    (flat / hand.count) * 1000,
    'us/sample',
    flat / wet[0],
    'the fineliner',
  );
  const each = PEN_KINDS.flatMap((kind, i) => {
    const limit = kind === 'pencil' || kind === 'wash' ? 'the fineliner; at most 3' : 'the fineliner';
    return [
      figure(`pens: ${kind}, wet`, (wet[i] / hand.count) * 1000, 'us/sample', wet[i] / wet[0], limit),
      figure(`pens: ${kind}, in tiles`, set[i], 'ms/stroke', set[i] / set[0], 'the fineliner'),
    ];
  });
  return [...each, lyingDown];
}
