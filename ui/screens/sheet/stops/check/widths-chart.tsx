import { StyleSheet, View } from 'react-native';
import Svg, { Rect } from 'react-native-svg';
import { lengthInPx } from '../../../../../core/sheet/paper';
import { LINE_WIDTHS_MM } from '../../../../../core/stroke/line-widths';
import { Words } from '../../../../components/text';
import { useLayoutKind } from '../../frame/layout-kind';
import { useTheme } from '../../../../theme/theme-context';

const HEIGHT = 64;

/** How much of all lines is how wide, between the steps of the ladder of line widths. */
export function WidthsChart({ widths, ppi, thinPx }: { widths: Float64Array; ppi: number; thinPx: number }) {
  const theme = useTheme();
  const kind = useLayoutKind();
  const total = widths.reduce((sum, v) => sum + v, 0);
  const most = Math.max(1e-9, ...widths);
  const edges = ['0', ...LINE_WIDTHS_MM.map((mm) => mm.toFixed(2).replace(/0$/, ''))];
  const part = (n: number) => Math.round((100 * widths[n]) / Math.max(1e-9, total));
  const spoken = edges
    .map((from, n) =>
      part(n) ? `${part(n)} % ${n + 1 < edges.length ? `${from} to ${edges[n + 1]}` : `over ${from}`} mm` : '',
    )
    .filter(Boolean)
    .join(', ');
  return (
    <View role="img" style={styles.chart} aria-label={`Widths of all lines: ${total ? spoken : 'there are none'}`}>
      <Words size={14}>Widths of all lines, mm</Words>
      <Svg width="100%" height={HEIGHT} viewBox={`0 0 ${10 * widths.length} ${HEIGHT}`} preserveAspectRatio="none">
        {Array.from(widths, (width, n) => {
          const height = Math.max(width > 0 ? 2 : 0, (HEIGHT * width) / most);
          // Of the classes that the limit lies in or above.
          const isThin = (n === 0 ? 0 : lengthInPx(LINE_WIDTHS_MM[n - 1], ppi)) < thinPx;
          return (
            <Rect
              key={n}
              x={10 * n + 0.6}
              y={HEIGHT - height}
              width={8.8}
              height={height}
              fill={isThin ? theme.warning : theme.accent}
            />
          );
        })}
      </Svg>
      <View style={styles.edges} aria-hidden>
        {edges.map((edge, n) => (
          <Words key={edge} size={11} quiet style={styles.edge}>
            {kind === 'phone' || n % 2 === 0 ? edge : ''}
          </Words>
        ))}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  chart: { gap: 6 },
  edges: { flexDirection: 'row' },
  edge: { flex: 1 },
});
