import { StyleSheet, View } from 'react-native';
import { apply, invert } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import type { ReferenceLayer } from '../../../../../core/sheet/entities';
import { useDrag } from '../../../../components/use-drag';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { usePicture } from './use-pictures';

/** Takes one touch on the picture that says what is shadow, or light. */
export function TouchTone() {
  const { toning } = useOpenSheet();
  const touch = useWatched(toning.touch);
  const picture = usePicture();
  return touch && picture ? <TouchLayer picture={picture} what={touch} /> : null;
}

function TouchLayer({ picture, what }: { picture: ReferenceLayer; what: 'shadow' | 'light' }) {
  const { session, toning } = useOpenSheet();
  const element = useDrag({
    move: () => undefined,
    end: ({ x, y }) => {
      const { stage } = session;
      const box = (element.current as unknown as HTMLElement).getBoundingClientRect();
      if (stage) void toning.takeTone(picture, ...apply(invert(viewMatrix(stage.view)), x - box.left, y - box.top));
    },
    drop: () => undefined,
  });
  return (
    <View
      ref={element}
      role="img"
      aria-label={`Touch what should be ${what}`}
      testID="touch-tone"
      style={[StyleSheet.absoluteFill, styles.takes]}
    />
  );
}

const styles = StyleSheet.create({ takes: { touchAction: 'none', cursor: 'crosshair' } as object });
