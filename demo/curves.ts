/**
 * The heron at the jetty as curves: control points in a page of 900 x 1200 units. The photo and the
 * ink are drawn from the same ones.
 */
export type Point = readonly [x: number, y: number];
export type Curve = readonly Point[];

export const PAGE = { width: 900, height: 1200 };

export const HERON = {
  billTop: [
    [178, 277],
    [240, 262],
    [300, 249],
  ],
  billLow: [
    [180, 279],
    [250, 284],
    [306, 288],
  ],
  gape: [
    [214, 276],
    [270, 272],
    [322, 270],
  ],
  crown: [
    [300, 249],
    [322, 230],
    [356, 222],
    [390, 236],
    [404, 254],
  ],
  plume: [
    [352, 236],
    [398, 240],
    [452, 262],
    [512, 306],
  ],
  plume2: [
    [372, 246],
    [420, 262],
    [470, 296],
  ],
  throat: [
    [306, 288],
    [344, 300],
    [370, 330],
    [370, 376],
    [350, 424],
    [338, 474],
    [352, 526],
    [396, 578],
    [418, 612],
  ],
  nape: [
    [404, 254],
    [417, 296],
    [422, 344],
    [415, 386],
    [402, 420],
    [398, 456],
    [411, 487],
    [438, 508],
    [472, 520],
  ],
  back: [
    [472, 520],
    [551, 537],
    [622, 592],
    [682, 674],
    [726, 768],
  ],
  belly: [
    [418, 612],
    [438, 672],
    [488, 722],
    [560, 748],
    [640, 760],
    [726, 768],
  ],
  wing: [
    [470, 562],
    [536, 578],
    [600, 628],
    [650, 696],
    [694, 752],
  ],
  wing2: [
    [500, 612],
    [556, 640],
    [606, 684],
    [650, 730],
  ],
  legA: [
    [520, 738],
    [517, 800],
    [524, 852],
    [516, 910],
    [514, 966],
  ],
  legB: [
    [574, 752],
    [580, 806],
    [570, 852],
    [580, 912],
    [584, 968],
  ],
  toeA1: [
    [514, 966],
    [486, 972],
    [462, 978],
  ],
  toeA2: [
    [514, 966],
    [530, 976],
    [546, 978],
  ],
  toeB1: [
    [584, 968],
    [558, 974],
    [540, 980],
  ],
  toeB2: [
    [584, 968],
    [604, 976],
    [620, 978],
  ],
} satisfies Record<string, Curve>;

export const BODY =
  'M300 249C320 226 384 214 404 254C432 320 424 372 402 420C384 470 420 516 472 520C580 510 680 640 726 768C640 762 540 760 488 722C440 690 430 640 418 612C380 570 336 520 338 474C340 430 378 400 370 340C360 310 330 296 306 288L178 278Z';

/** A point of a Catmull-Rom spline through the curve, at 0 to 1. */
export function along(curve: Curve, u: number): [number, number] {
  const spans = curve.length - 1;
  const at = Math.min(spans - 1e-9, Math.max(0, u * spans));
  const i = Math.floor(at);
  const t = at - i;
  const p = [i - 1, i, i + 1, i + 2].map((k) => curve[Math.min(spans, Math.max(0, k))]);
  return [0, 1].map((c) => {
    const [a, b, d, e] = p.map((q) => q[c]);
    return 0.5 * (2 * b + (d - a) * t + (2 * a - 5 * b + 4 * d - e) * t * t + (3 * b - a - 3 * d + e) * t * t * t);
  }) as [number, number];
}

/** A repeatable stream of numbers in 0..1. */
export function randomFrom(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 16807) % 2147483647) / 2147483647;
}

export interface Reed {
  curve: Curve;
  width: number;
  head: boolean;
  near: boolean;
}

/** Reeds at both edges; the near ones stand before the jetty. */
export const REEDS: readonly Reed[] = (() => {
  const rnd = randomFrom(7);
  return Array.from({ length: 64 }, (_, i): Reed => {
    const left = i % 8 < 5;
    const x = left ? -30 + rnd() * 270 : 690 + rnd() * 240;
    const height = 240 + rnd() * 440;
    const lean = (rnd() - 0.42) * 170;
    const near = rnd() > 0.55;
    const foot = near ? 1230 : 1010 + rnd() * 120;
    return {
      curve: [
        [x, foot],
        [x + lean * 0.1, foot - height * 0.45],
        [x + lean * 0.45, foot - height * 0.82],
        [x + lean, foot - height],
      ],
      width: 3 + rnd() * 7,
      head: rnd() > 0.7,
      near,
    };
  });
})();

/** The jetty's plank edges, far to near. */
export const PLANKS: readonly Curve[] = [0, 1, 2, 3, 4].map((i) => {
  const y = 962 + i * 40 + i * i * 7;
  return [
    [-20, y],
    [300, y + 6],
    [640, y + 2],
    [930, y + 10],
  ];
});
