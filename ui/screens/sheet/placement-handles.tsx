import { useEffect, useReducer, useRef, type RefObject } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Polygon } from 'react-native-svg';
import type { Box } from '../../../core/geometry/box';
import { apply, compose } from '../../../core/geometry/matrix';
import { viewMatrix } from '../../../core/geometry/view';
import { placementMatrix } from '../../../core/sheet/placement';
import { useOpenSheet } from '../../sheet/session-context';
import { useAppSelector } from '../../store/store';
import { TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';
import type { PictureMover } from './picture-mover';

type Point = readonly [x: number, y: number];

/** The turn handle stands this far outside the picture's upper edge, CSS px. */
const STEM_PX = 40;
/** Handles that would lie under a bar, or beyond the screen, stay this far inside what is free. */
const EDGE_PX = 12;

/** The frame of the picture that is being moved: corners scale it about its centre, the stem turns it. */
export function PlacementHandles({ layerId, mover }: { layerId: string; mover: RefObject<PictureMover | undefined> }) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const withInk = useAppSelector((s) => s.sheet.moveWithInk);
  const layer = useAppSelector((s) => s.sheet.stack.find((l) => l.id === layerId));
  const [, look] = useReducer((n: number) => n + 1, 0);
  const { stage } = session;

  useEffect(() => {
    const stops = [mover.current?.watchDraft(look), stage?.watchView(look)];
    return () => stops.forEach((stop) => stop?.());
  }, [stage, mover]);

  const placement = mover.current?.placementOf(layerId);
  if (!stage || !placement || layer?.kind !== 'reference') return null;
  const { width, height } = layer.picture;
  const toScreen = compose(viewMatrix(stage.view), placementMatrix(placement, layer.picture));
  const at = (u: number, v: number): Point => apply(toScreen, u * width, v * height);
  const corners = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
  const centre = at(0.5, 0.5);
  const top = at(0.5, 0);
  const reach = Math.hypot(top[0] - centre[0], top[1] - centre[1]) || 1;
  const free = stage.free();
  const box = { x0: free.x0 + EDGE_PX, y0: free.y0 + EDGE_PX, x1: free.x1 - EDGE_PX, y1: free.y1 - EDGE_PX };
  const scaleAt = corners.map((corner) => within(box, centre, corner));
  const tip: Point = [
    top[0] + ((top[0] - centre[0]) / reach) * STEM_PX,
    top[1] + ((top[1] - centre[1]) / reach) * STEM_PX,
  ];
  const stem = apartFrom(scaleAt, within(box, centre, tip), centre);
  const drag = (kind: 'scale' | 'turn') => ({
    begin: () => mover.current?.begin(layerId),
    move: (from: Point, to: Point) => {
      const [a, b] = [polar(centre, from), polar(centre, to)];
      if (kind === 'scale') mover.current?.move(centre, centre, b.distance / a.distance, 0);
      else mover.current?.move(centre, centre, 1, wrapped(b.deg - a.deg));
    },
    end: () => mover.current?.end(withInk),
    drop: () => mover.current?.drop(),
  });
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
      <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]}>
        <Polygon
          points={corners.map((c) => c.join(',')).join(' ')}
          fill="none"
          stroke={theme.accent}
          strokeWidth={1.5}
        />
        <Line x1={top[0]} y1={top[1]} x2={stem[0]} y2={stem[1]} stroke={theme.accent} strokeWidth={1.5} />
      </Svg>
      {scaleAt.map((at, i) => (
        <Handle key={i} at={at} name="scale" {...drag('scale')} />
      ))}
      <Handle at={stem} name="turn" {...drag('turn')} />
    </View>
  );
}

/**
 * Where a handle stands: at its place, or, where that lies beyond the box, on the way there from the
 * centre, still on the picture's own line. A centre that is out of sight itself leaves the nearest edge.
 */
function within({ x0, y0, x1, y1 }: Box, [cx, cy]: Point, [x, y]: Point): Point {
  const nearest: Point = [Math.min(x1, Math.max(x0, x)), Math.min(y1, Math.max(y0, y))];
  if (cx < x0 || cx > x1 || cy < y0 || cy > y1) return nearest;
  let u = 1;
  if (x > x1) u = Math.min(u, (x1 - cx) / (x - cx));
  if (x < x0) u = Math.min(u, (x0 - cx) / (x - cx));
  if (y > y1) u = Math.min(u, (y1 - cy) / (y - cy));
  if (y < y0) u = Math.min(u, (y0 - cy) / (y - cy));
  return [cx + u * (x - cx), cy + u * (y - cy)];
}

/** A place that can be touched apart from the others: moved towards the centre, if it lies on one of them. */
function apartFrom(others: readonly Point[], at: Point, centre: Point): Point {
  const clashes = ([x, y]: Point) => others.some((o) => Math.hypot(o[0] - x, o[1] - y) < TOUCH);
  let place = at;
  for (let i = 0; i < 4 && clashes(place); i++) {
    const [dx, dy] = [centre[0] - place[0], centre[1] - place[1]];
    const length = Math.hypot(dx, dy) || 1;
    place = [place[0] + (dx / length) * TOUCH, place[1] + (dy / length) * TOUCH];
  }
  return place;
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
