import { useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Polygon } from 'react-native-svg';
import { withinTurn } from '../../../../core/geometry/degrees';
import { useDrag, type Place } from '../../../components/use-drag';
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
function Handle({ at, name, begin, move, end, drop }: HandleProps) {
  const theme = useTheme();
  const last = useRef<Point>([0, 0]);
  const onPaper = ({ x, y }: Place): Point => {
    const paper = (element.current as unknown as HTMLElement).parentElement!.getBoundingClientRect();
    return [x - paper.left, y - paper.top];
  };
  const element = useDrag({
    begin: (place) => {
      last.current = onPaper(place);
      begin();
    },
    move: (place) => {
      const now = onPaper(place);
      move(last.current, now);
      last.current = now;
    },
    end,
    drop,
  });
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

const wrapped = (deg: number): number => withinTurn(deg + 180) - 180;

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
