import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { useStore } from 'react-redux';
import { moved, restingTurn } from '../../../../core/geometry/view';
import { WheelWay, wheelWish } from '../../../canvas/page-wheel';
import { PointerInput } from '../../../canvas/pointer-input';
import { Stage, type Insets } from '../../../canvas/stage';
import { useOpenSheet } from '../../../session/session-context';
import { noticeSlice } from '../../../store/notice-slice';
import { penSlice } from '../../../store/pen-slice';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector, type AppStore } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { useLayoutKind, useUprightTablet } from '../frame/layout-kind';
import { useStop, type PaperGestures } from '../stops/stop';
import { CatchMark, showCatch } from './catch-mark';
import { GuidesOverPaper } from './guides-over-paper';
import { NibRing, showRing } from './nib-ring';
import { useKeys } from './use-keys';

/** Wheel and trackpad say nothing when they end: so long without an event is the end. */
const WHEEL_REST_MS = 160;

/** A fingertip hides about so much above its middle (common practice, no source). */
const FINGER_LIFT_PX = 44;

/** Columns that were folded away come back where a pen or a mouse comes so near to a side, CSS px. */
const SIDE_PX = 10;
const isAtSide = ({ x }: { x: number }, host: HTMLElement) => x < SIDE_PX || x > host.clientWidth - SIDE_PX;

/** The paper with everything on it, and the pointers, wheel and keys that work on it. */
export function PaperView({ insets }: { insets: Insets }) {
  const theme = useTheme();
  const open = useOpenSheet();
  const { session, inking, mover } = open;
  const dispatch = useAppDispatch();
  const store = useStore() as AppStore;
  const stop = useStop();
  const latestStop = useRef(stop);
  useEffect(() => {
    latestStop.current = stop;
  });
  const upright = useUprightTablet();
  const kind = useLayoutKind();
  const hasColumns = useRef(false);
  useEffect(() => {
    hasColumns.current = kind === 'wide';
  }, [kind]);
  const box = useRef<View>(null);
  const ring = useRef<View>(null);
  const catchMark = useRef<View>(null);
  const input = useRef<PointerInput>(undefined);
  const stack = useAppSelector((s) => s.sheet.stack);
  const settings = useAppSelector((s) => s.sheet.settings);
  const looking = useAppSelector((s) => s.sheet.looking);
  const moving = useAppSelector((s) => s.sheet.movingPicture);
  const ground = useAppSelector((s) => s.sheet.sentGround ?? s.sheet.ground);
  const fingersMove = useAppSelector((s) => s.settings.fingersMove);
  const sideButton = useAppSelector((s) => s.settings.sideButton);
  const columnsStay = useAppSelector((s) => s.settings.columnsStay);
  const nibAboveFinger = useAppSelector((s) => s.settings.nibAboveFinger);

  useEffect(() => {
    const host = box.current as unknown as HTMLElement;
    const ringElement = ring.current as unknown as HTMLElement;
    const stage = new Stage(host, session.client, session.paper, session.model.settings, () =>
      dispatch(
        noticeSlice.actions.add({
          text: 'The picture could not be loaded from the server. It is kept there; reload to see it.',
          tone: 'warning',
        }),
      ),
    );
    session.showOn(stage);
    // The kept picture goes when everything is painted, or when the artist does not wait for it.
    const painted = () => {
      if (!store.getState().sheet.painted) dispatch(sheetSlice.actions.painted());
    };
    stage.onComplete = painted;
    stage.setInsets(insets);
    let told = 0;
    stage.watchView(({ scale, turnDeg }) => {
      cancelAnimationFrame(told);
      told = requestAnimationFrame(() => dispatch(sheetSlice.actions.view({ scale, turnDeg })));
    });
    const measure = () => {
      // What is drawn after the screen has turned would go through another view.
      input.current?.finish();
      stage.setViewport({ width: host.clientWidth, height: host.clientHeight });
    };
    const observer = new ResizeObserver(measure);
    observer.observe(host);
    measure();
    const toolNow = (eraserEnd: boolean) =>
      latestStop.current.tool?.(store.getState(), session.model.settings, session.paper.ppi, eraserEnd);
    const isMoving = () => store.getState().sheet.movingPicture;
    // Who inks on a layer does not look at another one alone any more.
    const showTarget = () => {
      const { target } = session.model.settings;
      const { peekHeld, peekKept, over, tones } = store.getState().sheet.looking;
      if (target === null || stage.isLookedAt(target)) return;
      dispatch(sheetSlice.actions.look({ solo: undefined }));
      stage.setLooking({ peek: peekHeld || peekKept, over, tones });
    };
    const gesturesNow = (at?: { x: number; y: number }) => latestStop.current.gestures?.({ ...open, store }, at);
    let gestures: PaperGestures | undefined;
    let takesTwo: boolean | undefined;
    input.current = new PointerInput(
      host,
      {
        stage,
        strokeStart: ({ hasPressure, eraserEnd, isPen, adds, at }) => {
          painted();
          const device = isPen ? 'pen' : 'hand';
          if (store.getState().pen.device !== device) dispatch(penSlice.actions.drawWith(device));
          if (!store.getState().sheet.folded) dispatch(sheetSlice.actions.fold());
          gestures = gesturesNow(at);
          if (gestures) return gestures.start(adds);
          const tool = toolNow(eraserEnd);
          if (tool) showTarget();
          if (tool) inking.begin(tool, hasPressure);
        },
        pathOf: (hand, isEven) => (gestures ? undefined : inking.pathOf(hand, isEven)),
        strokeMoved: (points, at) => {
          if (gestures) for (const point of points) gestures.move(point);
          else inking.follow(at);
        },
        strokeEnd: () => (gestures ? gestures.end() : void inking.end()),
        strokeDrop: () => (gestures ? gestures.drop() : inking.drop()),
        pageStart: () => {
          painted();
          const id = isMoving();
          if (id) mover.begin(id, store.getState().sheet.moveWithInk);
        },
        pageMove: (from, to, factor, turn) => {
          if (takesTwo === undefined) {
            gestures = gesturesNow();
            takesTwo = gestures?.takesTwo(...stage.toPaper(...from)) ?? false;
          }
          if (takesTwo) gestures!.moveTwo(from, to, factor, turn);
          else if (isMoving()) mover.move(from, to, factor, turn);
          else {
            const [a, b] = [stage.seen(from), stage.seen(to, from)];
            stage.setView(moved(stage.view, a, b, factor, stage.isMirrored ? -turn : turn), true, b);
          }
        },
        pageEnd: () => {
          const tookTwo = takesTwo;
          takesTwo = undefined;
          if (tookTwo) return gestures?.endTwo();
          if (isMoving()) return mover.end();
          const { view, size } = stage;
          const middle: [number, number] = [size.width / 2, size.height / 2];
          stage.setView(moved(view, middle, middle, 1, restingTurn(view.turnDeg) - view.turnDeg));
        },
        hover: (at) => {
          const tool = isMoving() || gesturesNow() ? undefined : toolNow(false);
          showRing(ringElement, at, tool && tool.sizePx * stage.view.scale);
          if (at && hasColumns.current && store.getState().sheet.penNear && !session.isHandBusy && isAtSide(at, host))
            dispatch(sheetSlice.actions.unfold());
        },
        penNear: () => {
          const { sheet, settings: own } = store.getState();
          if (!sheet.penNear && !own.columnsStay && !gesturesNow() && input.current?.arbiter.rules.single === 'ink')
            dispatch(sheetSlice.actions.comeNear());
        },
      },
      { single: 'ink', fingersMoveAfterPen: true, fingerLiftPx: 0, sideErases: false },
    );
    const mark = catchMark.current as unknown as HTMLElement;
    const unwatch = inking.watchMeetings((at) => showCatch(mark, at && stage.toScreen(at.x, at.y)));
    const way = new WheelWay();
    const rest = () => {
      stage.setView(stage.view);
      way.rested(stage.view);
    };
    let resting: ReturnType<typeof setTimeout> | undefined;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      painted();
      const box = host.getBoundingClientRect();
      const at = stage.seen([e.clientX - box.left, e.clientY - box.top]);
      const wish = wheelWish(e);
      const id = isMoving();
      if (id) {
        mover.wheel(id, at, wish, store.getState().sheet.moveWithInk);
        return;
      }
      const view = way.from(stage.view, at);
      const along = wish.kind === 'zoom' ? 0 : stage.isMirrored ? -wish.dx : wish.dx;
      stage.setView(
        wish.kind === 'zoom' ? moved(view, at, at, wish.factor) : { ...view, x: view.x + along, y: view.y + wish.dy },
        true,
        at,
      );
      way.moved(stage.view, at);
      // Whole px come once, after the last of them: each rounding would carry the page away from the pointer.
      clearTimeout(resting);
      resting = setTimeout(rest, WHEEL_REST_MS);
    };
    host.addEventListener('wheel', wheel, { passive: false });
    void inking.restoreHeld();
    return () => {
      host.removeEventListener('wheel', wheel);
      clearTimeout(resting);
      observer.disconnect();
      cancelAnimationFrame(told);
      mover.flush();
      unwatch();
      input.current?.close();
      stage.close();
      session.showOn(undefined);
    };
    // The stage lives as long as the session; insets have their own effect.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [open, session, inking, mover, dispatch, store]);

  useEffect(() => {
    if (settings) session.drafts.refresh();
  }, [session, stack, settings]);
  useEffect(() => {
    const { peekHeld, peekKept, over, solo, tones } = looking;
    session.stage?.setLooking({ peek: peekHeld || peekKept, over, solo, tones });
  }, [session, looking]);
  useEffect(() => {
    session.stage?.setInsets(insets);
  }, [session, insets]);
  useEffect(() => {
    session.stage?.setGround(ground);
  }, [session, ground]);
  useEffect(() => {
    if (input.current)
      input.current.rules = {
        single: stop.tool ? 'ink' : 'move',
        fingersMoveAfterPen: fingersMove,
        fingerLiftPx: nibAboveFinger && stop.tool ? FINGER_LIFT_PX : 0,
        sideErases: sideButton === 'erase',
      };
    if (!stop.tool) dispatch(sheetSlice.actions.unfold());
  }, [stop, fingersMove, nibAboveFinger, sideButton, dispatch, session]);
  useEffect(() => {
    if (upright && stop.tool && !columnsStay) dispatch(sheetSlice.actions.comeNear());
  }, [upright, stop, columnsStay, dispatch]);
  useKeys(input);

  return (
    <View style={[StyleSheet.absoluteFill, { backgroundColor: theme.desk }]}>
      <View
        ref={box}
        role="img"
        aria-label={moving ? 'Paper. Drag to move the picture' : 'Paper'}
        testID="paper"
        style={[StyleSheet.absoluteFill, styles.stage]}
      />
      <GuidesOverPaper />
      {stop.OverPaper && <stop.OverPaper />}
      <NibRing ref={ring} />
      <CatchMark ref={catchMark} />
    </View>
  );
}

const styles = StyleSheet.create({
  stage: { overflow: 'hidden', touchAction: 'none', userSelect: 'none', cursor: 'crosshair' } as object,
});
