import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { spineBox } from '../../../../../core/raster/draw-stroke';
import { outlineOf } from '../../../../../core/stroke/outline';
import { makePen, type PenKind } from '../../../../../core/stroke/pen';
import { spineOf } from '../../../../../core/stroke/spine-maker';
import { decodeSamples } from '../../../../../core/stroke/codec';
import { useAppSelector } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { plainWave, type HandStroke } from '../../../../session/hand-stroke';
import { useOpenSheet } from '../../../../session/session-context';
import { steadyOf } from '../../../../store/pen-slice';

const HEIGHT = 48;

/** The artist's own last stroke, as this pen with these settings would draw it. */
export function PenPreview() {
  const theme = useTheme();
  const pen = useAppSelector((s) => s.pen);
  const nibs = useAppSelector((s) => s.sheet.settings?.nibs);
  const done = useAppSelector((s) => s.sheet.undo.count);
  const size = nibs?.[pen.nib] ?? 8;
  const steady = steadyOf(pen);
  const { inking } = useOpenSheet();
  const [width, setWidth] = useState(0);
  const d = useMemo(() => {
    const hand = inking.lastHand ?? plainWave(pen.device === 'pen');
    return width > 24 ? previewPath(hand, pen.kind, size, steady, width) : '';
    // `done` changes with every stroke.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [pen.kind, pen.device, size, steady, done, inking, width]);
  return (
    <View
      onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width) - 2)}
      style={[styles.box, { backgroundColor: '#FFFFFF', borderColor: theme.rule }]}
      role="img"
      aria-label="Your last stroke with this pen"
    >
      <Svg width={Math.max(1, width)} height={HEIGHT}>
        <Path d={d} fill="#000000" fillRule="nonzero" />
      </Svg>
    </View>
  );
}

function previewPath(hand: HandStroke, kind: PenKind, size: number, steady: number, width: number): string {
  const pen = makePen(kind, size, steady, hand.hasPressure, hand.handScale);
  const spine = spineOf(decodeSamples(hand.bytes), pen, 0.1);
  const box = spineBox(spine);
  const scale = Math.min((width - 12) / (box.x1 - box.x0), (HEIGHT - 12) / (box.y1 - box.y0), 1);
  const { xy, ends } = outlineOf(spine, 0.1 / scale);
  const at = (i: number) => {
    const x = (xy[2 * i] - (box.x0 + box.x1) / 2) * scale + width / 2;
    const y = (xy[2 * i + 1] - (box.y0 + box.y1) / 2) * scale + HEIGHT / 2;
    return `${x.toFixed(2)} ${y.toFixed(2)}`;
  };
  let from = 0;
  let d = '';
  for (const end of ends) {
    for (let i = from; i < end; i++) d += (i === from ? 'M' : 'L') + at(i);
    d += 'Z';
    from = end;
  }
  return d;
}

const styles = StyleSheet.create({ box: { height: HEIGHT + 2, borderWidth: 1, borderRadius: RADIUS } });
