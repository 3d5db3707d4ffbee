import { Image, StyleSheet, useWindowDimensions, View } from 'react-native';
import { fitted } from '../../../../core/geometry/view';
import type { Insets } from '../../../canvas/stage';
import { overviewAddress } from '../../../session/api';
import { useAppSelector } from '../../../store/store';

/**
 * The small picture that was kept with the sheet, where the paper will lie, until all that is in sight has been
 * painted: a sheet with much ink is seen at once.
 * @param overPaper it lies over the paper itself, and its white lets that through.
 */
export function FirstPicture({ insets, overPaper }: { insets: Insets; overPaper: boolean }) {
  const { width, height } = useWindowDimensions();
  const card = useAppSelector((s) => s.sheet.card);
  const painted = useAppSelector((s) => s.sheet.painted);
  if (!card || card.overviewSeq === null || painted) return null;
  const free = { width: width - insets.left - insets.right, height: height - insets.top - insets.bottom };
  const { scale, x, y } = fitted({ width: card.widthPx, height: card.heightPx }, free);
  const place = {
    left: Math.round(insets.left + x),
    top: Math.round(insets.top + y),
    width: card.widthPx * scale,
    height: card.heightPx * scale,
  };
  return (
    <View aria-hidden style={[styles.place, place, overPaper && styles.through]}>
      <Image
        source={{ uri: overviewAddress(card.id, card.overviewSeq) }}
        resizeMode="stretch"
        style={styles.image}
        alt=""
      />
    </View>
  );
}

const styles = StyleSheet.create({
  place: { position: 'absolute', pointerEvents: 'none' },
  through: { mixBlendMode: 'multiply' },
  image: { width: '100%', height: '100%' },
});
