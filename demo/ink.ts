import { boxPath, ovalPath } from '../core/stroke/forms';
import { plainNode } from '../core/stroke/path';
import { makePen, type Pen } from '../core/stroke/pen';
import { smoothed } from '../core/stroke/pulls';
import { along, HERON, PLANKS, REEDS, type Curve } from './curves';
import { Desk, flick, shifted, swell, type DemoInk, type Touch } from './desk';

/** Inks the half-finished heron: rough first, washes under the lines, then the bird, the jetty and the reeds at the left. */
export function makeInk(): DemoInk {
  const desk = new Desk();
  firstPass(desk);
  shadows(desk);
  bird(desk);
  jettyAndReeds(desk);
  return desk.ink;
}

/** Loose, in a loud colour: scaffolding. */
function firstPass(desk: Desk): void {
  desk.layer('first', 'rough', 'First pass');
  const loose: Touch = {
    sizePx: 11,
    kind: 'pencil',
    colour: '#c2185b',
    press: swell(0.75, 0.4, 0.35),
    speed: 900,
    steady: 10,
    shake: 1.2,
  };
  for (const key of ['throat', 'nape', 'back', 'belly', 'wing', 'crown', 'billTop', 'billLow'] as const) {
    desk.line(shifted(HERON[key], 3, -4), loose);
    if (desk.rnd() > 0.4) desk.line(shifted(HERON[key], -5, 4), loose);
  }
  desk.line(
    [
      [330, 540],
      [520, 470],
      [700, 640],
      [600, 780],
      [420, 680],
      [330, 540],
    ],
    loose,
  );
  for (const reed of REEDS.filter((r) => r.near && r.curve[0][0] > 600).slice(0, 8)) desk.line(reed.curve, loose);
}

function bird(desk: Desk): void {
  desk.layer('heron', 'ink', 'Heron');
  const { rnd } = desk;
  const contour = (curve: Curve, sizePx: number, peak: number, at = 0.5) =>
    desk.line(curve, { sizePx, press: swell(peak, at), speed: 380, steady: 45 });
  contour(HERON.billTop, 15, 0.6, 0.8);
  contour(HERON.billLow, 13, 0.55, 0.75);
  desk.line(HERON.gape, { sizePx: 7, press: swell(0.4, 0.7) });
  contour(HERON.crown, 14, 0.7);
  contour(HERON.throat, 20, 0.95, 0.6);
  contour(HERON.nape, 18, 0.8, 0.7);
  contour(HERON.back, 26, 1, 0.62);
  contour(HERON.belly, 24, 0.95, 0.45);
  contour(HERON.wing, 15, 0.8, 0.55);
  contour(HERON.wing2, 10, 0.6, 0.4);
  eye(desk);
  for (let i = 0; i < 9; i++)
    desk.line(shifted(HERON.plume, i * 2.2, -3 + i * 1.7), {
      sizePx: 13,
      kind: 'brush',
      press: flick(0.9 - i * 0.05),
      speed: 700,
    });
  desk.line(HERON.plume2, { sizePx: 12, kind: 'brush', press: flick(0.7), speed: 600 });
  for (let i = 0; i < 11; i++) {
    const [x, y] = along(HERON.throat, 0.3 + i * 0.055);
    desk.line(
      [
        [x + 13, y - 3],
        [x + 17, y + 7],
        [x + 13, y + 19],
      ],
      { sizePx: 10, press: flick(0.8), speed: 260 },
    );
  }
  for (let i = 0; i < 17; i++) {
    const [x, y] = [398 + i * 6.2, 586 + i * 8];
    desk.line(
      [
        [x, y],
        [x - 5, y + 30],
        [x + 4, y + 62 + rnd() * 30],
      ],
      { sizePx: 9, press: flick(0.75), speed: 420 },
    );
  }
  feathers(desk);
  legs(desk);
}

function eye(desk: Desk): void {
  const ring = (r: number, turns: number): Curve =>
    Array.from(
      { length: 14 },
      (_, i) => [346 + r * Math.cos((i / 13) * 6.283 * turns), 257 + r * Math.sin((i / 13) * 6.283 * turns)] as const,
    );
  desk.line(ring(9.5, 1), { sizePx: 6, press: () => 0.6, speed: 120, shake: 0.1 });
  desk.line(ring(3, 2), { sizePx: 12, press: () => 0.8, speed: 60, shake: 0.05 });
  desk.line(
    [
      [348, 254],
      [349, 254.6],
    ],
    { sizePx: 7, press: () => 0.7, colour: '#ffffff', speed: 30, shake: 0 },
  );
  desk.line(
    [
      [312, 262],
      [326, 255],
      [336, 256],
    ],
    { sizePx: 7, press: flick(0.7) },
  );
}

/** Scapulars in rows, quills, and hatching that follows the form. */
function feathers(desk: Desk): void {
  const { rnd } = desk;
  for (let row = 0; row < 6; row++)
    for (let k = 0; k < 11; k++) {
      const [x, y] = along(HERON.back, 0.08 + (k + (row % 2) / 2) * 0.078);
      const down = 22 + row * 20;
      const [sx, sy] = [x - down * 0.8, y + down * 0.62];
      if (sx < 440 || sy > 700 - row * 8) continue;
      desk.line(
        [
          [sx - 9, sy + 1],
          [sx + 2, sy + 15],
          [sx + 17, sy + 17],
          [sx + 21, sy + 3],
        ],
        { sizePx: 7, press: swell(0.5 + row * 0.05, 0.55), speed: 240 },
      );
    }
  for (let i = 0; i < 10; i++) {
    const [x, y] = along(HERON.wing, 0.24 + i * 0.058);
    desk.line(
      [
        [x, y + 4],
        [x + 34, y + 42],
        [x + 70 - i * 2.4, y + 96 - i * 4],
      ],
      { sizePx: 16, kind: 'brush', press: flick(0.95), speed: 420 },
    );
  }
  for (let i = 0; i < 46; i++) {
    const [x, y] = along(HERON.belly, 0.2 + i * 0.0165);
    const l = 26 + 16 * Math.sin(i * 0.07) + rnd() * 8;
    desk.line(
      [
        [x + 2, y - 3],
        [x + l * 0.35, y - l * 0.5],
        [x + l * 0.6 + rnd() * 3, y - l],
      ],
      { sizePx: 6, press: flick(0.7), speed: 520, shake: 0.35 },
    );
  }
  for (let i = 0; i < 30; i++) {
    const [x, y] = along(HERON.nape, 0.12 + i * 0.026);
    desk.line(
      [
        [x - 2, y],
        [x - 9 - rnd() * 4, y + 8],
        [x - 13 - rnd() * 6, y + 20],
      ],
      { sizePx: 5, press: flick(0.6), speed: 360 },
    );
  }
}

function legs(desk: Desk): void {
  for (const key of ['legA', 'legB'] as const) {
    desk.line(shifted(HERON[key], -4, 0), { sizePx: 13, press: swell(0.8, 0.5, 0.35), steady: 30 });
    desk.line(shifted(HERON[key], 5, 2), { sizePx: 8, press: swell(0.6, 0.5, 0.25), steady: 30 });
    for (let i = 0; i < 14; i++) {
      const [x, y] = along(HERON[key], 0.12 + i * 0.06);
      desk.line(
        [
          [x - 4, y],
          [x + 4, y + 2.5],
        ],
        { sizePx: 4, press: flick(0.6), speed: 60 },
      );
    }
  }
  for (const key of ['toeA1', 'toeA2', 'toeB1', 'toeB2'] as const)
    desk.line(HERON[key], { sizePx: 14, press: flick(0.85), speed: 260 });
}

/** Beneath the lines: under the jetty, the bird's, and on the water. They darken what they lie on. */
function shadows(desk: Desk): void {
  desk.layer('shadows', 'colour', 'Shadows', { blend: 'multiply' });
  const wash: Touch = { sizePx: 92, kind: 'wash', colour: '#1f3a5f', press: swell(0.9, 0.5, 0.5), speed: 500 };
  const last = PLANKS[PLANKS.length - 1];
  desk.line(shifted(last, 0, 30), wash);
  desk.line(shifted(last, 0, 62), { ...wash, sizePx: 70 });
  desk.line(
    [
      [440, 1004],
      [520, 998],
      [640, 1008],
      [742, 1002],
    ],
    { ...wash, sizePx: 56 },
  );
  for (let i = 0; i < 4; i++)
    desk.line(
      [
        [250 + 60 * i, 742 + 44 * i],
        [380 + 50 * i, 736 + 44 * i],
        [560 + 40 * i, 744 + 44 * i],
      ],
      { ...wash, sizePx: 44 - 5 * i, speed: 700 },
    );
}

function jettyAndReeds(desk: Desk): void {
  desk.layer('jetty', 'ink', 'Jetty and reeds');
  const { rnd } = desk;
  PLANKS.forEach((plank, i) =>
    desk.line(plank, {
      sizePx: 8 + i * 3,
      press: (u) => 0.45 + 0.3 * Math.sin(u * 9 + i * 2),
      speed: 900,
      steady: 70,
      shake: 0.8,
    }),
  );
  for (let i = 0; i < 70; i++) {
    const plank = Math.floor(rnd() * 4);
    const x = rnd() * 860;
    const [, y] = along(PLANKS[plank], x / 900);
    const dy = 10 + rnd() * 26;
    desk.line(
      [
        [x, y + dy],
        [x + 30 + rnd() * 30, y + dy + 1.5],
        [x + 70 + rnd() * 60, y + dy - 0.5],
      ],
      { sizePx: 4.5, press: swell(0.4), speed: 700 },
    );
  }
  // Where planks end, with a flat nib: heavy down, thin across.
  for (let i = 0; i < 9; i++) {
    const plank = i % 4;
    const x = 40 + i * 96 + rnd() * 30;
    const [, y] = along(PLANKS[plank], x / 900);
    const [, below] = along(PLANKS[plank + 1], x / 900);
    desk.line(
      [
        [x, y + 4],
        [x + 3, (y + below) / 2],
        [x + 1, below - 4],
      ],
      { sizePx: 17, kind: 'marker', speed: 300 },
    );
  }
  // The bird's shadow: two layers of hatching.
  for (let i = 0; i < 52; i++) {
    const x = 436 + i * 6;
    const h = 10 + 12 * Math.sin((i / 52) * Math.PI);
    desk.line(
      [
        [x, 1003 - h / 2],
        [x + 9, 1003],
        [x + 15, 1003 + h / 2],
      ],
      { sizePx: 6, press: flick(0.75), speed: 300 },
    );
    if (i % 2)
      desk.line(
        [
          [x + 14, 1002 - h / 3],
          [x + 6, 1004],
          [x - 2, 1003 + h / 3],
        ],
        { sizePx: 5, press: flick(0.6), speed: 300 },
      );
  }
  mooring(desk);
  for (const reed of REEDS.filter((r) => r.curve[0][0] < 300)) {
    desk.line(reed.curve, { sizePx: 5 + reed.width * 1.8, kind: 'brush', press: flick(0.95), speed: 760, steady: 40 });
    desk.line(
      reed.curve.map(([x, y], i) => [x + 7 + reed.width * 0.5 - i * 2.4, y + i * 3] as const),
      { sizePx: 6, press: flick(0.7), speed: 760 },
    );
    if (!reed.head) continue;
    const [x, y] = reed.curve[3];
    for (let i = -2; i <= 2; i++)
      desk.line(
        [
          [x + i * 3.4, y + 2 + Math.abs(i) * 3],
          [x + i * 4, y + 30],
          [x + i * 3.2, y + 62 - Math.abs(i) * 4],
        ],
        { sizePx: 13, press: swell(0.9, 0.5, 0.4), speed: 240 },
      );
  }
  for (let i = 0; i < 26; i++) {
    const y = 690 + i * 10 + rnd() * 6;
    const x = 250 + rnd() * 430;
    desk.line(
      [
        [x, y],
        [x + 24 + rnd() * 20, y - 1.5],
        [x + 56 + rnd() * 70, y + 0.5],
      ],
      { sizePx: 6, press: swell(0.5, 0.35), speed: 800 },
    );
  }
}

/** A post at the jetty's end with the ferry's rope, and the sun: forms, not the hand's own way. */
function mooring(desk: Desk): void {
  const fine = (sizePx: number): Pen => makePen('fineliner', sizePx, 0, false, 1);
  desk.form(boxPath({ x: 782, y: 838 }, { x: 816, y: 986 }, false), { ...fine(9), fill: 'with' });
  desk.form(ovalPath({ x: 778, y: 826 }, { x: 820, y: 848 }, false), fine(9));
  const rope: Curve = [
    [812, 866],
    [836, 892],
    [866, 896],
    [912, 868],
  ];
  const pen = makePen('dip', 15, 0, false, 1);
  for (const down of [0, 7])
    desk.form(
      smoothed({ closed: false, nodes: rope.map(([x, y]) => plainNode(x, y + down, 'auto', down ? 0.45 : 0.7)) }),
      pen,
    );
  desk.form(ovalPath({ x: 628, y: 434 }, { x: 700, y: 506 }, true), fine(8));
}
