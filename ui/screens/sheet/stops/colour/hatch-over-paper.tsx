import { useMemo } from 'react';
import { StyleSheet } from 'react-native';
import Svg, { G, Path } from 'react-native-svg';
import { viewMatrix } from '../../../../../core/geometry/view';
import { inkOutline } from '../../../../../core/stroke/nib-outline';
import { encodePath } from '../../../../../core/stroke/pack-path';
import type { StrokePath } from '../../../../../core/stroke/path';
import { ENGINE, type Pen } from '../../../../../core/stroke/pen';
import { SpineMaker } from '../../../../../core/stroke/spine-maker';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../../theme/theme';
import { useHatch, useHatchHand, useHatching, useKeptHatching } from './use-hatching';

/** How closely a stroke that is looked at follows the one that would be kept, paper px. */
const NEAR_PX = 0.2;

/** The guides of hatching, and the strokes between them as they would be kept. */
export function HatchOverPaper() {
  const { stage } = useOpenSheet().session;
  const hatching = useHatching();
  useKeptHatching();
  const guides = useWatched(hatching.guides);
  const drawing = useWatched(hatching.drawing);
  useHatch();
  const strokes = useWatched(hatching.strokes);
  const hand = useHatchHand();
  const pen = hand?.pen;
  const d = useMemo(() => (pen && strokes !== 'many' ? outlinesOf(strokes, pen) : ''), [strokes, pen]);
  useViewOf(stage, guides.length > 0 || drawing !== undefined);
  const all = drawing ? [...guides, drawing] : guides;
  if (!stage || !all.length) return null;
  return (
    <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} testID="hatching" aria-hidden>
      <G transform={`matrix(${viewMatrix(stage.view).join(' ')})`}>
        <Path d={d} fill={hand?.colour} fillOpacity={pen?.opacity ?? 1} />
      </G>
      {all.map((guide, i) => (
        <GuideLine key={i} guide={guide} stage={stage} />
      ))}
    </Svg>
  );
}

/** A guide, or the dot that strokes fan out from. */
function GuideLine({ guide, stage }: { guide: Float64Array; stage: Stage }) {
  const d = wayPath(guide, (x, y) => stage.shown(x, y));
  const isDot = guide.length === 2;
  const line = { d, fill: 'none', strokeLinecap: 'round' } as const;
  return (
    <>
      <Path {...line} stroke={ON_PAPER_EDGE} strokeWidth={isDot ? 10 : 4} />
      <Path {...line} stroke={ON_PAPER} strokeWidth={isDot ? 8 : 2} strokeDasharray={isDot ? undefined : '6 5'} />
    </>
  );
}

function wayPath(xy: Float64Array, shown: (x: number, y: number) => readonly [number, number]): string {
  let text = '';
  for (let i = 0; i < xy.length; i += 2) {
    const [x, y] = shown(xy[i], xy[i + 1]);
    text += `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`;
  }
  return xy.length === 2 ? `${text}h0` : text;
}

/** Strokes as they are drawn, for the screen, paper px. */
function outlinesOf(strokes: readonly StrokePath[], pen: Pen): string {
  const maker = new SpineMaker();
  return strokes
    .map((path) => {
      const { xy, ends } = inkOutline(maker.ofBytes(encodePath(path), pen, ENGINE, NEAR_PX), NEAR_PX);
      let text = '';
      let from = 0;
      for (const end of ends) {
        for (let i = from; i < end; i++) text += `${i === from ? 'M' : 'L'}${xy[2 * i].toFixed(1)} ${xy[2 * i + 1].toFixed(1)}`; // prettier-ignore
        text += 'Z';
        from = end;
      }
      return text;
    })
    .join('');
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none', overflow: 'hidden' } });
