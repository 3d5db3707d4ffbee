import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View, type LayoutChangeEvent } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { sliderKey } from './slider-keys';
import { TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';

interface Props {
  /** The accessible name. */
  label: string;
  value: number;
  min?: number;
  max?: number;
  /** Arrow keys change the value by this. */
  step?: number;
  /** The value in words, for a screen reader. */
  spoken?: string;
  /** Each change while dragging; nothing is kept yet. */
  onChange(value: number): void;
  /** The gesture is over. */
  onDone(value: number): void;
  disabled?: boolean;
}

const KNOB = 24;

/**
 * A slider whose track is a pen stroke from a whisper to full ink, filled up to its knob.
 * By touch, mouse and keyboard (arrows, page up and down, home, end).
 */
export function Slider({ label, value, min = 0, max = 100, step = 1, spoken, onChange, onDone, disabled }: Props) {
  const theme = useTheme();
  const [width, setWidth] = useState(0);
  const box = useRef<View>(null);
  const latest = useRef(value);
  const keyTimer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latestDone = useRef(onDone);
  useEffect(() => {
    latestDone.current = onDone;
  });
  const part = (value - min) / (max - min);
  const travel = Math.max(1, width - KNOB);

  const at = (clientX: number): number => {
    const left = (box.current as unknown as HTMLElement).getBoundingClientRect().left;
    const u = Math.min(1, Math.max(0, (clientX - left - KNOB / 2) / travel));
    return min + Math.round((u * (max - min)) / step) * step;
  };
  const change = (next: number) => {
    latest.current = Math.min(max, Math.max(min, next));
    onChange(latest.current);
  };
  /** Keys are one gesture until they rest, or until something else is done: what comes later is not overwritten. */
  const endKeys = () => {
    if (keyTimer.current === undefined) return;
    clearTimeout(keyTimer.current);
    keyTimer.current = undefined;
    latestDone.current(latest.current);
  };
  const onKeyDown = (event: { key: string; preventDefault(): void }) => {
    const next = sliderKey(event.key, value, { min, max, step });
    if (next === undefined) return endKeys();
    if (disabled) return;
    event.preventDefault();
    change(next);
    clearTimeout(keyTimer.current);
    keyTimer.current = setTimeout(endKeys, 400);
  };
  const pointer = {
    onPointerDown: (e: { nativeEvent: PointerEvent }) => {
      if (disabled) return;
      endKeys();
      (e.nativeEvent.currentTarget as HTMLElement | null)?.setPointerCapture?.(e.nativeEvent.pointerId);
      (box.current as unknown as HTMLElement).setPointerCapture(e.nativeEvent.pointerId);
      change(at(e.nativeEvent.clientX));
    },
    onPointerMove: (e: { nativeEvent: PointerEvent }) => {
      if (!disabled && (box.current as unknown as HTMLElement).hasPointerCapture(e.nativeEvent.pointerId))
        change(at(e.nativeEvent.clientX));
    },
    onPointerUp: () => !disabled && onDone(latest.current),
    onPointerCancel: () => !disabled && onDone(latest.current),
  };
  const x = KNOB / 2 + part * travel;
  return (
    <View
      ref={box}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={spoken}
      aria-disabled={disabled}
      onLayout={(e: LayoutChangeEvent) => setWidth(e.nativeEvent.layout.width)}
      style={[styles.box, disabled && styles.disabled]}
      {...({ onKeyDown, onBlur: endKeys, ...pointer } as object)}
    >
      {width > 0 && (
        <Svg width={width} height={TOUCH} style={styles.track}>
          <Path d={taper(KNOB / 2, width - KNOB / 2, 1, width)} fill={theme.rule} />
          <Path d={taper(KNOB / 2, x, 1, width)} fill={theme.text} />
        </Svg>
      )}
      <View style={[styles.knob, { left: x - KNOB / 2, borderColor: theme.accent, backgroundColor: theme.raised }]}>
        <View style={[styles.dot, { backgroundColor: theme.text }]} />
      </View>
    </View>
  );
}

/** The stroke from `from` to `to`, of a taper that spans the whole width. */
function taper(from: number, to: number, thin: number, width: number): string {
  const half = (x: number) => thin / 2 + (5.5 * x) / width;
  const y = TOUCH / 2;
  return `M${from} ${y - half(from)}L${to} ${y - half(to)}L${to} ${y + half(to)}L${from} ${y + half(from)}Z`;
}

const styles = StyleSheet.create({
  box: {
    flexGrow: 1,
    flexShrink: 1,
    minWidth: 80,
    height: TOUCH,
    justifyContent: 'center',
    cursor: 'pointer',
    touchAction: 'none',
  } as object,
  track: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
  knob: {
    position: 'absolute',
    width: KNOB,
    height: KNOB,
    borderRadius: KNOB / 2,
    borderWidth: 2,
    alignItems: 'center',
    justifyContent: 'center',
    pointerEvents: 'none',
  },
  dot: { width: 6, height: 6, borderRadius: 3 },
  disabled: { opacity: 0.4 },
});
