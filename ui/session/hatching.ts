import { nanoid } from 'nanoid';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Stroke } from '../../core/sheet/entities';
import { ordersAbove } from '../../core/sheet/orders';
import { isTooLarge } from '../../core/sheet/step-size';
import { putRows } from '../../core/sheet/steps';
import { hatched, hatchPen } from '../../core/stroke/hatch';
import { encodePath } from '../../core/stroke/pack-path';
import type { StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Pen } from '../../core/stroke/pen';
import type { HatchDials } from '../store/colouring-slice';
import type { RootState } from '../store/store';
import { handTool } from './hand-tool';
import { landing } from './inking';
import { nothingLanded, type Pouring } from './pouring';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** What hatching is laid with. */
export interface HatchHand {
  pen: Pen;
  colour: string;
  dials: HatchDials;
}

type HandState = Pick<RootState, 'pen' | 'colouring'> & { sheet: Pick<RootState['sheet'], 'settings'> };

/** The pen of Ink with the colour of Colour. @param scale CSS px per paper px. */
export function hatchHand(
  { pen, sheet: { settings: of }, colouring }: HandState,
  ppi: number,
  scale: number,
): HatchHand | undefined {
  if (!of) return undefined;
  const { kind, sizePx, settings } = handTool(pen, of, ppi, false);
  const made = makePen(kind, sizePx, 0, false, scale, settings);
  return { pen: hatchPen(made, colouring.hatch.taper), colour: colouring.colour, dials: colouring.hatch };
}

/** Strokes between two guides; 'many': more than are laid at once. */
export function hatchOf(guides: readonly Float64Array[], { pen, dials }: HatchHand): StrokePath[] | 'many' {
  if (guides.length < 2) return [];
  try {
    return hatched(guides[0], guides[1], { ...dials, apartPx: dials.apart * pen.sizePx });
  } catch (error) {
    if (error instanceof RangeError) return 'many';
    throw error;
  }
}

const TOO_MANY = 'These would be more strokes than are laid at once. Lay them wider apart, or draw shorter guides; the guides are still there.'; // prettier-ignore

/** Hatching: two guides, between which strokes are looked at until they are kept, in one step. */
export class Hatching {
  /** Two at most, paper px. */
  readonly guides = new Watched<readonly Float64Array[]>([]);
  /** The one that is being drawn. */
  readonly drawing = new Watched<Float64Array | undefined>(undefined);
  /** The strokes between them, as they would be kept. */
  readonly strokes = new Watched<StrokePath[] | 'many'>([]);
  private places: number[] = [];
  private keeping: () => void = () => {};

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {}

  start(): void {
    this.places = [];
  }

  move(x: number, y: number): void {
    this.places.push(x, y);
    this.drawing.set(Float64Array.from(this.places));
  }

  /** The guide stands: the first, or the second. A touch is a guide, too: strokes fan out from it. */
  end(): void {
    const guide = this.drawing.now();
    this.drawing.set(undefined);
    if (guide && this.guides.now().length < 2) this.guides.set([...this.guides.now(), guide]);
  }

  /** Gives up the guide that is being drawn. */
  drop(): void {
    this.drawing.set(undefined);
  }

  /** Takes the guides away. */
  clear(): void {
    this.drop();
    this.guides.set([]);
  }

  /** @param keep keeps what is looked at, with what is in the hand. */
  keepBy(keep: () => void): void {
    this.keeping = keep;
  }

  keepNow(): void {
    this.keeping();
  }

  /** Something else is done: what two guides hold is kept. */
  leave(): void {
    if (this.guides.now().length === 2) this.keepNow();
    else this.clear();
  }

  /** Lays the strokes that are looked at onto the target, picked together later. @returns whether the guides are done with. */
  async keep(hand: HatchHand, pouring: Pouring): Promise<boolean> {
    const { session } = this;
    const guides = this.guides.now();
    const paths = hatchOf(guides, hand);
    if (paths === 'many') {
      this.warn(TOO_MANY);
      return false;
    }
    if (!paths.length) {
      this.clear();
      return true;
    }
    pouring.makeLayer();
    const { layer, obstacle } = landing(session);
    if (!layer || obstacle) {
      this.warn(nothingLanded(layer?.name, obstacle, { done: 'nothing was hatched; the guides are still there', to: 'hatch' })); // prettier-ignore
      return false;
    }
    const { strokes, parts } = hatchStrokes(session, layer.id, paths, hand);
    const changes = [putRows('strokes', ...strokes)];
    if (isTooLarge(changes, parts)) {
      this.warn(TOO_MANY);
      return false;
    }
    // Another pair may be begun at once.
    this.guides.set([]);
    await session.act(`Hatch ${strokes.length} ${strokes.length === 1 ? 'stroke' : 'strokes'}`, changes, { parts });
    return true;
  }
}

function hatchStrokes(session: SheetSession, layerId: string, paths: readonly StrokePath[], hand: HatchHand) {
  const top = session.model.strokes.topOrderOf(layerId);
  const orders = ordersAbove(top === undefined ? [] : [top], paths.length);
  const group = nanoid();
  const parts: [string, Uint8Array][] = [];
  const strokes = paths.map((path, n): Stroke => {
    const id = nanoid();
    parts.push([id, encodePath(path)]);
    return {
      ...{ id, deleted: false, layerId, order: orders[n], colour: hand.colour, pen: hand.pen },
      ...{ matrix: IDENTITY, engine: ENGINE, group },
    };
  });
  return { strokes, parts };
}
