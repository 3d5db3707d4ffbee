import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { unpremultiply } from '../../../../../core/raster/compose';
import { drawStroke, RasterWorkspace, spineBox } from '../../../../../core/raster/draw-stroke';
import { makePixels, parseColour, type Pixels } from '../../../../../core/raster/pixels';
import { decodeSamples } from '../../../../../core/stroke/codec';
import { makePen, type Pen } from '../../../../../core/stroke/pen';
import { spineOf } from '../../../../../core/stroke/spine-maker';
import { useAppSelector } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { plainWave, type HandStroke } from '../../../../session/hand-stroke';
import { useLayoutKind } from '../../frame/layout-kind';
import { useOpenSheet } from '../../../../session/session-context';
import { ownSettings, penKey, steadyOf, type PenKey } from '../../../../store/pen-slice';

/** On a phone the settings below it need the room. */
const HEIGHT = { phone: 34, side: 48, wide: 48 };
/** What is left free around the stroke, px. */
const MARGIN = 6;

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

/** The artist's own last stroke, as a pen with its settings would draw it. @param of another than the one in the hand. */
export function StrokeOfPen({ of, height, colour }: { of?: PenKey; height: number; colour: string }) {
  const pen = useAppSelector((s) => s.pen);
  const shown = of ?? penKey(pen);
  const kind = pen.pens.find(({ id }) => id === shown)?.kind ?? (shown as Pen['kind']);
  const size = useAppSelector((s) => s.sheet.settings?.nibs[pen.nib] ?? 8);
  const done = useAppSelector((s) => s.sheet.undo.count);
  const steady = steadyOf(pen, shown);
  const { inking } = useOpenSheet();
  const [width, setWidth] = useState(0);
  const canvas = useRef<HTMLCanvasElement>(null);
  const settings = useMemo(() => ownSettings(pen, shown), [pen, shown]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || width < 4 * MARGIN) return;
    const hand = inking.lastHand ?? plainWave(pen.device === 'pen');
    const made = makePen(kind, size, steady, hand.hasPressure, hand.handScale, settings);
    const ratio = window.devicePixelRatio > 1 ? 2 : 1;
    const pixels = strokeFitted(hand, made, width * ratio, height * ratio, MARGIN * ratio, colour);
    context.canvas.width = pixels.width;
    context.canvas.height = pixels.height;
    context.putImageData(new ImageData(pixels.data, pixels.width, pixels.height), 0, 0);
    // `done` changes with every stroke.
  }, [kind, pen.device, size, steady, settings, done, inking, width, height, colour]);
  return (
    <View onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width))} style={[styles.stroke, { height }]}>
      <canvas ref={canvas} style={{ width, height }} aria-hidden />
    </View>
  );
}

/** A stroke as the one renderer draws it, made to fit into a rectangle; not multiplied by alpha. */
function strokeFitted(
  hand: HandStroke,
  pen: Pen,
  width: number,
  height: number,
  margin: number,
  colour: string,
): Pixels {
  const spine = spineOf(decodeSamples(hand.bytes), pen, 0.1);
  const box = spineBox(spine);
  const scale = Math.min((width - 2 * margin) / (box.x1 - box.x0), (height - 2 * margin) / (box.y1 - box.y0), 2);
  const { data, count } = spine;
  for (let at = 0; at < 3 * count; at += 3) {
    data[at] = (data[at] - (box.x0 + box.x1) / 2) * scale + width / 2;
    data[at + 1] = (data[at + 1] - (box.y0 + box.y1) / 2) * scale + height / 2;
    data[at + 2] *= scale;
  }
  const pixels = makePixels(0, 0, width, height);
  const stroke = { spine, box: spineBox(spine), colour: parseColour(colour), opacity: pen.opacity, holes: [] };
  drawStroke(pixels, stroke, 1, new RasterWorkspace(width, height));
  unpremultiply(pixels.data);
  return pixels;
}

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: RADIUS },
  stroke: { alignSelf: 'stretch' },
});
