import { BELL_HATCHING, BELL_LINES, POST_TOP } from './bell-curves';
import { Letters } from '../core/text/set-line';
import { Desk, flick, swell, type DemoInk } from './desk';
import { labelFontBytes } from './label-font';

/** Inks the ferry bell over its lifted page: contours with a dip pen, shading with a fineliner's short lines; and what is said. */
export function makeBellInk(): DemoInk {
  const desk = new Desk(404);
  desk.layer('bell', 'ink', 'Ferry bell');
  for (const { curve, firm } of BELL_LINES)
    desk.line(curve, {
      sizePx: 8 + 16 * firm,
      press: firm < 0.5 ? flick(0.8) : swell(0.55 + 0.4 * firm, 0.55, 0.22),
      speed: 380,
      steady: 55,
    });
  // Between the finial and the beam, so that the post is closed.
  desk.line(POST_TOP, { sizePx: 14, press: swell(0.7, 0.55, 0.22), speed: 300, steady: 55 });
  desk.layer('bell-shade', 'ink', 'Shading');
  for (const { curve } of BELL_HATCHING) desk.line(curve, { sizePx: 9, press: flick(0.8), speed: 520 });
  const words = { text: 'Ring twice for the ferry', font: 'hand', align: 'middle', spacing: 1.2 } as const;
  const looks = { x: 520, y: 104, sizePx: 190, turnDeg: -2, colour: '#3c4650', outline: '#f6f1e7' };
  desk.label(
    { id: 'bell-words', name: 'Ring twice for the ferry' },
    words,
    Letters.read(labelFontBytes('hand')),
    looks,
  );
  return desk.ink;
}
