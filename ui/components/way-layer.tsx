import { useRef, type SVGProps } from 'react';
import { StyleSheet, View } from 'react-native';
import { useTheme } from '../theme/theme-context';
import { useDrag, type Place } from './use-drag';

type Way = [number, number][];

/** Takes a loop that is drawn around a part of what lies beneath. @param onLoop told its places, CSS px of this layer. */
export function LoopLayer({ onLoop }: { onLoop(points: Way): void }) {
  return (
    <WayLayer
      label="Draw around the part that is meant"
      testID="loop-layer"
      line={{ strokeWidth: 2, strokeDasharray: '6 5' }}
      onWay={(points) => points.length >= 3 && onLoop(points)}
    />
  );
}

/** Takes what is painted over, one movement after the other. @param widthPx of the brush, CSS px. */
export function PaintLayer({ widthPx, onPainted }: { widthPx: number; onPainted(points: Way): void }) {
  return (
    <WayLayer
      label="Paint over the part that is meant"
      testID="paint-layer"
      line={{ strokeWidth: widthPx, strokeOpacity: 0.3, strokeLinecap: 'round', strokeLinejoin: 'round' }}
      onWay={onPainted}
    />
  );
}

/** Shows a way while it is drawn, and tells it at its end. */
function WayLayer({
  label,
  testID,
  line: look,
  onWay,
}: {
  label: string;
  testID: string;
  line: SVGProps<SVGPolylineElement>;
  onWay(points: Way): void;
}) {
  const theme = useTheme();
  const drawn = useRef<Way>([]);
  const line = useRef<SVGPolylineElement>(null);
  const show = () => line.current?.setAttribute('points', drawn.current.map((p) => p.join(',')).join(' '));
  const at = ({ x, y }: Place): [number, number] => {
    const { left, top } = (element.current as unknown as HTMLElement).getBoundingClientRect();
    return [x - left, y - top];
  };
  const element = useDrag({
    begin: (place) => {
      drawn.current = [at(place)];
      show();
    },
    move: (place) => {
      drawn.current.push(at(place));
      show();
    },
    end: () => {
      const points = drawn.current;
      drawn.current = [];
      show();
      onWay(points);
    },
    drop: () => {
      drawn.current = [];
      show();
    },
  });
  return (
    <View ref={element} role="img" aria-label={label} testID={testID} style={[StyleSheet.absoluteFill, styles.takes]}>
      <svg width="100%" height="100%" style={{ pointerEvents: 'none' }}>
        <polyline ref={line} fill="none" stroke={theme.accent} {...look} />
      </svg>
    </View>
  );
}

const styles = StyleSheet.create({ takes: { touchAction: 'none', cursor: 'crosshair' } as object });
