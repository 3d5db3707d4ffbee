import { useMemo, type ReactNode, type RefObject } from 'react';
import { StyleSheet, View, type StyleProp, type ViewStyle } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { histogramOf, type Tones } from '../../../../../core/picture/tones';
import type { CurveBox } from '../../../../components/curve-box';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

/** A box over a picture's tones: in it `drawn` (SVG), and what is dragged. @param width what it turned out to be. */
export function HistogramBox({
  testID,
  tones,
  geometry,
  width,
  height,
  boxRef,
  style,
  drawn,
  onWidth,
  children,
}: {
  testID: string;
  tones: Tones | undefined;
  geometry: CurveBox;
  width: number;
  height: number;
  boxRef?: RefObject<View | null>;
  style?: StyleProp<ViewStyle>;
  drawn: ReactNode;
  onWidth(width: number): void;
  children: ReactNode;
}) {
  const theme = useTheme();
  return (
    <View
      ref={boxRef}
      testID={testID}
      style={[styles.box, { height, backgroundColor: theme.raised, borderColor: theme.rule }, style]}
      onLayout={(e) => onWidth(e.nativeEvent.layout.width)}
    >
      <Svg
        width={width}
        height={height}
        viewBox={`0 0 ${Math.max(1, width)} ${height}`}
        aria-hidden
        style={styles.passes}
      >
        <Histogram tones={tones} geometry={geometry} />
        {drawn}
      </Svg>
      {children}
    </View>
  );
}

/** A picture's tones as bars behind what is set by them. */
function Histogram({ tones, geometry }: { tones: Tones | undefined; geometry: CurveBox }) {
  const theme = useTheme();
  const bars = useMemo(() => (tones ? histogramPath(tones) : ''), [tones]);
  const [left, right] = [geometry.place(0, 0), geometry.place(1, 1)];
  return (
    <Path
      d={bars}
      fill={theme.rule}
      transform={`translate(${left.x} ${right.y}) scale(${(right.x - left.x) / 256} ${left.y - right.y})`}
    />
  );
}

/** Bars of a box of 256 by 1. The root of the counts: rare tones are seen, too. */
function histogramPath(tones: Tones): string {
  const counts = histogramOf(tones);
  // The ends are often cut off in one heap: they do not make the others low.
  const most = Math.max(1, ...counts.subarray(2, 254));
  let path = 'M0 1';
  counts.forEach((count, v) => {
    const top = 1 - Math.min(1, Math.sqrt(count / most)) * 0.96;
    path += `L${v} ${top.toFixed(3)}L${v + 1} ${top.toFixed(3)}`;
  });
  return `${path}L256 1Z`;
}

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: RADIUS, userSelect: 'none' } as object,
  passes: { pointerEvents: 'none' },
});
