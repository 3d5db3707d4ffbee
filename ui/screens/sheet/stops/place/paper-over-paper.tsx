import { StyleSheet, View } from 'react-native';
import Svg, { Path, Polygon } from 'react-native-svg';
import type { Box } from '../../../../../core/geometry/box';
import { apply, invert } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import { newPaperSize } from '../../../../../core/sheet/paper-change';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { DragHandle } from '../../../../components/drag-handle';
import { Words } from '../../../../components/text';
import type { Place } from '../../../../components/use-drag';
import { useOpenSheet } from '../../../../session/session-context';
import type { PaperSide } from '../../../../session/paper-edit';
import { describe } from '../../../drawer/new-sheet-dialog';
import { useWatched } from '../../../../session/watched';
import { ON_PAPER, RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { usePaperEdit } from './use-paper-edit';

const KEY_STEP_PX = 10;
const NAMES: Record<PaperSide, string> = { x0: 'left', y0: 'upper', x1: 'right', y1: 'lower' };
/** Edges and corners: the sides that each moves, and where it stands between them. */
const HANDLES: readonly (readonly PaperSide[])[] = [
  ['x0'],
  ['y0'],
  ['x1'],
  ['y1'],
  ['x0', 'y0'],
  ['x1', 'y0'],
  ['x1', 'y1'],
  ['x0', 'y1'],
];

/** The paper's edges, to be dragged; what would be cut off is dimmed, and the size is told. */
export function PaperOverPaper() {
  const { stage } = useOpenSheet().session;
  const edit = usePaperEdit();
  const draft = useWatched(edit.draft);
  return draft && stage ? <Edges box={draft.box} stage={stage} words={describe(newPaperSize(draft))} /> : null;
}

function Edges({ box, stage, words }: { box: Box; stage: Stage; words: string }) {
  const theme = useTheme();
  const edit = usePaperEdit();
  useViewOf(stage);
  const view = viewMatrix(stage.view);
  const { widthPx, heightPx } = edit.now;
  const corners = ({ x0, y0, x1, y1 }: Box) =>
    ([[x0, y0], [x1, y0], [x1, y1], [x0, y1]] as const).map(([x, y]) => apply(view, x, y)); // prettier-ignore
  const [paper, next] = [corners({ x0: 0, y0: 0, x1: widthPx, y1: heightPx }), corners(box)];
  const path = (points: readonly (readonly number[])[]) =>
    `M${points.map((p) => p.map((v) => v.toFixed(1)).join(' ')).join('L')}Z`;
  // Between the handles of the edges.
  const [lx, ly] = apply(view, (box.x0 + box.x1) / 2, box.y0 + 0.75 * (box.y1 - box.y0));
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="paper-edges">
      <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
        <Path d={path(paper) + path(next)} fillRule="evenodd" fill="#1D2433" fillOpacity={0.35} />
        <Polygon points={next.map((p) => p.join(',')).join(' ')} fill="none" stroke="#FFFFFF" strokeWidth={3} />
        <Polygon points={next.map((p) => p.join(',')).join(' ')} fill="none" stroke={ON_PAPER} strokeWidth={1.5} />
      </Svg>
      <View style={[styles.label, { left: lx - 150, top: ly - 14 }]}>
        <View style={[styles.tag, { backgroundColor: theme.card, borderColor: theme.rule }]}>
          <Words size={13}>{words}</Words>
        </View>
      </View>
      {HANDLES.map((sides) => (
        <EdgeHandle key={sides.join()} sides={sides} box={box} stage={stage} />
      ))}
    </View>
  );
}

function EdgeHandle({ sides, box, stage }: { sides: readonly PaperSide[]; box: Box; stage: Stage }) {
  const theme = useTheme();
  const edit = usePaperEdit();
  const along = (a: 'x0' | 'y0', b: 'x1' | 'y1') =>
    sides.includes(a) ? box[a] : sides.includes(b) ? box[b] : (box[a] + box[b]) / 2;
  const [px, py] = [along('x0', 'x1'), along('y0', 'y1')];
  const at = apply(viewMatrix(stage.view), px, py);
  const pull = (x: number, y: number) =>
    edit.pull(Object.fromEntries(sides.map((side) => [side, side.startsWith('x') ? x : y])));
  const isCorner = sides.length > 1;
  const drag = (parent: () => DOMRect) => {
    const move = ({ x, y }: Place) => {
      const { left, top } = parent();
      pull(...apply(invert(viewMatrix(stage.view)), x - left, y - top));
    };
    return { move, end: move, drop: () => undefined };
  };
  return (
    <DragHandle
      at={at}
      label={`Drag the ${sides.map((s) => NAMES[s]).join(' and ')} edge of the paper; arrow keys move it`}
      drag={drag}
      onStep={(x, y) => pull(px + x * KEY_STEP_PX, py + y * KEY_STEP_PX)}
    >
      <View
        style={[isCorner ? styles.corner : styles.side, { borderColor: ON_PAPER, backgroundColor: theme.raised }]}
      />
    </DragHandle>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  label: { position: 'absolute', width: 300, alignItems: 'center' },
  tag: { paddingHorizontal: 8, paddingVertical: 3, borderRadius: RADIUS, borderWidth: 1 },
  corner: { width: 18, height: 18, borderRadius: 3, borderWidth: 3 },
  side: { width: 16, height: 16, borderRadius: 8, borderWidth: 3 },
});
