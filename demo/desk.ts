import { IDENTITY, scaling } from '../core/geometry/matrix';
import { FIRST_LAYER, type InkableLayer, type LabelWords, type Stroke, type TextLayer } from '../core/sheet/entities';
import { labelMatrix, LETTERS_ORDER, movedLabel, OUTLINE_ORDER, type LabelStroke } from '../core/sheet/labels';
import { encodeSamples } from '../core/stroke/pack-samples';
import { encodePath } from '../core/stroke/pack-path';
import type { StrokePath } from '../core/stroke/path';
import { ENGINE, makePen, type Pen, type PenKind } from '../core/stroke/pen';
import { movedPath } from '../core/stroke/pulls';
import { SampleRecorder, type Samples } from '../core/stroke/samples';
import { LETTERS_PEN, outlinePen } from '../core/text/label-pens';
import { joinedContours, laidLabel } from '../core/text/label-shape';
import type { Letters } from '../core/text/set-line';
import { generateKeyBetween } from 'fractional-indexing';
import { along, randomFrom, type Curve } from './curves';

/** Paper px per unit of the page. */
export const K = 8 / 3;
const SAMPLES_PER_SECOND = 160;

export interface DemoInk {
  layers: (InkableLayer | TextLayer)[];
  strokes: Stroke[];
  samples: Map<string, Uint8Array>;
}

/** How a stroke is pressed: where it swells, and how hard. */
export interface Touch {
  sizePx: number;
  kind?: PenKind;
  colour?: string;
  /** Pressure at 0 to 1 of the way. */
  press?: (u: number) => number;
  /** Hand speed, units of the page per second. */
  speed?: number;
  steady?: number;
  shake?: number;
}

export const swell =
  (peak: number, at = 0.5, low = 0.12) =>
  (u: number) => {
    const d = u < at ? u / at : (1 - u) / (1 - at);
    return low + (peak - low) * d * (2 - d);
  };
export const flick = (peak: number) => (u: number) => peak * (1 - u) ** 0.8 + 0.04;

/** Draws as a hand does, on layers of a demo sheet. */
export class Desk {
  readonly ink: DemoInk = { layers: [], strokes: [], samples: new Map() };
  readonly rnd;
  private order: string | null = null;
  private layerOrder: string | null = null;
  private layerId = '';

  constructor(seed = 1789) {
    this.rnd = randomFrom(seed);
  }

  layer(id: string, kind: InkableLayer['kind'], name: string, more: Partial<InkableLayer> = {}): void {
    this.layerOrder = generateKeyBetween(this.layerOrder ?? 'a0', null);
    this.layerId = id;
    this.order = null;
    this.ink.layers.push({
      id,
      kind,
      name,
      order: this.layerOrder,
      visible: true,
      locked: false,
      opacity: 1,
      deleted: false,
      ...more,
    } as InkableLayer);
  }

  line(curve: Curve, touch: Touch): void {
    const { kind = 'dip', colour = '#000000', steady = 25, sizePx } = touch;
    this.put(makePen(kind, sizePx, steady, true, 0.5), colour, encodeSamples(this.hand(curve, touch)));
  }

  /** A form, in units of the page. */
  form(path: StrokePath, pen: Pen, colour = '#000000'): void {
    this.put(pen, colour, encodePath(movedPath(path, scaling(K))));
  }

  /** A text on a layer of its own, its first line at a place in units of the page; with an outline around it. */
  label(
    { id, name }: { id: string; name: string },
    words: LabelWords,
    letters: Letters,
    { x, y, sizePx, turnDeg, colour, outline }: { x: number; y: number; sizePx: number; turnDeg: number; colour: string; outline: string }, // prettier-ignore
  ): void {
    this.layerOrder = generateKeyBetween(this.layerOrder ?? 'a0', null);
    const laid = laidLabel(letters, words);
    const label = { ...words, box: laid.box };
    const matrix = movedLabel({ label, matrix: labelMatrix(x * K, y * K, sizePx) }, { turnDeg });
    const mark = { layerId: id, matrix, engine: ENGINE, deleted: false };
    const strokes: LabelStroke[] = [
      { ...mark, id: `${id}-outline`, order: OUTLINE_ORDER, colour: outline, pen: outlinePen(0.07), label: { ...label, isOutline: true } }, // prettier-ignore
      { ...mark, id: `${id}-letters`, order: LETTERS_ORDER, colour, pen: LETTERS_PEN, label },
    ];
    this.ink.layers.push({ ...FIRST_LAYER, id, kind: 'text', name, order: this.layerOrder });
    this.ink.strokes.push(...strokes);
    for (const stroke of strokes) this.ink.samples.set(stroke.id, encodePath(joinedContours(laid.contours.flat())!));
  }

  private put(pen: Pen, colour: string, bytes: Uint8Array): void {
    const id = `${this.layerId}-${String(this.ink.strokes.length).padStart(4, '0')}`;
    this.order = generateKeyBetween(this.order, null);
    this.ink.samples.set(id, bytes);
    this.ink.strokes.push({
      id,
      layerId: this.layerId,
      order: this.order,
      colour,
      pen,
      matrix: IDENTITY,
      engine: ENGINE,
      deleted: false,
    });
  }

  /** Moves the hand along the curve: slow at the ends, with a little tremor. */
  private hand(curve: Curve, { press = swell(0.7), speed = 420, shake = 0.25 }: Touch): Samples {
    const length = lengthOf(curve);
    const seconds = 0.12 + length / speed;
    const n = Math.max(8, Math.round(seconds * SAMPLES_PER_SECOND));
    const recorder = new SampleRecorder(5);
    const phase = this.rnd() * 6;
    for (let i = 0; i <= n; i++) {
      const t = i / n;
      // Minimum jerk: Flash & Hogan (1985), J. Neuroscience 5(7).
      const u = t * t * t * (10 - 15 * t + 6 * t * t);
      const [x, y] = along(curve, 0.35 * t + 0.65 * u);
      const wobble = shake * Math.sin(phase + t * seconds * 55);
      recorder.add({
        x: (x + wobble + (this.rnd() - 0.5) * shake) * K,
        y: (y + wobble * 0.7 + (this.rnd() - 0.5) * shake) * K,
        tMs: t * seconds * 1000,
        pressure: Math.min(1, Math.max(0.02, press(t) + (this.rnd() - 0.5) * 0.03)),
        altitudeDeg: 56,
        azimuthDeg: 48,
      });
    }
    return recorder.samples();
  }
}

function lengthOf(curve: Curve): number {
  let sum = 0;
  for (let i = 1; i <= 40; i++) {
    const [a, b] = [along(curve, (i - 1) / 40), along(curve, i / 40)];
    sum += Math.hypot(b[0] - a[0], b[1] - a[1]);
  }
  return sum;
}

export const shifted = (curve: Curve, dx: number, dy: number): Curve =>
  curve.map(([x, y]) => [x + dx, y + dy] as const);
