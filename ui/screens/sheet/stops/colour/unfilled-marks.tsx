import { StyleSheet, View } from 'react-native';
import { apply } from '../../../../../core/geometry/matrix';
import { useViewOf } from '../../../../canvas/use-view-of';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useTheme } from '../../../../theme/theme-context';
import { usePouring } from './use-pouring';

const RING = 26;
const MOST_SHOWN = 200;

/** Rings around what was left without colour, and around what has opened. */
export function UnfilledMarks() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const pouring = usePouring();
  const isShown = useWatched(pouring.showing);
  const unfilled = useWatched(pouring.unfilled) ?? [];
  const opened = useWatched(pouring.opened);
  useViewOf(stage, isShown || opened.length > 0);
  if (!stage) return null;
  const places = [
    ...(isShown ? unfilled.slice(0, MOST_SHOWN).map(({ x, y }) => ({ x, y, isOpen: false })) : []),
    ...opened.map(({ pour, matrix }) => {
      const [x, y] = apply(matrix, ...pour!.seeds[0]);
      return { x, y, isOpen: true };
    }),
  ];
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} aria-hidden testID="unfilled-marks">
      {places.map(({ x, y, isOpen }, n) => {
        const [sx, sy] = stage.shown(x, y);
        const style = [styles.ring, { left: sx - RING / 2, top: sy - RING / 2, borderColor: theme.warning }];
        return <View key={n} style={[style, isOpen && styles.open]} />;
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none', overflow: 'hidden' },
  ring: { position: 'absolute', width: RING, height: RING, borderRadius: RING / 2, borderWidth: 2 },
  open: { borderStyle: 'dashed' },
});
