import { useEffect, useReducer, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Polygon } from 'react-native-svg';
import type { Box } from '../../../../../../core/geometry/box';
import { apply, compose, lengthScale, type Matrix } from '../../../../../../core/geometry/matrix';
import { viewMatrix, type Size } from '../../../../../../core/geometry/view';
import { useOpenSheet } from '../../../../../session/session-context';
import { sheetSlice } from '../../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../../../theme/theme';
import { FrameHandles } from '../../../paper/frame-handles';
import { handlePlaces, type HandlePlaces, type Point } from '../../../paper/handle-places';
import { movementOf } from './pick-gestures';
import { usePicking } from './use-picking';

/** A picked line is ringed: so far from its edge, and so wide, CSS px. */
const GAP_PX = 1.5;
const RING_PX = 1.5;
/** The ring's light edge, for dark ink beside it. */
const EDGE_PX = 1;
/** A frame is at least so wide and high, CSS px. */
const LEAST_FRAME_PX = 12;

/** What lies over the paper while lines are picked: rings around them, their frame, and the loop that is being drawn. */
export function PickOverlay() {
  const dispatch = useAppDispatch();
  const { picking } = useOpenSheet();
  // With the stop that it belongs to editing ends, too.
  useEffect(
    () => () => {
      dispatch(sheetSlice.actions.setEditing(false));
      picking.clear();
    },
    [dispatch, picking],
  );
  return useAppSelector((s) => s.sheet.editing) ? <Picked /> : null;
}

function Picked() {
  const { session } = useOpenSheet();
  const picking = usePicking();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [, look] = useReducer((n: number) => n + 1, 0);
  const { stage } = session;
  useEffect(() => stage?.watchView(look), [stage]);
  const { shown, loop, movement } = picking;
  const view = stage && viewMatrix(stage.view);
  const toScreen = view && compose(view, movement);
  useEffect(() => {
    if (canvas.current && stage && toScreen) drawRings(canvas.current, shown?.lines ?? [], toScreen);
  });
  if (!stage || !view || !toScreen) return null;
  const drag = (label: string) => ({
    begin: () => picking.beginMove(),
    move: (centre: Point, factor: number, turnDeg: number) =>
      picking.moveOn(movementOf(session, [centre[0], centre[1]], [centre[0], centre[1]], factor, turnDeg)),
    end: () => void picking.endMove(label),
    drop: () => picking.dropMove(),
  });
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
      <canvas ref={canvas} style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }} />
      {shown && !loop && (
        <FrameHandles
          places={framePlaces(shown.box, toScreen, stage.free())}
          onScale={drag('Scale')}
          onTurn={drag('Turn')}
        />
      )}
      {loop && (
        <Svg width="100%" height="100%" style={StyleSheet.absoluteFill}>
          <Polygon
            points={pointsOf(loop, view)}
            fill={ON_PAPER}
            fillOpacity={0.08}
            stroke={ON_PAPER}
            strokeWidth={1.5}
            strokeDasharray="6 4"
          />
        </Svg>
      )}
    </View>
  );
}

function framePlaces(box: Box, toScreen: Matrix, free: Box): HandlePlaces {
  const least = LEAST_FRAME_PX / lengthScale(toScreen);
  const [width, height] = [Math.max(least, box.x1 - box.x0), Math.max(least, box.y1 - box.y0)];
  const [x, y] = [(box.x0 + box.x1 - width) / 2, (box.y0 + box.y1 - height) / 2];
  return handlePlaces(compose(toScreen, [1, 0, 0, 1, x, y]), width, height, free);
}

const pointsOf = (loop: readonly number[], view: Matrix): string => {
  const points: string[] = [];
  for (let i = 0; i < loop.length; i += 2)
    points.push(
      apply(view, loop[i], loop[i + 1])
        .map(Math.round)
        .join(','),
    );
  return points.join(' ');
};

/** Rings around lines, beside them and not on them. */
function drawRings(canvas: HTMLCanvasElement, lines: readonly Float32Array[], toScreen: Matrix): void {
  const ratio = window.devicePixelRatio > 1 ? 2 : 1;
  const [width, height] = [canvas.clientWidth * ratio, canvas.clientHeight * ratio];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
  const ctx = canvas.getContext('2d');
  if (!ctx) return;
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.clearRect(0, 0, width, height);
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.lineCap = ctx.lineJoin = 'round';
  const screen = { width: canvas.clientWidth, height: canvas.clientHeight };
  for (const [way, beyond, colour] of [
    ['source-over', GAP_PX + RING_PX + EDGE_PX, ON_PAPER_EDGE],
    ['source-over', GAP_PX + RING_PX, ON_PAPER],
    ['destination-out', GAP_PX, ON_PAPER],
  ] as const) {
    ctx.globalCompositeOperation = way;
    ctx.strokeStyle = colour;
    for (const line of lines) strokeLine(ctx, line, toScreen, beyond, screen);
  }
}

function strokeLine(
  ctx: CanvasRenderingContext2D,
  line: Float32Array,
  toScreen: Matrix,
  beyond: number,
  { width, height }: Size,
): void {
  const scale = lengthScale(toScreen);
  let [x, y] = apply(toScreen, line[0], line[1]);
  for (let at = 0; at < line.length; at += 3) {
    const next = Math.min(line.length - 3, at + 3);
    const [nx, ny] = apply(toScreen, line[next], line[next + 1]);
    const r = ((line[at + 2] + line[next + 2]) / 2) * scale + beyond;
    const isSeen =
      Math.min(x, nx) - r < width && Math.max(x, nx) + r > 0 && Math.min(y, ny) - r < height && Math.max(y, ny) + r > 0;
    if (isSeen) {
      ctx.lineWidth = 2 * r;
      ctx.beginPath();
      ctx.moveTo(x, y);
      ctx.lineTo(nx, ny);
      ctx.stroke();
    }
    [x, y] = [nx, ny];
  }
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
