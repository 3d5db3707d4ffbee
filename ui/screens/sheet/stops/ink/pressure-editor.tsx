import { useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path, Rect } from 'react-native-svg';
import { decodeSamples } from '../../../../../core/stroke/codec';
import { LEAST_MIDDLE, LEAST_SPAN, openingAt, type PressureCurve } from '../../../../../core/stroke/pressure-curve';
import { PRESSURE_MAX } from '../../../../../core/stroke/samples';
import { curveBox, curvePath, type CurveBox } from '../../../../components/curve-box';
import { sliderKey } from '../../../../components/slider-keys';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import type { HandStroke } from '../../../../session/hand-stroke';
import { useAppSelector } from '../../../../store/store';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

const HEIGHT = 104;
const KNOB = 18;
const CURVE_POINTS = 48;
const BARS = 25;

/** A point of the curve that can be moved: along one axis. */
interface Handle {
  name: string;
  at: { pressure: number; opening: number };
  value: number;
  range: [least: number, most: number];
  axis: 'pressure' | 'opening';
  set(value: number): PressureCurve;
}

/** How pressure becomes width, as a curve with three points to move; beneath it the pressures of the last stroke. */
export function PressureEditor({ press, onSet }: { press: PressureCurve; onSet(curve: PressureCurve): void }) {
  const theme = useTheme();
  const done = useAppSelector((s) => s.sheet.undo.count);
  const { inking } = useOpenSheet();
  const [width, setWidth] = useState(0);
  const box = useRef<View>(null);
  const hand = inking.lastHand;
  // `done` changes with every stroke.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const bars = useMemo(() => (hand?.hasPressure ? pressureBars(hand) : []), [hand, done]);
  const geometry = curveBox(width, HEIGHT);
  const { place } = geometry;
  return (
    <View>
      <Words size={14}>Pressure</Words>
      <View
        ref={box}
        onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width) - 2)}
        style={[styles.box, { borderColor: theme.rule, backgroundColor: theme.raised }]}
      >
        <Svg width={Math.max(1, width)} height={HEIGHT} aria-hidden>
          {bars.map((part, i) => (
            <Rect
              key={i}
              x={place(i / BARS, 0).x}
              y={place(0, part).y}
              width={Math.max(1, place(1 / BARS, 0).x - place(0, 0).x - 1)}
              height={place(0, 0).y - place(0, part).y}
              fill={theme.rule}
            />
          ))}
          <Path
            d={curvePath(geometry, (pressure) => openingAt(pressure, press), CURVE_POINTS)}
            stroke={theme.text}
            strokeWidth={2}
            fill="none"
          />
        </Svg>
        {width > 0 &&
          handlesOf(press).map((handle) => (
            <Knob
              key={handle.name}
              handle={handle}
              {...place(handle.at.pressure, handle.at.opening)}
              geometry={geometry}
              box={box}
              onSet={onSet}
            />
          ))}
      </View>
      <Words size={12} quiet>
        {hand && !hand.hasPressure
          ? 'Your last stroke had no pressure: its width came from its speed.'
          : 'From light to firm, from the smallest width to the full one.'}
      </Words>
    </View>
  );
}

function Knob({
  handle,
  x,
  y,
  geometry,
  box,
  onSet,
}: {
  handle: Handle;
  x: number;
  y: number;
  geometry: CurveBox;
  box: React.RefObject<View | null>;
  onSet(curve: PressureCurve): void;
}) {
  const theme = useTheme();
  const own = useRef<View>(null);
  const isHeld = useRef(false);
  const [least, most] = handle.range;
  const set = (value: number) => onSet(handle.set(Math.round(100 * Math.min(most, Math.max(least, value))) / 100));
  const handlers = {
    onKeyDown: (e: { key: string; preventDefault(): void }) => {
      const to = sliderKey(e.key, handle.value, { min: least, max: most, step: 0.01 });
      if (to === undefined) return;
      e.preventDefault();
      set(to);
    },
    onPointerDown: (e: { nativeEvent: PointerEvent }) => {
      (own.current as unknown as HTMLElement).setPointerCapture(e.nativeEvent.pointerId);
      isHeld.current = true;
    },
    onPointerMove: (e: { nativeEvent: PointerEvent }) => {
      if (!isHeld.current) return;
      const { left, top } = (box.current as unknown as HTMLElement).getBoundingClientRect();
      const { x: pressure, y: opening } = geometry.valueAt(
        e.nativeEvent.clientX - left - 1,
        e.nativeEvent.clientY - top - 1,
      );
      set({ pressure, opening }[handle.axis]);
    },
    onPointerUp: () => (isHeld.current = false),
    onPointerCancel: () => (isHeld.current = false),
  };
  return (
    <View
      ref={own}
      role="slider"
      tabIndex={0}
      aria-label={handle.name}
      aria-valuemin={Math.round(100 * least)}
      aria-valuemax={Math.round(100 * most)}
      aria-valuenow={Math.round(100 * handle.value)}
      aria-valuetext={`${Math.round(100 * handle.value)} %`}
      style={[styles.touch, { left: x - TOUCH / 2, top: y - TOUCH / 2 }]}
      {...(handlers as object)}
    >
      <View style={[styles.knob, { borderColor: theme.accent, backgroundColor: theme.card }]} />
    </View>
  );
}

function handlesOf(press: PressureCurve): Handle[] {
  const { light, firm, middle } = press;
  return [
    {
      name: 'Lightest pressure that widens the line',
      at: { pressure: light, opening: 0 },
      value: light,
      range: [0, firm - LEAST_SPAN],
      axis: 'pressure',
      set: (value) => ({ ...press, light: value }),
    },
    {
      name: 'Width half way',
      at: { pressure: (light + firm) / 2, opening: middle },
      value: middle,
      range: [LEAST_MIDDLE, 1 - LEAST_MIDDLE],
      axis: 'opening',
      set: (value) => ({ ...press, middle: value }),
    },
    {
      name: 'Pressure of the full width',
      at: { pressure: firm, opening: 1 },
      value: firm,
      range: [light + LEAST_SPAN, 1],
      axis: 'pressure',
      set: (value) => ({ ...press, firm: value }),
    },
  ];
}

/** How often a stroke was pressed how firmly: the most frequent is 1. */
export function pressureBars(hand: HandStroke): number[] {
  const { pressure, count } = decodeSamples(hand.bytes);
  const bars = new Array<number>(BARS).fill(0);
  for (let i = 0; i < count; i++) bars[Math.min(BARS - 1, Math.floor((pressure[i] / PRESSURE_MAX) * BARS))]++;
  const most = Math.max(1, ...bars);
  return bars.map((n) => n / most);
}

const styles = StyleSheet.create({
  box: { height: HEIGHT + 2, borderWidth: 1, borderRadius: RADIUS, marginVertical: 4 },
  touch: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    touchAction: 'none',
    cursor: 'grab',
    scrollMarginTop: 64,
  } as object,
  knob: { width: KNOB, height: KNOB, borderRadius: KNOB / 2, borderWidth: 3, pointerEvents: 'none' },
});
