import { nanoid } from 'nanoid';
import type { Point } from '../../core/geometry/homography';
import { IDENTITY, lengthScale } from '../../core/geometry/matrix';
import type { Recipe } from '../../core/picture/recipe';
import { activeSteps } from '../../core/picture/recipe';
import { putAt, spotOf } from '../../core/sheet/layer-changes';
import type { PictureLayer, Stroke } from '../../core/sheet/entities';
import { ordersAbove } from '../../core/sheet/orders';
import { placementMatrix } from '../../core/sheet/placement';
import { shownSize } from '../../core/sheet/recipe-placement';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import { encodePath } from '../../core/stroke/pack-path';
import { MOST_NODES, type StrokePath } from '../../core/stroke/path';
import { ENGINE, makePen, type Fill } from '../../core/stroke/pen';
import { movedPath } from '../../core/stroke/pulls';
import type { TracedPage } from '../../core/trace/traced-page';
import type { PictureTask } from '../../workers/picture-client';
import type { TraceWish } from '../../workers/picture-protocol';
import { freeName, newLayer } from './inking';
import { lineCount } from './pickable';
import type { SheetSession, WayBack } from './session';
import { Watched } from './watched';

/** What the artist wants of a trace, px of the page. */
export interface TraceDials {
  nearPx: number;
  specksPx: number;
  gapPx: number;
  /** Whether solid patches are kept, as filled shapes; else they are dropped. */
  fillsPatches: boolean;
  /** Only what lies within; undefined: all of the page. */
  loop?: readonly Point[];
}

/** A trace as it is looked at: of which layer, made from what. */
export interface TraceLook {
  layerId: string;
  page: TracedPage;
}

const TOLD_AFTER_MS = 300;

/** Turning a lifted page into strokes: looked at over the page, and nothing enters the sheet before it is kept. */
export class Tracing {
  readonly dials = new Watched<TraceDials | undefined>(undefined);
  readonly look = new Watched<TraceLook | undefined>(undefined);
  /** Something is being traced: what is looked at is older than the dials. */
  readonly busy = new Watched(false);
  /** The part of the work that is done, where it takes long enough to be told. */
  readonly progress = new Watched<number | undefined>(undefined);
  /** The next drag over the paper is a loop around what is meant. */
  readonly looping = new Watched(false);
  private task: PictureTask<TracedPage> | undefined;
  private of: { layerId: string; recipe: string } | undefined;

  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string, wayBack?: WayBack) => void,
    private readonly warn: (text: string) => void,
  ) {}

  /** Traces a page by the dials as they stand, or as they come. */
  begin(layer: PictureLayer): void {
    const recipe = JSON.stringify(activeSteps(layer.recipe));
    if (this.of?.layerId !== layer.id) {
      this.dials.set(firstDials(layer));
      this.look.set(undefined);
    } else if (this.of.recipe === recipe && this.look.now()) return;
    this.of = { layerId: layer.id, recipe };
    void this.run(layer);
  }

  /** Changes a dial, and traces anew; only simplified anew it is quick. */
  turn(layer: PictureLayer, change: Partial<TraceDials>): void {
    const dials = this.dials.now();
    if (!dials) return;
    const next = { ...dials, ...change };
    this.dials.set(next);
    if (wishKey(next) !== wishKey(dials)) void this.run(layer);
  }

  stop(): void {
    this.task?.stop();
    this.settled();
  }

  /** Ends it: nothing is kept. */
  drop(): void {
    this.stop();
    this.looping.set(false);
    this.look.set(undefined);
    this.of = undefined;
  }

  private async run(layer: PictureLayer): Promise<void> {
    const { stage } = this.session;
    const dials = this.dials.now();
    if (!stage || !dials) return;
    this.task?.stop();
    this.busy.set(true);
    const began = performance.now();
    const wish: TraceWish = { nearPx: dials.nearPx, specksPx: dials.specksPx, gapPx: dials.gapPx, loop: dials.loop };
    const made = { picture: layer.picture, recipe: activeSteps(layer.recipe) as Recipe };
    const task = stage.pictureWork.trace(made, wish, (part) => {
      // A dial is answered sooner than a card could be read.
      if (this.task === task && performance.now() - began > TOLD_AFTER_MS) this.progress.set(part);
    });
    this.task = task;
    try {
      const page = await task.result;
      if (this.task !== task) return;
      if (page) this.look.set({ layerId: layer.id, page });
    } catch {
      if (this.task === task)
        this.warn('This page could not be traced. It is as it was, and so is the sheet; try again.');
    }
    if (this.task === task) this.settled();
  }

  private settled(): void {
    this.task = undefined;
    this.busy.set(false);
    this.progress.set(undefined);
  }

  /** Puts the lines that are looked at on a layer of their own, right above the page: one step. */
  async keep(layer: PictureLayer): Promise<boolean> {
    const look = this.look.now();
    const dials = this.dials.now();
    if (!look || !dials || look.layerId !== layer.id || this.busy.now()) return false;
    const { model } = this.session;
    const ink = { ...newLayer(this.session, 'ink'), name: freeName(`${layer.name} traced`, model.stack()) };
    const { strokes, parts } = tracedStrokes(layer, look.page, dials.fillsPatches, ink.id);
    if (!strokes.length) return false;
    const spot = spotOf(model, layer.id);
    const changes: Change[] = [
      ...putAt(model, [ink], { ...spot, index: spot.index + 1 }),
      putRows('strokes', ...strokes),
      assign('sheet', model.settings, 'target', ink.id),
    ];
    if (isTooLarge(changes, parts)) {
      this.warn(
        'These are too many lines for one step. Trace a part of the page, or drop larger specks; nothing was kept.',
      );
      return false;
    }
    const count = lineCount(strokes.length);
    await this.session.act(`Keep ${count} traced`, changes, { parts });
    this.say(`${count} on ${ink.name} now. On Ink they are picked, bent and restyled like drawn ones.`);
    this.drop();
    return true;
  }
}

const wishKey = ({ fillsPatches: _, ...wish }: TraceDials): string => JSON.stringify(wish);

/** Dials mean px of a page of 2,000 px, on which a pencil's line is some 4 px wide: so much larger a page is. */
export function traceUnit(layer: PictureLayer): number {
  const { width, height } = shownSize(layer);
  return Math.max(width, height) / 2000;
}

/** The dials as they come, by the page's size. */
export function firstDials(layer: PictureLayer): TraceDials {
  const unit = traceUnit(layer);
  const rounded = (v: number) => Math.max(0.5, Math.round(2 * v * unit) / 2);
  return { nearPx: rounded(1), specksPx: rounded(6), gapPx: rounded(10), fillsPatches: true };
}

/** Lines and patches as strokes on the paper. @returns with their packed paths. */
export function tracedStrokes(
  layer: Pick<PictureLayer, 'picture' | 'placement' | 'recipe'>,
  page: Pick<TracedPage, 'strokes' | 'patches'>,
  fillsPatches: boolean,
  layerId: string,
): { strokes: Stroke[]; parts: [string, Uint8Array][] } {
  const onPaper = placementMatrix(layer.placement, shownSize(layer));
  const scale = lengthScale(onPaper);
  const all: { path: StrokePath; sizePx: number; fill?: Fill }[] = [
    ...(fillsPatches
      ? page.patches.filter(isKeepable).map((path) => ({ path, sizePx: 1, fill: 'alone' as const }))
      : []),
    ...page.strokes.flatMap(({ path, sizePx }) => inPieces(path).map((piece) => ({ path: piece, sizePx }))),
  ];
  const orders = ordersAbove([], all.length);
  const parts: [string, Uint8Array][] = [];
  const strokes = all.map(({ path, sizePx, fill }, i): Stroke => {
    const id = nanoid();
    parts.push([id, encodePath(movedPath(path, onPaper))]);
    const pen = makePen('fineliner', Math.max(LEAST_SIZE_PX, sizePx * scale), 0, false, 1);
    return {
      ...{ id, layerId, order: orders[i], colour: '#000000', matrix: IDENTITY, engine: ENGINE, deleted: false },
      pen: fill ? { ...pen, fill } : pen,
    };
  });
  return { strokes, parts };
}

const LEAST_SIZE_PX = 0.05;

/** Whether a shape has few enough nodes to be kept; one with more is no patch of a drawing. */
const isKeepable = ({ nodes }: StrokePath): boolean => nodes.length <= MOST_NODES;

/** A path in as many as it takes: each of no more nodes than can be kept, the next beginning where one ends. */
function inPieces(path: StrokePath): StrokePath[] {
  if (isKeepable(path)) return [path];
  const nodes = path.closed ? [...path.nodes, path.nodes[0]] : path.nodes;
  const pieces: StrokePath[] = [];
  for (let from = 0; from + 1 < nodes.length; from += MOST_NODES - 1)
    pieces.push({ closed: false, nodes: nodes.slice(from, from + MOST_NODES) });
  return pieces;
}
