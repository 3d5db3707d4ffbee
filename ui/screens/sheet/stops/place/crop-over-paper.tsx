import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Path, Polygon } from 'react-native-svg';
import type { Point, Quad } from '../../../../../core/geometry/homography';
import { apply, compose, invert, type Matrix } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import { frameCorners, LEAST_CROP_PX, type CropFrame } from '../../../../../core/picture/crop';
import { placementMatrix } from '../../../../../core/sheet/placement';
import type { Stage } from '../../../../canvas/stage';
import { useViewOf } from '../../../../canvas/use-view-of';
import { DragHandle } from '../../../../components/drag-handle';
import { useDrag, useDragBy, type Place } from '../../../../components/use-drag';
import type { CropDraft } from '../../../../session/cropping';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { ON_PAPER } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

const KEY_STEP_PX = 2;

/** The frame of a crop that is being made, or the corners of a page, over the picture. */
export function CropOverPaper() {
  const { session, cropping } = useOpenSheet();
  const draft = useWatched(cropping.draft);
  const { stage } = session;
  return draft && stage ? <CropMarks draft={draft} stage={stage} /> : null;
}

function CropMarks({ draft, stage }: { draft: CropDraft; stage: Stage }) {
  const { cropping } = useOpenSheet();
  useViewOf(stage);
  const levels = useWatched(cropping.levels);
  const toScreen = compose(viewMatrix(stage.view), placementMatrix(draft.laid, draft.input));
  const onScreen = ([x, y]: Point) => apply(toScreen, x, y);
  const { width, height } = draft.input;
  const all = frameCorners({ cx: width / 2, cy: height / 2, width, height, turnDeg: 0 }).map(onScreen);
  const corners = (draft.mode === 'frame' ? frameCorners(draft.frame) : draft.corners).map(onScreen) as unknown as Quad;
  const path = (points: readonly Point[]) => `M${points.map((p) => p.map((v) => v.toFixed(1)).join(' ')).join('L')}Z`;
  const thirds = draft.mode === 'frame' ? [1 / 3, 2 / 3] : [];
  const between = (a: Point, b: Point, u: number): Point => [a[0] + u * (b[0] - a[0]), a[1] + u * (b[1] - a[1])];
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]}>
      <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
        <Path d={path(all) + path(corners)} fillRule="evenodd" fill="#1D2433" fillOpacity={0.5} />
        <Polygon points={corners.map((c) => c.join(',')).join(' ')} fill="none" stroke="#FFFFFF" strokeWidth={3} />
        <Polygon points={corners.map((c) => c.join(',')).join(' ')} fill="none" stroke={ON_PAPER} strokeWidth={1.5} />
        {thirds.flatMap((u) =>
          [
            [between(corners[0], corners[1], u), between(corners[3], corners[2], u)],
            [between(corners[0], corners[3], u), between(corners[1], corners[2], u)],
          ].map(([a, b], i) => (
            <Line
              key={`${u}${i}`}
              x1={a[0]}
              y1={a[1]}
              x2={b[0]}
              y2={b[1]}
              stroke="#FFFFFF"
              strokeOpacity={0.6}
              strokeWidth={1}
            />
          )),
        )}
      </Svg>
      {draft.mode === 'frame' ? (
        <FrameHandles draft={draft} toScreen={toScreen} corners={corners} />
      ) : (
        corners.map((at, i) => (
          <CornerHandle
            key={i}
            at={at}
            label={`Drag corner ${i + 1} of the page; arrow keys move it`}
            onMove={(to) => cropping.setCorner(i, apply(invert(toScreen), ...to))}
          />
        ))
      )}
      {levels && <LevelLine stage={stage} />}
    </View>
  );
}

const SIDES = ['left', 'upper', 'right', 'lower'] as const;

/** The frame is moved by its inside; corners and sides move against the ones across. */
function FrameHandles({ draft, toScreen, corners }: { draft: CropDraft; toScreen: Matrix; corners: Quad }) {
  const { cropping } = useOpenSheet();
  const now = () => cropping.draft.now()?.frame ?? draft.frame;
  const ratio = cropping.ratioOf(draft.shape);
  const own = (to: Point): Point => inFrame(now(), apply(invert(toScreen), ...to));
  const pull = (signX: number, signY: number, to: Point) =>
    cropping.setFrame(pulled(now(), signX, signY, own(to), ratio));
  const middle = (a: Point, b: Point): Point => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const [p, q, r, s] = corners;
  const sides: [Point, number, number][] = [
    [middle(p, s), -1, 0],
    [middle(p, q), 0, -1],
    [middle(q, r), 1, 0],
    [middle(r, s), 0, 1],
  ];
  return (
    <>
      <FrameInside corners={corners} onMove={(dx, dy) => cropping.setFrame(shifted(now(), toScreen, dx, dy))} />
      {ratio === undefined &&
        sides.map(([at, x, y], i) => (
          <CornerHandle
            key={SIDES[i]}
            at={at}
            isSide
            label={`Drag the ${SIDES[i]} side of the crop; arrow keys move it`}
            onMove={(to) => pull(x, y, to)}
          />
        ))}
      {corners.map((at, i) => (
        <CornerHandle
          key={i}
          at={at}
          label={`Drag corner ${i + 1} of the crop; arrow keys move it`}
          onMove={(to) => pull(i === 0 || i === 3 ? -1 : 1, i < 2 ? -1 : 1, to)}
        />
      ))}
    </>
  );
}

/** A place of the picture along the frame's sides, from its middle. */
function inFrame({ cx, cy, turnDeg }: CropFrame, [x, y]: Point): Point {
  const angle = (turnDeg * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [c * (x - cx) + s * (y - cy), -s * (x - cx) + c * (y - cy)];
}

/** A frame with one of its corners or sides pulled to a place (`inFrame`); what lies across stays. */
function pulled(frame: CropFrame, signX: number, signY: number, to: Point, ratio: number | undefined): CropFrame {
  const sized = (sign: number, size: number, at: number) =>
    sign === 0 ? size : Math.max(LEAST_CROP_PX, sign * at + size / 2);
  let width = sized(signX, frame.width, to[0]);
  let height = sized(signY, frame.height, to[1]);
  if (ratio !== undefined) {
    width = Math.max(width, height * ratio, LEAST_CROP_PX * Math.max(1, ratio));
    height = width / ratio;
  }
  const angle = (frame.turnDeg * Math.PI) / 180;
  const [dx, dy] = [(signX * (width - frame.width)) / 2, (signY * (height - frame.height)) / 2];
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return { ...frame, width, height, cx: frame.cx + c * dx - s * dy, cy: frame.cy + s * dx + c * dy };
}

function shifted(frame: CropFrame, toScreen: Matrix, dx: number, dy: number): CropFrame {
  const back = invert(toScreen);
  const [x, y] = apply(toScreen, frame.cx, frame.cy);
  const [cx, cy] = apply(back, x + dx, y + dy);
  return { ...frame, cx, cy };
}

function FrameInside({ corners, onMove }: { corners: Quad; onMove(dx: number, dy: number): void }) {
  const box = useDragBy(onMove);
  const [p, q, , s] = corners;
  const width = Math.hypot(q[0] - p[0], q[1] - p[1]);
  const height = Math.hypot(s[0] - p[0], s[1] - p[1]);
  const cx = (corners[0][0] + corners[2][0]) / 2;
  const cy = (corners[0][1] + corners[2][1]) / 2;
  const deg = (Math.atan2(q[1] - p[1], q[0] - p[0]) * 180) / Math.PI;
  return (
    <View
      ref={box}
      testID="crop-inside"
      style={[
        styles.inside,
        { left: cx - width / 2, top: cy - height / 2, width, height, transform: [{ rotate: `${deg}deg` }] },
      ]}
    />
  );
}

function CornerHandle({
  at: [x, y],
  label,
  isSide = false,
  onMove,
}: {
  at: Point;
  label: string;
  isSide?: boolean;
  onMove(to: Point): void;
}) {
  const theme = useTheme();
  // A finger takes a handle somewhere; the handle stays that far from it.
  const grip = useRef<Point>([0, 0]);
  const drag = (box: () => DOMRect) => {
    const onPaper = (place: Place): Point => [place.x - box().left, place.y - box().top];
    return {
      begin: (place: Place) => {
        const [px, py] = onPaper(place);
        grip.current = [x - px, y - py];
      },
      move: (place: Place) => {
        const [px, py] = onPaper(place);
        onMove([px + grip.current[0], py + grip.current[1]]);
      },
      end: () => undefined,
      drop: () => undefined,
    };
  };
  return (
    <DragHandle
      at={[x, y]}
      label={label}
      drag={drag}
      onStep={(dx, dy) => onMove([x + dx * KEY_STEP_PX, y + dy * KEY_STEP_PX])}
    >
      <View style={[isSide ? styles.side : styles.corner, { borderColor: ON_PAPER, backgroundColor: theme.raised }]} />
    </DragHandle>
  );
}

/** Takes one stroke along something level or upright. */
function LevelLine({ stage }: { stage: Stage }) {
  const { cropping } = useOpenSheet();
  const [line, setLine] = useState<{ from: Point; to: Point }>();
  const latest = useRef<{ from: Point; to: Point }>(undefined);
  const set = (next: { from: Point; to: Point } | undefined) => {
    latest.current = next;
    setLine(next);
  };
  const onPaper = (place: Place): Point => {
    const box = (element.current as unknown as HTMLElement).getBoundingClientRect();
    return [place.x - box.left, place.y - box.top];
  };
  const element = useDrag({
    begin: (at) => set({ from: onPaper(at), to: onPaper(at) }),
    move: (at) => latest.current && set({ ...latest.current, to: onPaper(at) }),
    end: () => {
      const drawn = latest.current;
      set(undefined);
      const toPaper = invert(viewMatrix(stage.view));
      if (drawn) cropping.levelAlong(apply(toPaper, ...drawn.from), apply(toPaper, ...drawn.to));
    },
    drop: () => set(undefined),
  });
  return (
    <View ref={element} testID="level-line" style={[StyleSheet.absoluteFill, styles.draws]}>
      {line && (
        <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
          {[
            { stroke: '#FFFFFF', strokeWidth: 5 },
            { stroke: ON_PAPER, strokeWidth: 2.5 },
          ].map((pen) => (
            <Line key={pen.stroke} x1={line.from[0]} y1={line.from[1]} x2={line.to[0]} y2={line.to[1]} {...pen} />
          ))}
        </Svg>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  inside: { position: 'absolute', touchAction: 'none', cursor: 'move', pointerEvents: 'auto' } as object,
  corner: { width: 18, height: 18, borderRadius: 9, borderWidth: 3 },
  side: { width: 14, height: 14, borderRadius: 3, borderWidth: 2 },
  draws: { touchAction: 'none', cursor: 'crosshair', pointerEvents: 'auto' } as object,
});
