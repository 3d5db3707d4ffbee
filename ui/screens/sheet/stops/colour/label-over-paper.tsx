import { StyleSheet } from 'react-native';
import Svg, { Line } from 'react-native-svg';
import { apply, compose, type Matrix } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import { isLocked } from '../../../../../core/sheet/layer-tree';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../../theme/theme';
import { gestureOf, onPaper } from '../../paper/corner-drag';
import { FrameHandles } from '../../paper/frame-handles';
import { handlePlaces } from '../../paper/handle-places';
import { useLabel, useLabelHand, useLabelInHand, useLabelling } from './use-labelling';

/** The frame of the chosen text, or where the next one begins. */
export function LabelOverPaper() {
  const { stage, model } = useOpenSheet().session;
  const label = useLabel();
  const place = useWatched(useLabelling().place);
  const isWriting = useAppSelector((s) => s.colouring.way === 'text');
  useLabelInHand();
  if (!stage || !isWriting) return null;
  if (label && !isLocked(label.layer, model.layers)) return <LabelFrame stage={stage} />;
  return place ? <Beginning place={place} stage={stage} /> : null;
}

/** Corners size the text, the stem turns it. */
function LabelFrame({ stage }: { stage: Stage }) {
  const labelling = useLabelling();
  const shown = useWatched(labelling.shown);
  useViewOf(stage);
  const label = labelling.label();
  if (!label) return null;
  const { label: words, matrix } = label.letters;
  const [x0, y0, x1, y1] = words.box;
  const toScreen = compose(viewMatrix(stage.view), compose(shown ?? matrix, [1, 0, 0, 1, x0, y0]));
  const drag = (keep: () => Promise<void>) => ({
    begin: () => undefined,
    move: (change: Matrix) => {
      const middle = apply(labelling.shown.now() ?? matrix, (x0 + x1) / 2, (y0 + y1) / 2);
      const { factor, turnDeg } = gestureOf(change);
      const [x, y] = apply(onPaper(change, stage.view), ...middle);
      labelling.showOn({ dx: x - middle[0], dy: y - middle[1], factor, turnDeg });
    },
    end: () => void keep(),
    drop: () => labelling.dropShown(),
  });
  return (
    <FrameHandles
      places={handlePlaces(toScreen, x1 - x0, y1 - y0, stage.free())}
      onScale={drag(() => labelling.keepShown('Size text'))}
      onTurn={drag(() => labelling.keepTurned())}
    />
  );
}

/** As high as the first letters will be. */
function Beginning({ place: [x, y], stage }: { place: readonly [number, number]; stage: Stage }) {
  useViewOf(stage);
  const { sizePx } = useLabelHand();
  const [[ax, ay], [bx, by]] = [stage.shown(x, y - sizePx / 2), stage.shown(x, y + sizePx / 2)];
  const line = { x1: ax, y1: ay, x2: bx, y2: by, strokeLinecap: 'round' } as const;
  return (
    <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} testID="text-begins" aria-hidden>
      <Line {...line} stroke={ON_PAPER_EDGE} strokeWidth={5} />
      <Line {...line} stroke={ON_PAPER} strokeWidth={2} />
    </Svg>
  );
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none', overflow: 'hidden' } });
