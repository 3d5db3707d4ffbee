import { StyleSheet, View } from 'react-native';
import { apply, invert } from '../../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../../core/geometry/view';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { useDrag } from '../../../../components/use-drag';
import { useOpenSheet } from '../../../../session/session-context';
import type { ToneTouch } from '../../../../session/toning';
import { useWatched } from '../../../../session/watched';
import { usePicture } from './use-pictures';

const SAYS: Record<ToneTouch, string> = {
  shadow: 'Touch what should be shadow',
  light: 'Touch what should be light',
  paper: 'Touch the bare paper',
  line: 'Touch a line',
};

/** Takes one touch on the picture that says what is shadow or light, paper or a line. */
export function TouchTone() {
  const { toning } = useOpenSheet();
  const touch = useWatched(toning.touch);
  const picture = usePicture();
  return touch && picture ? <TouchLayer picture={picture} what={touch} /> : null;
}

function TouchLayer({ picture, what }: { picture: PictureLayer; what: ToneTouch }) {
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
      aria-label={SAYS[what]}
      testID="touch-tone"
      style={[StyleSheet.absoluteFill, styles.takes]}
    />
  );
}

const styles = StyleSheet.create({ takes: { touchAction: 'none', cursor: 'crosshair' } as object });
