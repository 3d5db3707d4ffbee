import { nanoid } from 'nanoid';
import { withinTurn } from '../../core/geometry/degrees';
import { apply, invert } from '../../core/geometry/matrix';
import type { Point, Quad } from '../../core/geometry/homography';
import type { Size } from '../../core/geometry/view';
import {
  frameCorners,
  frameOf,
  heldFrame,
  isInside,
  largestFrame,
  levelling,
  pageSize,
  shapeOfPage,
  type CropFrame,
} from '../../core/picture/crop';
import { cornersIn, partsOf, resultSize, type CropStep, type Recipe } from '../../core/picture/recipe';
import { keptPlacement } from '../../core/sheet/recipe-placement';
import { stepOf } from '../../core/picture/recipe-steps';
import { isPicture, type PictureLayer, type Placement } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { assign } from '../../core/sheet/steps';
import type { SheetSession } from './session';
import type { ShownSheet } from './sheet-drafts';
import { Watched } from './watched';

/** Shapes that a crop can keep; `free`: any. */
export const CROP_SHAPES = ['free', 'paper', '1:1', '4:3', '3:2', '16:9'] as const;
export type CropShape = (typeof CROP_SHAPES)[number];

/** Shapes of pages; `seen`: as the camera saw it, in perspective. */
export const PAGE_SHAPES = ['seen', 'A', 'A lying', 'paper'] as const;
export type PageShape = (typeof PAGE_SHAPES)[number];

/** A crop as it is being made. */
export interface CropDraft {
  layer: PictureLayer;
  /** The size of what is cropped, px of the original's size. */
  input: Size;
  /** Where that lies on the paper meanwhile. */
  laid: Placement;
  mode: 'frame' | 'page';
  frame: CropFrame;
  shape: CropShape;
  /** The four corners of a page, px of the input. */
  corners: Quad;
  pageShape: PageShape;
}

/** What a crop changes of a recipe: the steps before it stay, and those after it. */
interface Spot {
  before: Recipe;
  known?: CropStep;
  after: Recipe;
}

function spotOf({ recipe }: PictureLayer): Spot {
  const steps = recipe ?? [];
  const known = stepOf(steps, 'crop');
  if (!known) return { before: [], after: steps };
  const at = steps.indexOf(known);
  return { before: steps.slice(0, at), known, after: steps.slice(at + 1) };
}

/** Cropping, straightening and squaring up the picture that is worked on: shown at once, one step when it is kept. */
export class Cropping {
  readonly draft = new Watched<CropDraft | undefined>(undefined);
  /** A line is being drawn along something level or upright. */
  readonly levels = new Watched(false);

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
  ) {
    session.drafts.set('crop', (sheet) => this.shown(sheet));
  }

  /** Takes up the picture's last crop, or begins one that holds all of it. */
  begin(layer: PictureLayer): void {
    const { before, known } = spotOf(layer);
    const input = resultSize(layer.picture, before);
    const all: CropFrame = { cx: input.width / 2, cy: input.height / 2, ...input, turnDeg: 0 };
    const corners = known
      ? cornersIn(known.corners, input)
      : frameCorners({ ...all, width: 0.8 * input.width, height: 0.8 * input.height });
    const frame = (known && frameOf(corners)) ?? all;
    const kept = keptPlacement(layer.placement, layer.picture, layer.recipe, before);
    const turnDeg = seenTurn(layer.placement, frame.turnDeg);
    const laid = turnedAbout(kept, input, [frame.cx, frame.cy], turnDeg);
    const mode = known && !frameOf(corners) ? 'page' : 'frame';
    this.set({ layer, input, laid, mode, frame, shape: 'free', corners, pageShape: 'seen' });
  }

  /** Ends without a change. */
  drop(): void {
    if (!this.draft.now()) return;
    this.draft.set(undefined);
    this.levels.set(false);
    this.session.drafts.refresh();
  }

  setMode(mode: CropDraft['mode']): void {
    const draft = this.draft.now();
    if (!draft || draft.mode === mode) return;
    // A page is looked for and marked on the picture as it is; a frame turns it.
    const turnDeg = seenTurn(draft.layer.placement, mode === 'frame' ? draft.frame.turnDeg : 0);
    const middle: Point = [draft.input.width / 2, draft.input.height / 2];
    this.set({ ...draft, mode, laid: turnedAbout(draft.laid, draft.input, middle, turnDeg) });
  }

  /** Sets the frame where it holds nothing beyond the picture; otherwise it stays. */
  setFrame(frame: CropFrame): void {
    const draft = this.draft.now();
    if (draft && isInside(frame, draft.input)) this.set({ ...draft, frame });
  }

  setShape(shape: CropShape): void {
    const draft = this.draft.now();
    if (!draft) return;
    const ratio = this.ratioOf(shape);
    const { cx, cy, turnDeg } = draft.frame;
    const frame = ratio === undefined ? draft.frame : largestFrame(draft.input, ratio, turnDeg, [cx, cy]);
    this.set({ ...draft, shape, frame });
  }

  /** Width over height that the frame keeps; undefined: any. */
  ratioOf(shape: CropShape): number | undefined {
    const { widthPx, heightPx } = this.session.paper;
    if (shape === 'free') return undefined;
    if (shape === 'paper') return widthPx / heightPx;
    const [w, h] = shape.split(':').map(Number);
    const input = this.draft.now()?.input;
    // Upright pictures are cropped upright.
    return input && input.height > input.width ? h / w : w / h;
  }

  /** Turns the picture under the frame; the frame is made smaller where it would hold what is not there. */
  setTurn(turnDeg: number): void {
    const draft = this.draft.now();
    if (!draft) return;
    const { frame, input, layer, laid } = draft;
    const turned = heldFrame({ ...frame, turnDeg }, input);
    const seen = seenTurn(layer.placement, turnDeg);
    this.set({ ...draft, frame: turned, laid: turnedAbout(laid, input, [frame.cx, frame.cy], seen) });
  }

  /** Turns the picture so that a line drawn along it (paper px) is level or upright. */
  levelAlong(from: Point, to: Point): void {
    this.levels.set(false);
    const draft = this.draft.now();
    if (!draft) return;
    const toInput = invert(placementMatrix(draft.laid, draft.input));
    const [a, b] = [apply(toInput, ...from), apply(toInput, ...to)];
    if (Math.hypot(b[0] - a[0], b[1] - a[1]) < 4) return;
    this.setTurn(levelling(a, b));
  }

  /** What of the picture lies on the paper. */
  takePaper(): void {
    const draft = this.draft.now();
    if (!draft) return;
    const { widthPx, heightPx } = this.session.paper;
    const toInput = invert(placementMatrix(draft.laid, draft.input));
    const [p, q, r, s] = ([[0, 0], [widthPx, 0], [widthPx, heightPx], [0, heightPx]] as const).map(([x, y]) => apply(toInput, x, y)); // prettier-ignore
    const frame = frameOf(draft.laid.mirrored ? [q, p, s, r] : [p, q, r, s]);
    if (!frame) return;
    if (isInside(frame, draft.input)) this.set({ ...draft, shape: 'free', frame });
    else this.cutToPicture(draft, frame);
  }

  /** A level frame is cut where the picture ends; a turned one is made smaller. */
  private cutToPicture(draft: CropDraft, frame: CropFrame): void {
    const { input } = draft;
    if (Math.abs(frame.turnDeg) > 0.01) return this.set({ ...draft, frame: heldFrame(frame, input) });
    const x0 = Math.max(0, frame.cx - frame.width / 2);
    const x1 = Math.min(input.width, frame.cx + frame.width / 2);
    const y0 = Math.max(0, frame.cy - frame.height / 2);
    const y1 = Math.min(input.height, frame.cy + frame.height / 2);
    if (x1 - x0 < 8 || y1 - y0 < 8) return this.warn('Nothing of this picture lies on the paper.');
    const cut = { cx: (x0 + x1) / 2, cy: (y0 + y1) / 2, width: x1 - x0, height: y1 - y0, turnDeg: 0 };
    this.set({ ...draft, shape: 'free', frame: cut });
  }

  setCorner(index: number, at: Point): void {
    const draft = this.draft.now();
    if (!draft) return;
    const [w, h] = [draft.input.width, draft.input.height];
    const held: Point = [Math.min(w, Math.max(0, at[0])), Math.min(h, Math.max(0, at[1]))];
    const corners = draft.corners.map((p, i) => (i === index ? held : p)) as unknown as Quad;
    if (goesAround(corners, Math.min(w, h))) this.set({ ...draft, corners });
  }

  setPageShape(pageShape: PageShape): void {
    const draft = this.draft.now();
    if (draft) this.set({ ...draft, pageShape });
  }

  /** Looks for the page in the picture, and takes its corners. */
  async propose(): Promise<void> {
    const { stage } = this.session;
    const draft = this.draft.now();
    if (!draft || !stage) return;
    const made = { picture: draft.layer.picture, recipe: spotOf(draft.layer).before };
    const answer = await stage.pictureWork.page(made).result.catch(() => null);
    const now = this.draft.now();
    if (!now || now.layer !== draft.layer || answer === undefined) return;
    if (answer === null)
      return this.warn('The picture could not be read to look for its page. Drag the corners instead.');
    if (!answer.found) return this.warn('No page stands out in this picture. Drag the four corners to it.');
    this.set({ ...now, corners: cornersIn(answer.found, now.input) });
  }

  /** Keeps the crop: one step. */
  async keep(): Promise<void> {
    const draft = this.draft.now();
    if (!draft) return;
    const { layer, input, laid } = draft;
    const { before, known, after } = spotOf(layer);
    const step: CropStep = { id: known?.id ?? nanoid(), kind: 'crop', on: true, ...this.cropOf(draft) };
    const recipe = [...before, step, ...after];
    const kept = keptPlacement(laid, input, [], [step]);
    await this.change(
      layer,
      recipe,
      { ...kept, turnDeg: draft.mode === 'page' ? layer.placement.turnDeg : turnOf(draft) },
      draft.mode === 'page' ? 'Square up page' : 'Crop',
    );
  }

  private cropOf({
    mode,
    frame,
    corners,
    input,
    pageShape,
  }: CropDraft): Pick<CropStep, 'corners' | 'width' | 'height'> {
    if (mode === 'frame') {
      const width = Math.max(1, Math.round(frame.width));
      const height = Math.max(1, Math.round(frame.height));
      return { corners: partsOf(frameCorners(frame), input), width, height };
    }
    const { widthPx, heightPx } = this.session.paper;
    // A sheet of paper of any A size is the root of two as high as wide (ISO 216).
    const ratios = {
      seen: shapeOfPage(corners, input),
      A: Math.SQRT1_2,
      'A lying': Math.SQRT2,
      paper: widthPx / heightPx,
    };
    return { corners: partsOf(corners, input), ...pageSize(corners, ratios[pageShape]) };
  }

  /** Takes the picture's crop away: all of it is there again. */
  async undoCrop(): Promise<void> {
    const draft = this.draft.now();
    const spot = draft && spotOf(draft.layer);
    if (!draft || !spot?.known) return this.drop();
    const recipe = [...spot.before, ...spot.after];
    const { layer } = draft;
    await this.change(
      layer,
      recipe,
      keptPlacement(layer.placement, layer.picture, layer.recipe, recipe),
      'Take the crop away',
    );
  }

  private async change(layer: PictureLayer, recipe: Recipe, placement: Placement, label: string): Promise<void> {
    this.draft.set(undefined);
    this.levels.set(false);
    const now = this.session.model.layers.get(layer.id);
    if (!isPicture(now) || now.deleted) return this.warn('This picture is gone. Nothing was changed.');
    await this.session.act(label, [
      assign('layers', now, 'recipe', recipe),
      assign('layers', now, 'placement', { ...placement, turnDeg: withinTurn(placement.turnDeg) }),
    ]);
  }

  private set(draft: CropDraft): void {
    this.draft.set(draft);
    this.session.drafts.refresh();
  }

  /** The whole of what is cropped; another picture would lie over it. */
  private shown({ stack, settings }: ShownSheet): ShownSheet {
    const draft = this.draft.now();
    if (!draft) return { stack, settings };
    const { id } = draft.layer;
    const [recipe, placement] = [spotOf(draft.layer).before, draft.laid];
    const shown = stack.map((l) =>
      l.id === id ? ({ ...l, recipe, placement } as PictureLayer) : isPicture(l) ? { ...l, visible: false } : l,
    );
    return { stack: shown, settings };
  }
}

/** How the input is turned on the paper while its frame stands as the picture does. */
const seenTurn = ({ turnDeg, mirrored }: Placement, frameDeg: number): number =>
  withinTurn(turnDeg + (mirrored ? frameDeg : -frameDeg));

/** How the frame stands on the paper. */
const turnOf = ({ laid, frame }: CropDraft): number => laid.turnDeg + (laid.mirrored ? -frame.turnDeg : frame.turnDeg);

/** Turned otherwise, a place of the picture (its px) where it was on the paper. */
function turnedAbout(placement: Placement, size: Size, at: Point, turnDeg: number): Placement {
  const [x, y] = apply(placementMatrix(placement, size), ...at);
  const turned = { ...placement, turnDeg };
  const [tx, ty] = apply(placementMatrix(turned, size), ...at);
  return { ...turned, cx: turned.cx + x - tx, cy: turned.cy + y - ty };
}

/** Whether corners hold a page: no dent, and none too near another side. */
function goesAround(corners: Quad, side: number): boolean {
  return corners.every((p, n) => {
    const [q, r] = [corners[(n + 1) % 4], corners[(n + 2) % 4]];
    const cross = (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]);
    return cross > 0.0004 * side * side;
  });
}
