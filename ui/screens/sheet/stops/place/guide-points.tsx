import { useEffect, useReducer } from 'react';
import { StyleSheet, View } from 'react-native';
import { apply, invert } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import type { Guides } from '../../../../../core/sheet/entities';
import type { Stage } from '../../../../canvas/stage';
import { useDrag, type Place } from '../../../../components/use-drag';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { setGuides } from '../../../../session/stack-actions';
import { useAppSelector } from '../../../../store/store';
import { ON_PAPER, TOUCH } from '../../../../theme/theme';
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
  const [, look] = useReducer((n: number) => n + 1, 0);
  useEffect(() => stage.watchView(look), [stage]);
  const drafted = useWatched(placing.guides);
  const show = (point: [number, number]) =>
    placing.guides.set({ ...guides, points: guides.points.map((p, i) => (i === index ? point : p)) });
  const keep = () => {
    const moved = placing.guides.now();
    if (moved) void setGuides(session, moved);
    placing.guides.set(undefined);
  };
  const onPaper = ({ x, y }: Place): [number, number] => {
    const box = (element.current as unknown as HTMLElement).parentElement!.getBoundingClientRect();
    return apply(invert(viewMatrix(stage.view)), x - box.left, y - box.top);
  };
  const element = useDrag({
    begin: () => undefined,
    move: (place) => show(onPaper(place)),
    end: keep,
    drop: () => placing.guides.set(undefined),
  });
  const [px, py] = (drafted ?? guides).points[index];
  const [x, y] = apply(viewMatrix(stage.view), px, py);
  const step = (key: string) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[key];
    if (!by) return false;
    const far = KEY_STEP_PX / stage.view.scale;
    show([px + by[0] * far, py + by[1] * far]);
    keep();
    return true;
  };
  return (
    <View
      ref={element}
      role="button"
      tabIndex={0}
      aria-label={`Drag vanishing point ${index + 1}; arrow keys move it`}
      {...({
        onKeyDown: (e: { key: string; preventDefault(): void; stopPropagation(): void }) => {
          if (!step(e.key)) return;
          e.preventDefault();
          e.stopPropagation();
        },
      } as object)}
      style={[styles.touch, { left: x - TOUCH / 2, top: y - TOUCH / 2 }]}
    >
      <View style={[styles.dot, { borderColor: ON_PAPER, backgroundColor: theme.raised }]} />
    </View>
  );
}

const styles = StyleSheet.create({
  touch: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    touchAction: 'none',
    cursor: 'grab',
  } as object,
  dot: { width: 18, height: 18, borderRadius: 9, borderWidth: 3 },
});
