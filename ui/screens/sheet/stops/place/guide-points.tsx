import { StyleSheet, View } from 'react-native';
import { apply, invert } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import type { Guides } from '../../../../../core/sheet/entities';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { DragHandle } from '../../../../components/drag-handle';
import type { Place } from '../../../../components/use-drag';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { setGuides } from '../../../../session/stack-actions';
import { useAppSelector } from '../../../../store/store';
import { ON_PAPER } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

const KEY_STEP_PX = 8;

/** The vanishing points of perspective guides, to be dragged; none while a picture is moved. */
export function GuidePoints() {
  const guides = useAppSelector((s) => s.sheet.settings?.guides);
  const moving = useAppSelector((s) => s.sheet.movingPicture);
  const { stage } = useOpenSheet().session;
  if (guides?.kind !== 'perspective' || moving !== null || !stage) return null;
  return (
    <>
      {guides.points.map((_, i) => (
        <GuidePoint key={i} stage={stage} guides={guides} index={i} />
      ))}
    </>
  );
}

function GuidePoint({ stage, guides, index }: { stage: Stage; guides: Guides; index: number }) {
  const theme = useTheme();
  const { session, placing } = useOpenSheet();
  useViewOf(stage);
  const drafted = useWatched(placing.guides);
  const show = (point: [number, number]) =>
    placing.guides.set({ ...guides, points: guides.points.map((p, i) => (i === index ? point : p)) });
  const keep = () => {
    const moved = placing.guides.now();
    if (moved) void setGuides(session, moved);
    placing.guides.set(undefined);
  };
  const drag = (box: () => DOMRect) => {
    const onPaper = ({ x, y }: Place): [number, number] => {
      const { left, top } = box();
      return apply(invert(viewMatrix(stage.view)), x - left, y - top);
    };
    return {
      move: (place: Place) => show(onPaper(place)),
      end: keep,
      drop: () => placing.guides.set(undefined),
    };
  };
  const [px, py] = (drafted ?? guides).points[index];
  const far = KEY_STEP_PX / stage.view.scale;
  return (
    <DragHandle
      at={apply(viewMatrix(stage.view), px, py)}
      label={`Drag vanishing point ${index + 1}; arrow keys move it`}
      drag={drag}
      onStep={(x, y) => {
        show([px + x * far, py + y * far]);
        keep();
      }}
    >
      <View style={[styles.dot, { borderColor: ON_PAPER, backgroundColor: theme.raised }]} />
    </DragHandle>
  );
}

const styles = StyleSheet.create({ dot: { width: 18, height: 18, borderRadius: 9, borderWidth: 3 } });
