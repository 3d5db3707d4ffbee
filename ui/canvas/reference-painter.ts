import { compose, IDENTITY, lengthScale, scaling, type Matrix } from '../../core/geometry/matrix';
import { asCropped } from '../../core/picture/recipe-steps';
import { placementMatrix } from '../../core/sheet/placement';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { ReferenceRun } from './layer-runs';
import type { PictureStore } from './picture-store';
import { setMatrix } from './set-matrix';

/** A picture is compared with how it came, which shows to the left of `x`, CSS px of the screen. */
export interface Divider {
  layerId: string;
  x: number;
}

/** The same for a canvas: what lies within these corners, device px, shows how the picture came. */
export interface DividerOnDevice {
  layerId: string;
  before: readonly (readonly [x: number, y: number])[];
}

/** A picture as it is to be painted; `within`: only there, or everywhere but there. */
interface Laid {
  matrix: Matrix;
  opacity: number;
  veil: number;
  found: ReturnType<PictureStore['get']>;
  within?: { corners: DividerOnDevice['before']; isBefore: boolean };
}

/**
 * Paints a run of references.
 * @param toDevice from paper px to those of the canvas. @param look what the canvas shows.
 * @returns what it shows now; empty: not yet all of it.
 */
export function paintReferences(
  canvas: HTMLCanvasElement,
  run: ReferenceRun,
  pictures: PictureStore,
  toDevice: Matrix,
  divider: DividerOnDevice | undefined,
  look: string,
): string {
  const laid = run.layers.flatMap(({ layer, opacity, veil }): Laid[] => {
    const matrix = compose(toDevice, placementMatrix(layer.placement, shownSize(layer)));
    const laidAs = (shown: typeof layer): Laid => ({
      ...{ matrix, opacity, veil },
      found: pictures.get(shown, lengthScale(matrix)),
    });
    if (divider?.layerId !== layer.id) return [laidAs(layer)];
    const cameAs = { ...layer, id: `${layer.id}:came`, recipe: asCropped(layer.recipe) };
    const corners = divider.before;
    return [
      { ...laidAs(cameAs), within: { corners, isBefore: true } },
      { ...laidAs(layer), within: { corners, isBefore: false } },
    ];
  });
  // A finer copy that has come since looks otherwise.
  const next = JSON.stringify([
    toDevice,
    run.layers.map(({ layer: { placement, picture, recipe }, opacity, veil }) => [
      ...[placement, picture, recipe, opacity, veil],
    ]),
    laid.map(({ found }) => found?.perPicturePx),
    divider,
  ]);
  if (look === next) return look;
  const isWhole = laid.every(({ found }) => found);
  // What is painted of this view stays until what takes its place is there.
  if (!isWhole && look) return look;
  const ctx = canvas.getContext('2d')!;
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.clearRect(0, 0, canvas.width, canvas.height);
  for (const one of laid) paint(ctx, one);
  return isWhole ? next : '';
}

function paint(ctx: CanvasRenderingContext2D, { matrix, opacity, veil, found, within }: Laid): void {
  if (!found) return;
  const onDevice = compose(matrix, scaling(1 / found.perPicturePx));
  ctx.save();
  if (within) {
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.beginPath();
    within.corners.forEach(([x, y]) => ctx.lineTo(x, y));
    ctx.closePath();
    if (!within.isBefore) ctx.rect(0, 0, ctx.canvas.width, ctx.canvas.height);
    ctx.clip('evenodd');
  }
  if (veil > 0) drawVeiled(ctx, found.bitmap, onDevice, { opacity, veil });
  else drawAt(ctx, found.bitmap, onDevice, opacity);
  ctx.restore();
}

function drawAt(ctx: CanvasRenderingContext2D, bitmap: CanvasImageSource, matrix: Matrix, opacity: number): void {
  setMatrix(ctx, matrix);
  ctx.globalAlpha = opacity;
  // Pictures come within a half of what is shown; what mixes more than neighbours blocks the page for longer than a frame.
  ctx.imageSmoothingQuality = 'low';
  ctx.drawImage(bitmap, 0, 0);
  ctx.globalAlpha = 1;
}

/** A picture under a wash of white, which lies on the picture alone: where it is clear, it stays so. */
function drawVeiled(
  ctx: CanvasRenderingContext2D,
  bitmap: CanvasImageSource,
  matrix: Matrix,
  { opacity, veil }: { opacity: number; veil: number },
): void {
  const { width, height } = ctx.canvas;
  const aside = document.createElement('canvas');
  Object.assign(aside, { width, height });
  const own = aside.getContext('2d')!;
  drawAt(own, bitmap, matrix, 1);
  own.setTransform(1, 0, 0, 1, 0, 0);
  own.globalCompositeOperation = 'source-atop';
  own.globalAlpha = veil;
  own.fillStyle = '#ffffff';
  own.fillRect(0, 0, width, height);
  drawAt(ctx, aside, IDENTITY, opacity);
  // Some devices keep a canvas until its size is nothing.
  aside.width = aside.height = 0;
}
