import { StyleSheet, View } from 'react-native';
import { likestOf } from '../../../../../core/picture/colour-difference';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { useTheme } from '../../../../theme/theme-context';
import { usePouring } from './use-pouring';

const SIDE = 76;
/** So far above the place, a finger does not cover it. */
const ABOVE_PX = 76;
const CROSS = 18;
/** A swatch that looks no more different than this is told (CIEDE2000). */
const NEARLY = 3;

/** The colour under the pen, above the finger; beside it the one that is in the hand. */
export function Loupe() {
  const theme = useTheme();
  const { stage } = useOpenSheet().session;
  const { picker } = usePouring();
  const sample = useWatched(picker.sample);
  const inHand = useAppSelector((s) => s.colouring.colour);
  const swatches = useAppSelector((s) => s.sheet.settings?.swatches);
  if (!sample || !stage) return null;
  const known = sample.colour
    ? likestOf(
        (swatches ?? []).filter(({ name }) => name),
        sample.colour,
        NEARLY,
      )
    : undefined;
  const [x, y] = stage.shown(sample.x, sample.y);
  const above = y - ABOVE_PX - SIDE / 2 > 0;
  const left = Math.min(stage.size.width - SIDE, Math.max(0, x - SIDE / 2));
  const top = above ? y - ABOVE_PX - SIDE / 2 : y + ABOVE_PX - SIDE / 2;
  return (
    <View style={[StyleSheet.absoluteFill, styles.passes]} testID="loupe">
      <View style={[styles.cross, { left: x - CROSS / 2, top: y - CROSS / 2, borderColor: theme.text }]} />
      <View
        style={[styles.loupe, { left, top, borderColor: theme.raised, backgroundColor: sample.colour ?? theme.desk }]}
      >
        <View style={[styles.hand, { backgroundColor: inHand }]} />
      </View>
      <View style={[styles.words, { left: left - 12, top: top + SIDE + 2, backgroundColor: theme.raised }]}>
        <Words size={14} strong role="status">
          {sample.colour ?? 'No colour'}
        </Words>
        {known && (
          <Words size={12} quiet numberOfLines={1}>
            {known.colour === sample.colour ? known.name : `nearly ${known.name}`}
          </Words>
        )}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  passes: { pointerEvents: 'none', overflow: 'hidden' },
  cross: { position: 'absolute', width: CROSS, height: CROSS, borderRadius: CROSS / 2, borderWidth: 1.5 },
  loupe: {
    position: 'absolute',
    width: SIDE,
    height: SIDE,
    borderRadius: SIDE / 2,
    borderWidth: 4,
    overflow: 'hidden',
  },
  hand: { position: 'absolute', left: 0, right: 0, bottom: 0, height: SIDE / 4 },
  words: { position: 'absolute', width: SIDE + 24, borderRadius: 4, alignItems: 'center', paddingVertical: 2 },
});
