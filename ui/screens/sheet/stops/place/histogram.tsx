import { useMemo } from 'react';
import { Path } from 'react-native-svg';
import { histogramOf, type Tones } from '../../../../../core/picture/tones';
import type { CurveBox } from '../../../../components/curve-box';
import { useTheme } from '../../../../theme/theme-context';

/** A picture's tones as bars behind what is set by them. */
export function Histogram({ tones, geometry }: { tones: Tones | undefined; geometry: CurveBox }) {
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
