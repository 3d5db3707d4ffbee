import { useEffect, useMemo, useRef } from 'react';
import { Image, StyleSheet, useWindowDimensions, View } from 'react-native';
import GripHorizontal from 'lucide-react-native/icons/grip-horizontal';
import MoveDiagonal from 'lucide-react-native/icons/move-diagonal-2';
import X from 'lucide-react-native/icons/x';
import ZoomIn from 'lucide-react-native/icons/zoom-in';
import ZoomOut from 'lucide-react-native/icons/zoom-out';
import { shownSize } from '../../../../core/sheet/recipe-placement';
import type { ReferenceLayer } from '../../../../core/sheet/entities';
import {
  boundedBeside,
  firstBeside,
  LEAST_HEIGHT_PX,
  LEAST_WIDTH_PX,
  movedInside,
  zoomedInside,
  type BesideView,
} from './beside-view';
import { IconButton } from '../../../components/button';
import { Words } from '../../../components/text';
import { useDragBy, type Place } from '../../../components/use-drag';
import { useOpenSheet } from '../../../session/session-context';
import { setVisible } from '../../../session/stack-actions';
import { usePictureAddress } from '../../../session/use-picture-address';
import { useWatched } from '../../../session/watched';
import { useAppSelector } from '../../../store/store';
import { RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';

const NOTCH = 1.3;
/** Of a picture that was changed, so many px a side are made to be looked at. */
const BESIDE_SIDE_PX = 2000;
/** Zoom per wheel px: one notch of most wheels, 100 px, is about 1.2. */
const WHEEL_PER_PX = 0.0018;

/** Pictures that lie beside the paper, each in a card of its own, at any stop: full, whatever the paper's view and hush. */
export function BesidePictures() {
  const stack = useAppSelector((s) => s.sheet.stack);
  const shown = stack.filter((l): l is ReferenceLayer => l.kind === 'reference' && l.beside === true && l.visible);
  return (
    <>
      {shown.map((picture, i) => (
        <BesideCard key={picture.id} picture={picture} nth={i} />
      ))}
    </>
  );
}

function BesideCard({ picture, nth }: { picture: ReferenceLayer; nth: number }) {
  const theme = useTheme();
  const { session, placing } = useOpenSheet();
  const views = useWatched(placing.beside);
  const { width, height } = useWindowDimensions();
  const { id, name } = picture;
  const free = session.stage?.free() ?? { x0: 0, y0: 0, x1: width, y1: height };
  const view = boundedBeside(views[id] ?? firstBeside(shownSize(picture), free, nth), { width, height });
  const set = (next: BesideView) => placing.beside.set({ ...placing.beside.now(), [id]: next });
  // Moves come quicker than the screen is drawn.
  const now = () => placing.beside.now()[id] ?? view;
  const head = useDragBy((dx, dy) => set({ ...now(), left: now().left + dx, top: now().top + dy }));
  const corner = useDragBy((dx, dy) =>
    set({
      ...now(),
      width: Math.max(LEAST_WIDTH_PX, now().width + dx),
      height: Math.max(LEAST_HEIGHT_PX, now().height + dy),
    }),
  );
  const zoom = (factor: number) => set(zoomedInside(view, factor));
  return (
    <View
      role="region"
      aria-label={`${name}, beside the paper`}
      style={[
        styles.card,
        {
          left: view.left,
          top: view.top,
          width: view.width,
          height: view.height + TOUCH,
          backgroundColor: theme.raised,
          borderColor: theme.rule,
        },
      ]}
    >
      <View style={styles.head}>
        <View ref={head} style={styles.grip} aria-hidden>
          <GripHorizontal size={18} color={theme.quiet} />
          <Words size={13} numberOfLines={1} style={styles.name}>
            {name}
          </Words>
        </View>
        <IconButton label={`Smaller: ${name}`} icon={ZoomOut} boxed={false} size={18} onPress={() => zoom(1 / NOTCH)} />
        <IconButton label={`Larger: ${name}`} icon={ZoomIn} boxed={false} size={18} onPress={() => zoom(NOTCH)} />
        <IconButton
          label={`Hide ${name}`}
          icon={X}
          boxed={false}
          size={18}
          onPress={() => void setVisible(session, [picture], false)}
        />
      </View>
      <Inside picture={picture} view={view} onChange={set} />
      <View ref={corner} style={[styles.corner, { backgroundColor: theme.raised }]} aria-hidden>
        <MoveDiagonal size={18} color={theme.quiet} />
      </View>
    </View>
  );
}

/** The part of the picture that the card shows: moved by one finger, scaled by two or a wheel. */
function Inside({
  picture: layer,
  view,
  onChange,
}: {
  picture: ReferenceLayer;
  view: BesideView;
  onChange(view: BesideView): void;
}) {
  const { name } = layer;
  const { width: sizeX, height: sizeY } = shownSize(layer);
  const picture = useMemo(() => ({ width: sizeX, height: sizeY }), [sizeX, sizeY]);
  const address = usePictureAddress(layer, BESIDE_SIDE_PX);
  const box = useRef<View>(null);
  const latest = useRef({ view, onChange });
  useEffect(() => {
    latest.current = { view, onChange };
  });
  useEffect(() => {
    const node = box.current as unknown as HTMLElement;
    const fingers = new Map<number, Place>();
    const abort = new AbortController();
    const on = (type: string, listen: (e: never) => void) =>
      node.addEventListener(type, listen as EventListener, { signal: abort.signal, passive: false });
    const change = (next: BesideView) => {
      latest.current.view = next;
      latest.current.onChange(next);
    };
    on('pointerdown', (e: PointerEvent) => {
      e.preventDefault();
      node.setPointerCapture(e.pointerId);
      fingers.set(e.pointerId, { x: e.clientX, y: e.clientY });
    });
    on('pointermove', (e: PointerEvent) => {
      const was = fingers.get(e.pointerId);
      if (!was) return;
      const now = { x: e.clientX, y: e.clientY };
      const other = [...fingers].find(([finger]) => finger !== e.pointerId)?.[1];
      fingers.set(e.pointerId, now);
      const share = other ? 0.5 : 1;
      let next = movedInside(latest.current.view, picture, (now.x - was.x) * share, (now.y - was.y) * share);
      if (other) {
        const before = Math.max(1, Math.hypot(was.x - other.x, was.y - other.y));
        next = zoomedInside(next, Math.hypot(now.x - other.x, now.y - other.y) / before);
      }
      change(next);
    });
    const lift = (e: PointerEvent) => fingers.delete(e.pointerId);
    on('pointerup', lift);
    on('pointercancel', lift);
    on('wheel', (e: WheelEvent) => {
      e.preventDefault();
      change(zoomedInside(latest.current.view, Math.exp(-e.deltaY * WHEEL_PER_PX)));
    });
    return () => abort.abort();
  }, [picture]);
  const scale = Math.min(view.width / picture.width, view.height / picture.height) * view.zoom;
  const [w, h] = [picture.width * scale, picture.height * scale];
  return (
    <View ref={box} style={styles.inside}>
      <Image
        source={{ uri: address }}
        alt={name}
        style={{
          position: 'absolute',
          left: view.width / 2 - view.x * w,
          top: view.height / 2 - view.y * h,
          width: w,
          height: h,
        }}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  card: { position: 'absolute', borderWidth: 1, borderRadius: RADIUS, overflow: 'hidden' },
  head: { height: TOUCH, flexDirection: 'row', alignItems: 'center' },
  grip: {
    flex: 1,
    minWidth: 0,
    height: TOUCH,
    paddingLeft: 10,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    touchAction: 'none',
    cursor: 'grab',
    userSelect: 'none',
  } as object,
  name: { flex: 1, minWidth: 0 },
  inside: { flex: 1, overflow: 'hidden', touchAction: 'none', cursor: 'grab' } as object,
  corner: {
    position: 'absolute',
    right: 0,
    bottom: 0,
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    borderTopLeftRadius: RADIUS,
    opacity: 0.85,
    touchAction: 'none',
    cursor: 'nwse-resize',
  } as object,
});
