import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Line, Path } from 'react-native-svg';
import type { Tones } from '../../../../../core/picture/tones';
import { LEAST_APART, monotoneCurve, type CurvePoints } from '../../../../../core/picture/tone-curve';
import { DragHandle } from '../../../../components/drag-handle';
import { curveBox, curvePath, type CurveBox } from '../../../../components/curve-box';
import { useDrag, type Place } from '../../../../components/use-drag';
import { useTheme } from '../../../../theme/theme-context';
import { HistogramBox } from './histogram';

const HEIGHT = 176;
const MOST_POINTS = 12;
const KEY_STEP = 0.01;
/** A touch so near a point, parts of the width, means the point. */
const NEAR = 0.06;

/** A tone curve over the picture's histogram. Points are dragged, put in by touching beside the curve, taken out by Delete or two taps. */
export function CurveEditor({
  points,
  tones,
  onShow,
  onKeep,
  onDrop,
}: {
  points: CurvePoints;
  tones: Tones | undefined;
  onShow(points: CurvePoints): void;
  onKeep(label: string): void;
  /** The device took the gesture away: what was shown is not meant. */
  onDrop(): void;
}) {
  const theme = useTheme();
  const [width, setWidth] = useState(0);
  const curve = monotoneCurve(points);
  const geometry = curveBox(width, HEIGHT);
  const [left, right] = [geometry.place(0, 0), geometry.place(1, 1)];
  const placeOf = ({ x, y }: Place): [number, number] => {
    const box = (element.current as unknown as HTMLElement).getBoundingClientRect();
    const at = geometry.valueAt(x - box.left - 1, y - box.top - 1);
    return [part(at.x), part(at.y)];
  };
  const held = useRef<number>(undefined);
  const element = useDrag({
    begin: (at) => {
      const [x, y] = placeOf(at);
      if (points.length >= MOST_POINTS || points.some((p) => Math.abs(p[0] - x) < NEAR)) return;
      const next = [...points, [x, y] as const].sort((a, b) => a[0] - b[0]);
      held.current = next.findIndex((p) => p[0] === x);
      onShow(next);
    },
    move: (at) => {
      if (held.current !== undefined) onShow(moved(points, held.current, placeOf(at)));
    },
    end: () => {
      if (held.current !== undefined) onKeep('Curve');
      held.current = undefined;
    },
    drop: () => {
      held.current = undefined;
      onDrop();
    },
  });
  return (
    <HistogramBox
      testID="tone-curve"
      tones={tones}
      geometry={geometry}
      width={width}
      height={HEIGHT}
      boxRef={element}
      style={styles.box}
      onWidth={setWidth}
      drawn={
        <>
          {[0.25, 0.5, 0.75].map((u) => (
            <Line
              key={u}
              x1={geometry.place(u, 0).x}
              x2={geometry.place(u, 0).x}
              y1={right.y}
              y2={left.y}
              stroke={theme.rule}
              strokeWidth={1}
            />
          ))}
          <Path d={curvePath(geometry, curve)} stroke={theme.accent} strokeWidth={2} fill="none" />
        </>
      }
    >
      {points.map((point, i) => (
        <CurvePoint
          key={i}
          index={i}
          point={point}
          geometry={geometry}
          placeOf={placeOf}
          onMove={(to) => onShow(moved(points, i, to))}
          onDone={() => onKeep('Curve')}
          onDrop={onDrop}
          onTakeOut={() => {
            if (points.length <= 2) return;
            onShow(points.filter((_, k) => k !== i));
            onKeep('Take a point off the curve');
          }}
        />
      ))}
    </HistogramBox>
  );
}

function CurvePoint({
  index,
  point: [x, y],
  geometry,
  placeOf,
  onMove,
  onDone,
  onDrop,
  onTakeOut,
}: {
  index: number;
  point: readonly [number, number];
  geometry: CurveBox;
  placeOf(at: Place): [number, number];
  onMove(to: [number, number]): void;
  onDone(): void;
  onDrop(): void;
  onTakeOut(): void;
}) {
  const theme = useTheme();
  const stands = geometry.place(x, y);
  const grip = useRef<[number, number]>([0, 0]);
  const begun = useRef({ moved: false, at: -Infinity });
  const drag = () => ({
    begin: (at: Place) => {
      const [px, py] = placeOf(at);
      grip.current = [x - px, y - py];
      begun.current.moved = false;
    },
    move: (at: Place) => {
      const [px, py] = placeOf(at);
      begun.current.moved = true;
      onMove([px + grip.current[0], py + grip.current[1]]);
    },
    end: () => {
      if (begun.current.moved) return onDone();
      const now = performance.now();
      if (now - begun.current.at < TWO_TAPS_MS) onTakeOut();
      begun.current.at = now;
    },
    drop: onDrop,
  });
  return (
    <DragHandle
      at={[stands.x, stands.y]}
      label={`Drag point ${index + 1} of the curve: ${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %; arrow keys move it, Delete takes it out`}
      drag={drag}
      onStep={(dx, dy) => {
        onMove([x + dx * KEY_STEP, y - dy * KEY_STEP]);
        onDone();
      }}
      onDelete={onTakeOut}
    >
      <View style={[styles.dot, { borderColor: theme.accent, backgroundColor: theme.raised }]} />
    </DragHandle>
  );
}

const TWO_TAPS_MS = 350;

const part = (v: number): number => Math.min(1, Math.max(0, v));

/** A point moved, never past its neighbours. */
function moved(points: CurvePoints, index: number, [x, y]: readonly [number, number]): CurvePoints {
  const low = index > 0 ? points[index - 1][0] + LEAST_APART : 0;
  const high = index + 1 < points.length ? points[index + 1][0] - LEAST_APART : 1;
  return points.map((p, i) => (i === index ? [Math.min(Math.max(low, high), Math.max(low, x)), part(y)] : p));
}

const styles = StyleSheet.create({
  box: { touchAction: 'none', cursor: 'crosshair' } as object,
  dot: { width: 16, height: 16, borderRadius: 8, borderWidth: 3 },
});
