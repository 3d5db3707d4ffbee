import { useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { useTheme } from '../theme/theme-context';
import { useDrag, type Place } from './use-drag';

/** Takes a loop that is drawn around a part of what lies beneath. @param onLoop told its places, CSS px of this layer. */
export function LoopLayer({ onLoop }: { onLoop(points: [number, number][]): void }) {
  const theme = useTheme();
  const drawn = useRef<[number, number][]>([]);
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
      if (points.length >= 3) onLoop(points);
    },
    drop: () => {
      drawn.current = [];
      show();
    },
  });
  return (
    <View
      ref={element}
      role="img"
      aria-label="Draw around the part that is meant"
      testID="loop-layer"
      style={[StyleSheet.absoluteFill, styles.takes]}
    >
      <svg width="100%" height="100%" style={{ pointerEvents: 'none' }}>
        <polyline ref={line} fill="none" stroke={theme.accent} strokeWidth={2} strokeDasharray="6 5" />
      </svg>
    </View>
  );
}

const styles = StyleSheet.create({ takes: { touchAction: 'none', cursor: 'crosshair' } as object });
