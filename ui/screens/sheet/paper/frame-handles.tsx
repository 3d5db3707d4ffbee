import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Polygon } from 'react-native-svg';
import { ON_PAPER, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import type { HandlePlaces, Point } from './handle-places';

/** What dragging a handle does: `factor` and `turnDeg` since the last movement, about the frame's centre on the screen. */
export interface HandleDrag {
  begin(): void;
  move(centre: Point, factor: number, turnDeg: number): void;
  end(): void;
  drop(): void;
}

/** A frame with its handles: corners scale about the centre, the stem turns. */
export function FrameHandles({
  places,
  onScale,
  onTurn,
}: {
  places: HandlePlaces;
  onScale: HandleDrag;
  onTurn: HandleDrag;
}) {
  const { corners, centre, top, scaleAt, turnAt } = places;
  const drag = (kind: 'scale' | 'turn', { begin, move, end, drop }: HandleDrag) => ({
    begin,
    end,
    drop,
    move: (from: Point, to: Point) => {
      const [a, b] = [polar(centre, from), polar(centre, to)];
      if (kind === 'scale') move(centre, b.distance / a.distance, 0);
      else move(centre, 1, wrapped(b.deg - a.deg));
    },
  });
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
      <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]}>
        <Polygon points={corners.map((c) => c.join(',')).join(' ')} fill="none" stroke={ON_PAPER} strokeWidth={1.5} />
        <Line x1={top[0]} y1={top[1]} x2={turnAt[0]} y2={turnAt[1]} stroke={ON_PAPER} strokeWidth={1.5} />
      </Svg>
      {scaleAt.map((at, i) => (
        <Handle key={i} at={at} name="scale" {...drag('scale', onScale)} />
      ))}
      <Handle at={turnAt} name="turn" {...drag('turn', onTurn)} />
    </View>
  );
}

interface HandleProps {
  at: Point;
  name: 'scale' | 'turn';
  begin(): void;
  move(from: Point, to: Point): void;
  end(): void;
  drop(): void;
}

/** One handle; fingers and mouse are caught as long as they drag it. The buttons of the tray do the same by keyboard. */
function Handle(props: HandleProps) {
  const theme = useTheme();
  const element = useRef<View>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  useEffect(() => {
    const node = element.current as unknown as HTMLElement;
    let last: { id: number; at: Point } | undefined;
    const placeOf = (e: PointerEvent): Point => {
      const paper = node.parentElement!.getBoundingClientRect();
      return [e.clientX - paper.left, e.clientY - paper.top];
    };
    const down = (e: PointerEvent) => {
      if (last || e.button > 0) return;
      e.preventDefault();
      node.setPointerCapture(e.pointerId);
      last = { id: e.pointerId, at: placeOf(e) };
      latest.current.begin();
    };
    const move = (e: PointerEvent) => {
      if (last?.id !== e.pointerId) return;
      const at = placeOf(e);
      latest.current.move(last.at, at);
      last = { id: e.pointerId, at };
    };
    const finish = (how: 'end' | 'drop') => (e: PointerEvent) => {
      if (last?.id !== e.pointerId) return;
      last = undefined;
      latest.current[how]();
    };
    const abort = new AbortController();
    const options = { signal: abort.signal };
    node.addEventListener('pointerdown', down, options);
    node.addEventListener('pointermove', move, options);
    node.addEventListener('pointerup', finish('end'), options);
    node.addEventListener('pointercancel', finish('drop'), options);
    return () => abort.abort();
  }, []);
  const { at, name } = props;
  return (
    <View
      ref={element}
      testID={`handle-${name}`}
      style={[styles.handle, { left: at[0] - TOUCH / 2, top: at[1] - TOUCH / 2 }]}
    >
      <View
        style={[
          styles.knob,
          name === 'turn' && styles.round,
          { backgroundColor: theme.raised, borderColor: theme.accent },
        ]}
      />
    </View>
  );
}

const polar = (centre: Point, [x, y]: Point) => ({
  distance: Math.max(1, Math.hypot(x - centre[0], y - centre[1])),
  deg: (Math.atan2(y - centre[1], x - centre[0]) * 180) / Math.PI,
});

const wrapped = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  handle: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    pointerEvents: 'auto',
    touchAction: 'none',
    cursor: 'grab',
  } as object,
  knob: { width: 14, height: 14, borderWidth: 2, borderRadius: 3, pointerEvents: 'none' },
  round: { borderRadius: 7 },
});
