import type { Quad } from '../core/geometry/homography';
import { randomFrom, type Curve, type Point } from './curves';

/** A line of the ferry bell, and how firmly it is drawn, 0 to 1. The page is 900 x 1200 units, as the heron's. */
export interface BellLine {
  curve: Curve;
  firm: number;
}

/** The photograph's size, and where the page's corners are in it, px. */
export const SHOT = { width: 2100, height: 2700 };
export const CORNERS: Quad = [
  [252, 214],
  [1838, 262],
  [1926, 2476],
  [168, 2430],
];

const X = 520;
const LIP = 640;

/** Half of an ellipse or all of it, from and to angles in turns. */
function arc(cx: number, cy: number, rx: number, ry: number, from: number, to: number): Curve {
  const n = Math.max(6, Math.round(26 * Math.abs(to - from)));
  return Array.from({ length: n + 1 }, (_, i): Point => {
    const a = 2 * Math.PI * (from + ((to - from) * i) / n);
    return [cx + rx * Math.cos(a), cy + ry * Math.sin(a)];
  });
}

/** The bell's side; `side` -1: left, 1: right. */
const flank = (side: number): Curve =>
  [
    [44, 322],
    [72, 342],
    [86, 400],
    [96, 480],
    [114, 550],
    [146, 606],
    [176, LIP],
  ].map(([dx, y]): Point => [X + side * dx, y]);

const post: BellLine[] = [
  { curve: [[150, 1196], [153, 900], [150, 560], [152, 168]], firm: 0.8 }, // prettier-ignore
  { curve: [[214, 1190], [211, 880], [214, 470], [212, 236]], firm: 0.8 }, // prettier-ignore
  { curve: [[152, 168], [182, 154], [212, 168], [182, 182], [152, 168]], firm: 0.6 }, // prettier-ignore
  { curve: [[212, 190], [420, 186], [668, 190]], firm: 0.9 }, // prettier-ignore
  { curve: [[212, 236], [440, 234], [668, 236]], firm: 0.9 }, // prettier-ignore
  { curve: [[668, 190], [680, 212], [668, 236]], firm: 0.7 }, // prettier-ignore
  { curve: [[214, 500], [300, 392], [412, 238]], firm: 0.75 }, // prettier-ignore
  { curve: [[214, 446], [284, 356], [366, 238]], firm: 0.75 }, // prettier-ignore
];

/** What the page leaves open of the post. */
export const POST_TOP: Curve = [
  [211, 164],
  [212, 178],
  [213, 193],
];

const bell: BellLine[] = [
  { curve: flank(-1), firm: 1 },
  { curve: flank(1), firm: 1 },
  { curve: arc(X, 322, 44, 12, 0.5, 1), firm: 0.7 },
  { curve: arc(X, LIP, 176, 36, 0, 1), firm: 1 },
  { curve: arc(X, 392, 85, 18, 0.02, 0.48), firm: 0.55 },
  { curve: arc(X, 404, 87, 18, 0.02, 0.48), firm: 0.55 },
  { curve: arc(X, 588, 134, 27, 0.02, 0.48), firm: 0.55 },
  { curve: arc(X, 262, 24, 30, 0, 1), firm: 0.8 },
  { curve: [[508, 290], [506, 312]], firm: 0.7 }, // prettier-ignore
  { curve: [[532, 290], [534, 312]], firm: 0.7 }, // prettier-ignore
  { curve: [[512, 666], [513, 690]], firm: 0.7 }, // prettier-ignore
  { curve: [[528, 666], [527, 690]], firm: 0.7 }, // prettier-ignore
  { curve: arc(X, 714, 27, 25, 0, 1), firm: 0.9 },
];

const rope: BellLine[] = [
  { curve: [[514, 740], [516, 830], [524, 930], [520, 1010]], firm: 0.75 }, // prettier-ignore
  { curve: [[528, 740], [531, 828], [539, 928], [536, 1008]], firm: 0.75 }, // prettier-ignore
  ...Array.from({ length: 13 }, (_, i): BellLine => {
    const y = 756 + i * 19.5;
    const x = 515 + 9 * Math.sin((y - 740) / 150);
    return { curve: [[x, y + 6], [x + 7, y + 1], [x + 14, y - 5]], firm: 0.45 }; // prettier-ignore
  }),
  { curve: arc(528, 1030, 20, 23, 0, 1), firm: 0.8 },
  { curve: [[512, 1022], [528, 1036], [544, 1024]], firm: 0.55 }, // prettier-ignore
  ...Array.from({ length: 7 }, (_, i): BellLine => {
    const x = 514 + i * 4.8;
    return { curve: [[x, 1050], [x - 3 + i, 1080], [x - 9 + i * 3, 1116 - Math.abs(i - 3) * 5]], firm: 0.5 }; // prettier-ignore
  }),
  // Three turns around the post.
  ...[0, 1, 2, 3].map((i): BellLine => ({ curve: arc(182, 700 + i * 20, 37, 12, 0.98, 1.52), firm: 0.7 })),
];

const marsh: BellLine[] = (() => {
  const rnd = randomFrom(31);
  const water = [880, 934, 1004, 1090].map((y, i): BellLine => ({
    curve: [[240 + i * 14, y], [420 + rnd() * 40, y + 5], [640, y - 2], [878, y + 3]], // prettier-ignore
    firm: 0.35,
  }));
  const reeds = Array.from({ length: 15 }, (_, i): BellLine => {
    const x = 690 + i * 13 + rnd() * 8;
    const height = 200 + rnd() * 240;
    const lean = (rnd() - 0.4) * 80;
    return {
      curve: [[x, 1190], [x + lean * 0.15, 1190 - height * 0.5], [x + lean, 1190 - height]], // prettier-ignore
      firm: 0.5 + 0.3 * rnd(),
    };
  });
  return [...water.slice(0, 3), ...reeds];
})();

/** A tern over the marsh. */
const tern: BellLine[] = [
  { curve: [[700, 372], [744, 336], [800, 330], [862, 352]], firm: 0.6 }, // prettier-ignore
  { curve: [[862, 352], [806, 350], [768, 366], [748, 384]], firm: 0.5 }, // prettier-ignore
  { curve: [[700, 372], [724, 388], [748, 384], [790, 404], [770, 384]], firm: 0.55 }, // prettier-ignore
  { curve: [[700, 372], [686, 376], [704, 382], [724, 388]], firm: 0.6 }, // prettier-ignore
];

/** Shading: short lines side by side, as a hand hatches. */
const hatching: BellLine[] = [
  ...Array.from({ length: 34 }, (_, i): BellLine => {
    const y = 356 + i * 8.2;
    const u = i / 33;
    const right = X + 74 + 82 * u ** 2.3;
    return { curve: [[right - 42 - 26 * u, y + 12], [right - 20, y + 5], [right - 4, y]], firm: 0.3 }; // prettier-ignore
  }),
  ...Array.from({ length: 26 }, (_, i): BellLine => {
    const y = 260 + i * 34;
    return { curve: [[192, y + 14], [202, y + 6], [211, y]], firm: 0.32 }; // prettier-ignore
  }),
];

/** The ferry bell on its post: what it is made of, without its shading. */
export const BELL_LINES: readonly BellLine[] = [...post, ...bell, ...rope, ...marsh, ...tern];
export const BELL_HATCHING = hatching;
