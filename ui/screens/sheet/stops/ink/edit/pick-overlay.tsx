import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Polygon, Polyline } from 'react-native-svg';
import type { Box } from '../../../../../../core/geometry/box';
import { apply, compose, lengthScale, type Matrix } from '../../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../../core/geometry/view';
import { useViewOf } from '../../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../../session/session-context';
import { useAppSelector } from '../../../../../store/store';
import { ON_PAPER } from '../../../../../theme/theme';
import { onPaper } from '../../../paper/corner-drag';
import { FrameHandles } from '../../../paper/frame-handles';
import { handlePlaces, type HandlePlaces } from '../../../paper/handle-places';
import { BendDots } from './bend-dots';
import { LineMarks } from './line-marks';
import { useTellings } from '../../../../../components/use-tellings';

/** A frame is at least so wide and high, CSS px. */
const LEAST_FRAME_PX = 12;

const NO_LINES: Float32Array[] = [];

/** What lies over the paper while lines are picked: marks around them, their frame, and the loop that is being drawn. */
export function PickOverlay() {
  const { picking, bending } = useOpenSheet();
  // Undo is told anew with every step.
  const undo = useAppSelector((s) => s.sheet.undo);
  const stack = useAppSelector((s) => s.sheet.stack);
  const editing = useAppSelector((s) => s.sheet.editing);
  const editMode = useAppSelector((s) => s.sheet.editMode);
  const form = useAppSelector((s) => s.pen.form);
  useEffect(() => {
    picking.refresh();
    bending.refresh();
  }, [picking, bending, undo, stack]);
  const bends = editing ? editMode === 'bend' || editMode === 'points' : form === 'bend' || form === 'points';
  // What is in the hand stays there as long as its nodes are shown.
  useEffect(() => (bends ? () => bending.release() : undefined), [bending, bends]);
  return (
    <>
      {editing && <Picked />}
      {bends && <BendDots />}
    </>
  );
}

const watchShown = (of: { watchShown(told: () => void): () => void }, told: () => void) => of.watchShown(told);

function Picked() {
  const { session, picking, wayEdits } = useOpenSheet();
  const mode = useAppSelector((s) => s.sheet.editMode);
  const wayEdit = mode === 'snip' || mode === 'mend' ? wayEdits[mode] : undefined;
  const canvas = useRef<HTMLCanvasElement>(null);
  const marks = useRef<LineMarks>(undefined);
  const { stage } = session;
  useViewOf(stage);
  useTellings(picking, watchShown);
  useTellings(wayEdit, watchShown);
  const { shown, loop, movement } = picking;
  const view = stage && viewMatrix(stage.view);
  const toScreen = view && compose(view, movement);
  useEffect(() => {
    if (!canvas.current || !toScreen) return;
    marks.current ??= new LineMarks(canvas.current);
    const lines = wayEdit?.shown ?? shown?.lines ?? NO_LINES;
    marks.current.show(lines, toScreen, wayEdit ? 'full' : 'ring');
  });
  useEffect(() => () => marks.current?.close(), []);
  if (!stage || !view || !toScreen) return null;
  const drag = (label: string) => ({
    begin: () => picking.beginMove(),
    move: (change: Matrix) => picking.moveOn(onPaper(change, stage.view)),
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
          frees
        />
      )}
      {mode === 'mend' && wayEdit?.drawn && !wayEdit.shown.length && (
        <Svg width="100%" height="100%" style={StyleSheet.absoluteFill}>
          <Polyline points={pointsOf(wayEdit.drawn, view)} fill="none" stroke={ON_PAPER} strokeWidth={1.5} />
        </Svg>
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

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
