import { useEffect, useMemo, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { apply, compose, invert, lengthScale, scaling, type Matrix } from '../../../../../core/geometry/matrix';
import { viewMatrix, type Size } from '../../../../../core/geometry/view';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { placementMatrix } from '../../../../../core/sheet/placement';
import { shownSize } from '../../../../../core/sheet/recipe-placement';
import { LoopLayer } from '../../../../components/way-layer';
import { useOpenSheet } from '../../../../session/session-context';
import type { TraceDials, TraceLook } from '../../../../session/tracing';
import { useWatched } from '../../../../session/watched';
import { usePicture } from './use-pictures';
import { useTracing } from './use-tracing';
import { setMatrix } from '../../../../canvas/set-matrix';

/** On paper: loud enough to be told from pencil, whatever the theme. */
const LINE_COLOUR = '#c2185b';
const NODE_COLOUR = '#17605c';
const SPECK_COLOUR = '#a03b22';
/** Points and rings are shown where each has so much of the page for itself, CSS px squared. */
const ROOM_PX = 420;
const NODE_CSS_PX = 2.5;

/** The traced lines over their page, with their points, what is dropped, and a loop while it is drawn. */
export function TraceOverPaper() {
  const picture = usePicture();
  const tracing = useTracing();
  const look = useWatched(tracing.look);
  const dials = useWatched(tracing.dials);
  const looping = useWatched(tracing.looping);
  if (!picture) return null;
  return (
    <>
      {look?.layerId === picture.id && dials && <Preview picture={picture} look={look} dials={dials} />}
      {looping && <PageLoop picture={picture} />}
    </>
  );
}

function Preview({ picture, look, dials }: { picture: PictureLayer; look: TraceLook; dials: TraceDials }) {
  const { stage } = useOpenSheet().session;
  const host = useRef<View>(null);
  const shapes = useMemo(
    () => ({ lines: new Path2D(look.page.lineShape), patches: new Path2D(look.page.patchShape) }),
    [look],
  );
  useEffect(() => {
    const element = host.current as unknown as HTMLElement;
    if (!stage) return undefined;
    const canvas = document.createElement('canvas');
    Object.assign(canvas.style, { position: 'absolute', left: '0', top: '0' });
    element.appendChild(canvas);
    let asked = 0;
    const draw = () => {
      asked = 0;
      const ratio = Math.min(2, window.devicePixelRatio || 1);
      const { width, height } = stage.size;
      if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
        Object.assign(canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
        Object.assign(canvas.style, { width: `${width}px`, height: `${height}px` });
      }
      const toScreen = compose(viewMatrix(stage.view), placementMatrix(picture.placement, shownSize(picture)));
      paint(canvas, compose(scaling(ratio), toScreen), ratio, look, shapes, dials, shownSize(picture));
    };
    const soon = () => {
      asked ||= requestAnimationFrame(draw);
    };
    draw();
    const unwatch = stage.watchView(soon);
    window.addEventListener('resize', soon);
    return () => {
      unwatch();
      cancelAnimationFrame(asked);
      window.removeEventListener('resize', soon);
      canvas.remove();
    };
  }, [stage, picture, look, shapes, dials]);
  return <View ref={host} testID="trace-preview" aria-hidden style={[StyleSheet.absoluteFill, styles.passes]} />;
}

function paint(
  canvas: HTMLCanvasElement,
  toDevice: Matrix,
  ratio: number,
  { page }: TraceLook,
  shapes: { lines: Path2D; patches: Path2D },
  { fillsPatches, loop }: TraceDials,
  box: Size,
): void {
  const ctx = canvas.getContext('2d')!;
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.clearRect(0, 0, canvas.width, canvas.height);
  // Shapes are in px of the picture that was traced.
  const traced = compose(toDevice, scaling(1 / page.scale));
  setMatrix(ctx, traced);
  ctx.fillStyle = LINE_COLOUR;
  ctx.fill(shapes.lines, 'nonzero');
  ctx.lineWidth = (2 * ratio) / lengthScale(traced);
  ctx.strokeStyle = SPECK_COLOUR;
  if (fillsPatches) ctx.fill(shapes.patches, 'nonzero');
  else ctx.stroke(shapes.patches);
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  const grow = lengthScale(toDevice);
  const area = (box.width * box.height * grow * grow) / (ratio * ratio);
  const hasRoom = (count: number) => area > count * ROOM_PX;
  ctx.lineWidth = 1.5 * ratio;
  ctx.beginPath();
  const least = hasRoom(page.specks.length / 3) ? 4 : 1;
  for (let i = 0; i < page.specks.length; i += 3) {
    const [x, y] = apply(toDevice, page.specks[i], page.specks[i + 1]);
    const r = Math.max(least * ratio, page.specks[i + 2] * grow + (least - 1) * ratio);
    ctx.moveTo(x + r, y);
    ctx.arc(x, y, r, 0, 2 * Math.PI);
  }
  ctx.stroke();
  if (hasRoom(page.nodes.length / 2)) paintNodes(ctx, toDevice, ratio, page.nodes);
  if (loop) {
    ctx.setLineDash([6 * ratio, 5 * ratio]);
    ctx.strokeStyle = NODE_COLOUR;
    ctx.beginPath();
    for (const [x, y] of loop) ctx.lineTo(...apply(toDevice, x, y));
    ctx.closePath();
    ctx.stroke();
    ctx.setLineDash([]);
  }
}

function paintNodes(ctx: CanvasRenderingContext2D, toDevice: Matrix, ratio: number, nodes: Float32Array): void {
  const { width, height } = ctx.canvas;
  const half = NODE_CSS_PX * ratio;
  ctx.fillStyle = NODE_COLOUR;
  for (let i = 0; i < nodes.length; i += 2) {
    const [x, y] = apply(toDevice, nodes[i], nodes[i + 1]);
    if (x >= 0 && y >= 0 && x <= width && y <= height) ctx.fillRect(x - half, y - half, 2 * half, 2 * half);
  }
}

/** Takes a loop that is drawn around a part of the page. */
function PageLoop({ picture }: { picture: PictureLayer }) {
  const { stage } = useOpenSheet().session;
  const tracing = useTracing();
  const take = (points: [number, number][]) => {
    if (!stage) return;
    const toPage = invert(compose(viewMatrix(stage.view), placementMatrix(picture.placement, shownSize(picture))));
    tracing.looping.set(false);
    tracing.turn(picture, { loop: points.map(([x, y]) => apply(toPage, x, y)) });
  };
  return <LoopLayer onLoop={take} />;
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
