import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { spineBox } from '../../../../../core/raster/draw-stroke';
import { outlineOf } from '../../../../../core/stroke/outline';
import { makePen, type Pen, type PenKind } from '../../../../../core/stroke/pen';
import { spineOf } from '../../../../../core/stroke/spine-maker';
import { decodeSamples } from '../../../../../core/stroke/codec';
import { useAppSelector } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { plainWave, type HandStroke } from '../../../../session/hand-stroke';
import { useLayoutKind } from '../../frame/layout-kind';
import { useOpenSheet } from '../../../../session/session-context';
import { ownSettings, steadyOf } from '../../../../store/pen-slice';

/** On a phone the settings below it need the room. */
const HEIGHT = { phone: 34, side: 48, wide: 48 };

/** The artist's own last stroke, as the pen in the hand would draw it. */
export function PenPreview() {
  const theme = useTheme();
  const height = HEIGHT[useLayoutKind()];
  return (
    <View
      style={[styles.box, { height: height + 2, backgroundColor: '#FFFFFF', borderColor: theme.rule }]}
      role="img"
      aria-label="Your last stroke with this pen"
    >
      <StrokeOfPen height={height} colour="#000000" />
    </View>
  );
}

/** The artist's own last stroke, as a pen with its settings would draw it. @param kind another than the one in the hand. */
export function StrokeOfPen({ kind, height, colour }: { kind?: PenKind; height: number; colour: string }) {
  const pen = useAppSelector((s) => s.pen);
  const shown = kind ?? pen.kind;
  const nibs = useAppSelector((s) => s.sheet.settings?.nibs);
  const done = useAppSelector((s) => s.sheet.undo.count);
  const size = nibs?.[pen.nib] ?? 8;
  const steady = steadyOf({ ...pen, kind: shown });
  const { inking } = useOpenSheet();
  const [width, setWidth] = useState(0);
  const own = pen.own[shown];
  const settings = useMemo(() => ownSettings({ own: { [shown]: own } }, shown), [shown, own]);
  const d = useMemo(() => {
    const hand = inking.lastHand ?? plainWave(pen.device === 'pen');
    const made = makePen(shown, size, steady, hand.hasPressure, hand.handScale, settings);
    return width > 24 ? previewPath(hand, made, width, height) : '';
    // `done` changes with every stroke.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown, pen.device, size, steady, settings, done, inking, width, height]);
  return (
    <View onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width))} style={styles.stroke}>
      <Svg width={Math.max(1, width)} height={height}>
        <Path d={d} fill={colour} fillOpacity={settings.opacity} fillRule="nonzero" />
      </Svg>
    </View>
  );
}

/** A stroke as SVG path data, fitted into a box, in px. */
function previewPath(hand: HandStroke, pen: Pen, width: number, height: number): string {
  const spine = spineOf(decodeSamples(hand.bytes), pen, 0.1);
  const box = spineBox(spine);
  const scale = Math.min((width - 12) / (box.x1 - box.x0), (height - 12) / (box.y1 - box.y0), 1);
  const { xy, ends } = outlineOf(spine, 0.1 / scale);
  const at = (i: number) => {
    const x = (xy[2 * i] - (box.x0 + box.x1) / 2) * scale + width / 2;
    const y = (xy[2 * i + 1] - (box.y0 + box.y1) / 2) * scale + height / 2;
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

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: RADIUS },
  stroke: { alignSelf: 'stretch' },
});
