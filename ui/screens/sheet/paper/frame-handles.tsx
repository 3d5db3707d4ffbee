import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Polygon } from 'react-native-svg';
import { withinTurn } from '../../../../core/geometry/degrees';
import { turnAbout } from '../../../../core/geometry/turn-about';
import { compose, IDENTITY, invert, type Matrix } from '../../../../core/geometry/matrix';
import { Words } from '../../../components/text';
import { useDrag, type Place, type PointerPlace } from '../../../components/use-drag';
import { ON_PAPER, RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { cornerScaling, type HeldKeys } from './corner-drag';
import type { HandlePlaces, Point } from './handle-places';

/** What dragging a handle does: `change` since the last movement, on the screen. */
export interface HandleDrag {
  begin(): void;
  move(change: Matrix): void;
  end(): void;
  drop(): void;
}

/** What keys do while a corner is dragged. */
const KEYS_SAID = { frees: 'Shift: width and height apart', centred: 'Alt: about the middle' };

/**
 * A frame with its handles: corners scale it, the opposite corner stays where it is; the stem turns it about its middle.
 * @param frees width and height may be scaled apart.
 */
export function FrameHandles({
  places,
  onScale,
  onTurn,
  frees = false,
}: {
  places: HandlePlaces;
  onScale: HandleDrag;
  onTurn: HandleDrag;
  frees?: boolean;
}) {
  const { corners, top, scaleAt, turnAt } = places;
  const [saysKeys, setSaysKeys] = useState(false);
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden>
      <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]}>
        <Polygon points={corners.map((c) => c.join(',')).join(' ')} fill="none" stroke={ON_PAPER} strokeWidth={1.5} />
        <Line x1={top[0]} y1={top[1]} x2={turnAt[0]} y2={turnAt[1]} stroke={ON_PAPER} strokeWidth={1.5} />
      </Svg>
      {scaleAt.map((at, index) => (
        <Handle
          key={index}
          at={at}
          name="scale"
          places={places}
          drag={onScale}
          changeFor={(taken, from, to, held) =>
            cornerScaling({ places: taken, index, from }, to, { ...held, frees: frees && held.frees })
          }
          onDragging={setSaysKeys}
        />
      ))}
      <Handle
        at={turnAt}
        name="turn"
        places={places}
        drag={onTurn}
        changeFor={({ centre }, from, to) =>
          turnAbout(centre, { turnDeg: wrapped(degOf(centre, to) - degOf(centre, from)) })
        }
      />
      {saysKeys && <KeysSaid at={places.saidAt} frees={frees} />}
    </View>
  );
}

/** Which keys change what the drag does: for who has a keyboard. */
function KeysSaid({ at: [x, y], frees }: { at: Point; frees: boolean }) {
  const theme = useTheme();
  return (
    <View style={[styles.said, { left: x - SAID_WIDTH / 2, top: y - SAID_HEIGHT / 2 }]}>
      <View style={[styles.card, { backgroundColor: theme.raised, borderColor: theme.rule }]}>
        <Words size={13}>{[...(frees ? [KEYS_SAID.frees] : []), KEYS_SAID.centred].join('   ')}</Words>
      </View>
    </View>
  );
}

interface HandleProps {
  at: Point;
  name: 'scale' | 'turn';
  places: HandlePlaces;
  drag: HandleDrag;
  /** What going from one place to another does to the frame as it was when it was taken. */
  changeFor(taken: HandlePlaces, from: Point, to: Point, held: HeldKeys): Matrix;
  /** It begins, by what may have keys beside it, or it is over. */
  onDragging?(on: boolean): void;
}

interface Taken {
  places: HandlePlaces;
  from: Point;
  last: PointerPlace;
  /** What was told so far. */
  done: Matrix;
}

/** One handle; fingers and mouse are caught as long as they drag it. The buttons of the tray do the same by keyboard. */
function Handle({ at, name, places, drag, changeFor, onDragging }: HandleProps) {
  const theme = useTheme();
  const taken = useRef<Taken>(undefined);
  const onScreen = ({ x, y }: Place): Point => {
    const paper = (element.current as unknown as HTMLElement).parentElement!.getBoundingClientRect();
    return [x - paper.left, y - paper.top];
  };
  const goOn = (last: PointerPlace) => {
    if (!taken.current) return;
    const { places: before, from, done } = taken.current;
    const change = changeFor(before, from, onScreen(last), { frees: last.shift, centred: last.alt });
    taken.current = { ...taken.current, last, done: change };
    drag.move(compose(change, invert(done)));
  };
  const over = (how: 'end' | 'drop') => () => {
    taken.current = undefined;
    onDragging?.(false);
    drag[how]();
  };
  const element = useDrag({
    begin: (last) => {
      taken.current = { places, from: onScreen(last), last, done: IDENTITY };
      onDragging?.(last.kind !== 'touch');
      drag.begin();
    },
    move: goOn,
    end: over('end'),
    drop: over('drop'),
  });
  // A key that is pressed, or let go, while the pointer rests.
  const latest = useRef(goOn);
  useEffect(() => {
    latest.current = goOn;
  });
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const { current } = taken;
      if (!current || (e.key !== 'Shift' && e.key !== 'Alt')) return;
      // Alone, Alt would open a menu of the browser.
      e.preventDefault();
      latest.current({ ...current.last, shift: e.shiftKey, alt: e.altKey });
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  }, []);
  return (
    <View
      ref={element}
      testID={`handle-${name}`}
      style={[styles.handle, { left: at[0] - TOUCH / 2, top: at[1] - TOUCH / 2 }]}
    >
      <View
        style={[
          styles.knob,
          name === 'turn' && styles.round,
          { backgroundColor: theme.raised, borderColor: theme.accent },
        ]}
      />
    </View>
  );
}

const degOf = (centre: Point, [x, y]: Point): number => (Math.atan2(y - centre[1], x - centre[0]) * 180) / Math.PI;

const wrapped = (deg: number): number => withinTurn(deg + 180) - 180;

const SAID_WIDTH = 360;
const SAID_HEIGHT = 28;

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none' },
  handle: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    pointerEvents: 'auto',
    touchAction: 'none',
    cursor: 'grab',
  } as object,
  knob: { width: 14, height: 14, borderWidth: 2, borderRadius: 3, pointerEvents: 'none' },
  round: { borderRadius: 7 },
  said: { position: 'absolute', width: SAID_WIDTH, height: SAID_HEIGHT, alignItems: 'center', pointerEvents: 'none' },
  card: { paddingHorizontal: 10, paddingVertical: 4, borderWidth: 1, borderRadius: RADIUS },
});
