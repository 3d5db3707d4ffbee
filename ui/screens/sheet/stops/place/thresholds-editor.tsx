import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Line, Rect } from 'react-native-svg';
import type { Tones } from '../../../../../core/picture/tones';
import { curveBox } from '../../../../components/curve-box';
import { DragHandle } from '../../../../components/drag-handle';
import type { Place } from '../../../../components/use-drag';
import { useTheme } from '../../../../theme/theme-context';
import { HistogramBox } from './histogram';

const HEIGHT = 120;
/** The band that shows the flat greys, CSS px. */
const BAND = 12;
/** Thresholds stand at least so far apart, 0 to 1. */
const LEAST_APART = 0.01;
const KEY_STEP = 0.01;

/** Thresholds over a picture's histogram, to be dragged; beneath it the flat greys that they part. */
export function ThresholdsEditor({
  thresholds,
  tones,
  onShow,
  onKeep,
  onDrop,
}: {
  thresholds: readonly number[];
  tones: Tones | undefined;
  onShow(thresholds: readonly number[]): void;
  onKeep(): void;
  /** The device took the gesture away: what was shown is not meant. */
  onDrop(): void;
}) {
  const theme = useTheme();
  const [width, setWidth] = useState(0);
  const geometry = curveBox(width, HEIGHT);
  const [bottom, top] = [geometry.place(0, 0).y, geometry.place(0, 1).y];
  const xOf = (t: number) => geometry.place(t, 0).x;
  const greys = [0, ...thresholds].map((from, k) => ({
    from,
    to: thresholds[k] ?? 1,
    grey: Math.round((255 * k) / thresholds.length),
  }));
  const move = (index: number, to: number) => {
    const low = (thresholds[index - 1] ?? 0) + LEAST_APART;
    const high = (thresholds[index + 1] ?? 1) - LEAST_APART;
    onShow(thresholds.map((t, k) => (k === index ? Math.min(Math.max(low, high), Math.max(low, to)) : t)));
  };
  return (
    <HistogramBox
      testID="thresholds"
      tones={tones}
      geometry={geometry}
      width={width}
      height={HEIGHT}
      onWidth={setWidth}
      drawn={
        <>
          {greys.map(({ from, to, grey }, k) => (
            <Rect
              key={k}
              x={xOf(from)}
              y={bottom}
              width={Math.max(0, xOf(to) - xOf(from))}
              height={BAND}
              fill={`rgb(${grey},${grey},${grey})`}
              stroke={theme.edge}
              strokeWidth={1}
            />
          ))}
          {thresholds.map((t, k) => (
            <Line key={k} x1={xOf(t)} x2={xOf(t)} y1={top} y2={bottom + BAND} stroke={theme.accent} strokeWidth={2} />
          ))}
        </>
      }
    >
      {thresholds.map((t, k) => (
        <Threshold
          key={k}
          // Neighbours' targets would lie over each other: they stand at different heights.
          at={[xOf(t), top + 8 + (k % 3) * 26]}
          label={`Drag threshold ${k + 1} of ${thresholds.length}: ${Math.round(t * 100)} %; arrow keys move it`}
          toValue={(x) => geometry.valueAt(x, 0).x}
          onMove={(to) => move(k, to)}
          onStep={(by) => {
            move(k, t + by * KEY_STEP);
            onKeep();
          }}
          {...{ onKeep, onDrop }}
        />
      ))}
    </HistogramBox>
  );
}

function Threshold({
  at,
  label,
  toValue,
  onMove,
  onStep,
  onKeep,
  onDrop,
}: {
  at: readonly [number, number];
  label: string;
  toValue(x: number): number;
  onMove(to: number): void;
  onStep(by: number): void;
  onKeep(): void;
  onDrop(): void;
}) {
  const theme = useTheme();
  return (
    <DragHandle
      at={at}
      label={label}
      drag={(box) => ({
        move: ({ x }: Place) => onMove(toValue(x - box().left - 1)),
        end: onKeep,
        drop: onDrop,
      })}
      onStep={onStep}
    >
      <View style={[styles.dot, { borderColor: theme.accent, backgroundColor: theme.raised }]} />
    </DragHandle>
  );
}

const styles = StyleSheet.create({
  dot: { width: 16, height: 16, borderRadius: 8, borderWidth: 3 },
});
