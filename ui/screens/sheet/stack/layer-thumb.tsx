import { useEffect, useRef, useState } from 'react';
import { Image, StyleSheet, View } from 'react-native';
import { isPicture, type Layer } from '../../../../core/sheet/entities';
import { usePictureAddress } from '../../../session/use-picture-address';
import { useOpenSheet } from '../../../session/session-context';
import { useAppSelector } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';

/** Strokes come quickly one after another; the small picture waits for a pause. */
const SETTLE_MS = 700;

/** A layer's small picture: the reference itself, or the ink as the renderer draws it. */
export function LayerThumb({ layer, size }: { layer: Layer; size: number }) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const done = useAppSelector((s) => s.sheet.undo.count + s.sheet.redo.count);
  const [drawn, setDrawn] = useState<{ id: string; uri: string }>();
  const drawnFor = useRef<string>(undefined);
  const isReference = isPicture(layer);
  const { id } = layer;

  useEffect(() => {
    if (isReference) return;
    let gone = false;
    const timer = setTimeout(
      () => {
        const level = Math.min(0, Math.floor(Math.log2((2 * size) / session.card.widthPx)));
        session.client.png({ level, onPaper: true, only: id, isSmall: true }).result.then(
          (parts) => {
            if (gone || !parts) return;
            setDrawn({ id, uri: URL.createObjectURL(new Blob(parts, { type: 'image/png' })) });
          },
          () => undefined,
        );
      },
      drawnFor.current === id ? SETTLE_MS : 0,
    );
    drawnFor.current = id;
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [session, isReference, id, done, size]);
  const uri = drawn?.uri;
  // The one before stays until the next is there, but never for another layer.
  useEffect(() => {
    if (!uri) return undefined;
    return () => void setTimeout(() => URL.revokeObjectURL(uri), 2000);
  }, [uri]);

  const shown = usePictureAddress(isReference ? layer : undefined, 2 * size);
  const source = isReference ? shown : drawn?.id === id ? uri : undefined;
  return (
    <View style={[styles.box, { width: size, height: size, borderColor: theme.rule }]}>
      {source && <Image source={{ uri: source }} resizeMode="contain" style={styles.image} alt="" />}
    </View>
  );
}

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: 3, overflow: 'hidden', backgroundColor: '#FFFFFF' },
  image: { width: '100%', height: '100%' },
});
