import Svg, { Path } from 'react-native-svg';
import { useTheme } from '../theme/theme-context';

/** A short tapered stroke: under the name, and under the stop that is open. */
export function PenUnderline({ width, weight = 4, accent }: { width: number; weight?: number; accent?: boolean }) {
  const theme = useTheme();
  const h = weight + 2;
  const y = h / 2;
  const d = `M0 ${y}C${width * 0.3} ${y - weight * 0.15} ${width * 0.7} ${y - weight * 0.4} ${width} ${y - weight / 2}C${width * 0.92} ${y + weight * 0.3} ${width * 0.7} ${y + weight * 0.55} ${width * 0.5} ${y + weight * 0.5}C${width * 0.3} ${y + weight * 0.4} ${width * 0.1} ${y + 0.4} 0 ${y}Z`;
  return (
    <Svg width={width} height={h} aria-hidden>
      <Path d={d} fill={accent ? theme.accent : theme.text} />
    </Svg>
  );
}
