import { useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Spline from 'lucide-react-native/icons/spline';
import { sliderKey } from '../../../../components/slider-keys';
import { Words } from '../../../../components/text';
import { penSlice, steadyOf } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

/** What a tap goes through, from as the hand gave it to long calm curves. */
const RUNGS = [0, 20, 35, 55, 75, 100];
/** Dragging so many px changes it by one. */
const PX_PER_STEP = 1.5;
const TAP_PX = 5;

/** How steady, within reach while inking: a tap takes the next rung, a drag sideways or the arrow keys any value. */
export function SteadyChip() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const steady = useAppSelector((s) => steadyOf(s.pen));
  const box = useRef<View>(null);
  const drag = useRef<{ x: number; from: number; moved: boolean }>(undefined);
  const set = (v: number) => dispatch(penSlice.actions.setSteady(Math.min(100, Math.max(0, Math.round(v)))));
  const next = () => set(RUNGS.find((r) => r > steady) ?? 0);
  const handlers = {
    onKeyDown: (e: { key: string; preventDefault(): void }) => {
      const to = sliderKey(e.key, steady, { min: 0, max: 100, step: 1 });
      if (to === undefined && e.key !== 'Enter') return;
      e.preventDefault();
      if (to === undefined) next();
      else set(to);
    },
    onPointerDown: (e: { nativeEvent: PointerEvent }) => {
      const { pointerId, clientX } = e.nativeEvent;
      (box.current as unknown as HTMLElement).setPointerCapture(pointerId);
      drag.current = { x: clientX, from: steady, moved: false };
    },
    onPointerMove: (e: { nativeEvent: PointerEvent }) => {
      const by = drag.current ? e.nativeEvent.clientX - drag.current.x : 0;
      if (!drag.current || (Math.abs(by) < TAP_PX && !drag.current.moved)) return;
      drag.current.moved = true;
      set(drag.current.from + by / PX_PER_STEP);
    },
    onPointerUp: () => {
      if (drag.current && !drag.current.moved) next();
      drag.current = undefined;
    },
    onPointerCancel: () => (drag.current = undefined),
  };
  return (
    <View
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Steady"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={steady}
      style={[styles.chip, { borderColor: theme.rule, backgroundColor: theme.raised }]}
      {...(handlers as object)}
    >
      <View aria-hidden style={styles.passes}>
        <Spline size={16} color={theme.quiet} />
      </View>
      <Words size={12} style={styles.passes}>
        {steady}
      </Words>
    </View>
  );
}

const styles = StyleSheet.create({
  chip: {
    width: TOUCH,
    minHeight: 54,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
    gap: 2,
    cursor: 'ew-resize',
    touchAction: 'none',
    userSelect: 'none',
  } as object,
  passes: { pointerEvents: 'none' },
});
