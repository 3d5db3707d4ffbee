import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { along, BODY, HERON, PAGE, PLANKS, randomFrom, REEDS, type Curve, type Reed } from './curves';
import { clamp, cloud, mix, noise, smooth } from './noise';

/** Picture px per unit of the page. */
const K = 8 / 3;
export const WIDTH = PAGE.width * K;
export const HEIGHT = PAGE.height * K;
/** Sky and water have nothing finer than this many picture px. */
const SOFT = 2;
const HORIZON = 640;
const SUN = { x: 664, y: 470 };

type Rgb = [number, number, number];
const blend = (a: Rgb, b: Rgb, t: number): Rgb => [mix(a[0], b[0], t), mix(a[1], b[1], t), mix(a[2], b[2], t)];

/** Sky and water of an early morning: haze, a low sun behind cloud, its light broken on the ripples. */
async function skyAndWater(): Promise<Buffer> {
  const [width, height] = [WIDTH / SOFT, HEIGHT / SOFT];
  const out = Buffer.alloc(width * height * 3);
  for (let py = 0; py < height; py++)
    for (let px = 0; px < width; px++) {
      const [x, y] = [(px * SOFT) / K, (py * SOFT) / K];
      const c = y < HORIZON ? sky(x, y) : water(x, y);
      for (let i = 0; i < 3; i++) out[3 * (py * width + px) + i] = Math.max(0, Math.min(255, c[i]));
    }
  return sharp(out, { raw: { width, height, channels: 3 } })
    .resize(WIDTH, HEIGHT, { kernel: 'cubic' })
    .raw()
    .toBuffer();
}

function sky(x: number, y: number): Rgb {
  const h = y / HORIZON;
  let c = blend([104, 128, 146], [236, 205, 164], smooth(h * 1.05));
  const bank = smooth((cloud(x / 240 + 3, y / 70, 5) + 0.12) * 2.2) * smooth(1.25 - h);
  c = blend(c, [196, 190, 184], bank * 0.55);
  const under = smooth((cloud(x / 200 + 9, y / 46 + 2, 17) - 0.02) * 3);
  c = blend(c, [122, 126, 140], under * 0.4 * smooth(1.1 - h));
  const d = Math.hypot(x - SUN.x, (y - SUN.y) * 1.1);
  const glow = Math.exp(-d / 150);
  const disc = smooth((40 - d) / 9);
  return blend(blend(c, [255, 226, 170], glow * 0.85), [255, 247, 222], disc * 0.9);
}

function water(x: number, y: number): Rgb {
  const depth = (y - HORIZON) / (PAGE.height - HORIZON);
  const far = 1 / (0.05 + depth);
  // Ripples get longer and flatter with distance.
  const wave = cloud((x - 450) * 0.006 * far * 0.6 + 40, far * 5.2, 31, 4);
  const fine = noise((x - 450) * 0.03 * far, far * 21, 57);
  const tilt = wave * 0.8 + fine * 0.35;
  const mirrored = sky(x + tilt * 26, Math.max(0, HORIZON - (y - HORIZON) * 0.95 + tilt * 60));
  let c = blend(mirrored, [58, 74, 80], 0.28 + 0.42 * depth - tilt * 0.16);
  const path = Math.exp(-(((x - SUN.x) / (26 + depth * 110)) ** 2));
  const glint = smooth((tilt + 0.05) * 3) * path * (1 - depth * 0.55);
  c = blend(c, [255, 232, 184], glint * 0.8);
  return c;
}

const svg = (body: string, defs = ''): Buffer =>
  Buffer.from(
    new Resvg(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${PAGE.width} ${PAGE.height}"><defs>${defs}</defs>${body}</svg>`,
      { fitTo: { mode: 'width', value: WIDTH } },
    )
      .render()
      .asPng(),
  );

/** A tapered shape along a curve. */
function blade(curve: Curve, width: number, tip = 0.05): string {
  const left: string[] = [];
  const right: string[] = [];
  for (let i = 0; i <= 24; i++) {
    const u = i / 24;
    const [x, y] = along(curve, u);
    const [a, b] = [along(curve, Math.max(0, u - 0.01)), along(curve, Math.min(1, u + 0.01))];
    const d = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
    const r = (width / 2) * mix(1, tip, u * u);
    const [nx, ny] = [(-(b[1] - a[1]) / d) * r, ((b[0] - a[0]) / d) * r];
    left.push(`${(x + nx).toFixed(1)} ${(y + ny).toFixed(1)}`);
    right.unshift(`${(x - nx).toFixed(1)} ${(y - ny).toFixed(1)}`);
  }
  return `M${[...left, ...right].join('L')}Z`;
}

const line = (curve: Curve, width: number, colour: string, opacity = 1) =>
  `<path d="M${Array.from({ length: 25 }, (_, i) =>
    along(curve, i / 24)
      .map((v) => v.toFixed(1))
      .join(' '),
  ).join('L')}" fill="none" stroke="${colour}" stroke-width="${width}" stroke-linecap="round" opacity="${opacity}"/>`;

/** The far bank with a shed, and the rope ferry on its way across. */
function distance(): string {
  const rnd = randomFrom(23);
  const trees = Array.from({ length: 60 }, (_, i) => {
    const x = i * 16 - 20;
    return `<ellipse cx="${x}" cy="${626 - rnd() * 10}" rx="${14 + rnd() * 16}" ry="${10 + rnd() * 22}" fill="#5f6b68"/>`;
  }).join('');
  return `<path d="M-20 640C150 612 300 626 480 612S800 616 930 600V646H-20Z" fill="#66716c"/>${trees}
    <path d="M92 628V588l34-20 34 20V628Z" fill="#4c5350"/><rect x="118" y="600" width="12" height="28" fill="#2f3433"/>
    <path d="M-20 652H930" stroke="#3d4442" stroke-width="1.6" opacity=".8"/>
    <path d="M214 664q62 16 132 0l-8-14H222Z" fill="#3f4442"/><rect x="246" y="620" width="44" height="32" fill="#555b57"/>
    <path d="M240 620h56l-8-10h-40Z" fill="#3b403e"/><path d="M318 652V606" stroke="#34393a" stroke-width="3"/>
    <ellipse cx="280" cy="676" rx="74" ry="5" fill="#39423f" opacity=".55"/>`;
}

/** The jetty's boards, edges and posts; the grain is laid on after. */
function jetty(): string {
  const edges = PLANKS.map((p, i) => line(p, 4 + i * 2, '#2c231b')).join('');
  const nails = PLANKS.slice(0, 4)
    .map((p, i) =>
      [90, 380, 660, 850]
        .map((x) => `<circle cx="${x}" cy="${p[1][1] + 14 + i * 3}" r="${2 + i * 0.5}" fill="#1e1813"/>`)
        .join(''),
    )
    .join('');
  return `<path d="M-20 958L930 968V1240H-20Z" fill="#7a6a56"/>${edges}${nails}
    <path d="M70 860h44v190H70Z" fill="#4c4034"/><path d="M104 860h10v190h-10Z" fill="#8c765a"/><ellipse cx="92" cy="860" rx="22" ry="7" fill="#9a8768"/>
    <path d="M66 900q26 16 52 0M66 912q26 16 52 0" stroke="#b9a27c" stroke-width="7" fill="none"/>
    <path d="M430 1002q120-22 330 6q-160 24-330-6Z" fill="#1d1610" opacity=".62"/><path d="M480 974q60-8 150 4q-70 10-150-4Z" fill="#1d1610" opacity=".5"/>`;
}

function heron(): string {
  const rnd = randomFrom(101);
  const feathers: string[] = [];
  for (let row = 0; row < 9; row++)
    for (let k = 0; k < 15; k++) {
      const u = k / 15;
      const [x, y] = along(HERON.back, u);
      const down = 10 + row * 17 + rnd() * 6;
      const [sx, sy] = [x - down * 0.75 + 4, y + down * 0.55];
      const tone = 84 + Math.round(rnd() * 60) - row * 3;
      feathers.push(
        `<path d="${blade(
          [
            [sx, sy],
            [sx + 22, sy + 22],
            [sx + 34 + rnd() * 16, sy + 56 + rnd() * 16],
          ],
          15,
          0.2,
        )}" fill="rgb(${tone},${tone + 10},${tone + 22})" opacity=".5"/>`,
        line(
          [
            [sx, sy],
            [sx + 22, sy + 22],
            [sx + 40, sy + 60],
          ],
          1.1,
          '#28323c',
          0.35,
        ),
      );
    }
  const quills = Array.from({ length: 12 }, (_, i) => {
    const [x, y] = along(HERON.wing, 0.25 + i * 0.05);
    return `<path d="${blade(
      [
        [x, y],
        [x + 36, y + 40],
        [x + 74 - i * 2, y + 96 - i * 3],
      ],
      13,
      0.15,
    )}" fill="#27313b" opacity=".85"/>${line(
      [
        [x + 2, y - 2],
        [x + 38, y + 36],
        [x + 72 - i * 2, y + 88 - i * 3],
      ],
      1.2,
      '#8d9aa6',
      0.5,
    )}`;
  }).join('');
  const neck = Array.from({ length: 60 }, () => {
    const u = 0.2 + rnd() * 0.75;
    const [x, y] = along(HERON.throat, u);
    const [nx, ny] = along(HERON.nape, u * 0.95);
    const t = rnd();
    const [sx, sy] = [mix(x, nx, t) + 3, mix(y, ny, t)];
    return line(
      [
        [sx, sy],
        [sx + (rnd() - 0.5) * 4, sy + 12],
        [sx + (rnd() - 0.5) * 8, sy + 24],
      ],
      1.4,
      rnd() > 0.4 ? '#f7f2e8' : '#9aa1a4',
      0.4,
    );
  }).join('');
  const beard = Array.from({ length: 16 }, (_, i) => {
    const x = 396 + i * 6.5;
    const y = 584 + i * 8;
    return `<path d="${blade(
      [
        [x, y],
        [x - 4, y + 34],
        [x + 4 + rnd() * 6, y + 62 + rnd() * 26],
      ],
      5,
      0.05,
    )}" fill="#e9e6df" opacity=".85"/>`;
  }).join('');
  const spots = Array.from({ length: 11 }, (_, i) => {
    const [x, y] = along(HERON.throat, 0.28 + i * 0.055);
    return `<path d="${blade(
      [
        [x + 12, y],
        [x + 15, y + 10],
        [x + 12, y + 20],
      ],
      5,
      0.2,
    )}" fill="#242a30"/>`;
  }).join('');
  const limb = (curve: Curve, w: number) =>
    line(curve, w, '#57503a') +
    line(
      curve.map(([x, y]) => [x + w * 0.28, y] as const),
      w * 0.3,
      '#c9b98a',
      0.6,
    );
  const knee = [HERON.legA[2], HERON.legB[2]]
    .map(([x, y]) => `<ellipse cx="${x}" cy="${y}" rx="8" ry="12" fill="#5f573f"/>`)
    .join('');
  return `${(['legA', 'legB'] as const).map((k) => limb(HERON[k], 10)).join('')}${knee}${(['toeA1', 'toeA2', 'toeB1', 'toeB2'] as const).map((k) => limb(HERON[k], 7)).join('')}
    <path d="${BODY}" fill="url(#plumage)"/>
    <g clip-path="url(#inBody)">
      <path d="M300 250C350 300 372 360 340 440S380 590 440 680L320 660 280 300Z" fill="#f3efe5" opacity=".9"/>
      <path d="M404 254C432 330 420 380 402 430C392 470 424 512 470 520L440 540C390 520 372 470 384 420C402 360 404 310 390 260Z" fill="#77828b" opacity=".7"/>
      ${feathers.join('')}${neck}
      <path d="M418 640C470 720 560 752 726 772L730 700C640 742 520 720 460 640Z" fill="#20282f" opacity=".5"/>
      <path d="M404 254C432 320 424 372 402 420C384 470 420 516 472 520C580 510 680 640 726 768" fill="none" stroke="#ffe6b8" stroke-width="7" opacity=".75"/>
    </g>
    ${quills}${beard}${spots}
    <path d="M352 231C402 231 470 268 518 310C460 290 410 262 368 254Z" fill="#171c22"/><path d="${blade(HERON.plume2, 8, 0.02)}" fill="#171c22"/>
    <path d="M304 249C322 232 352 224 384 236L352 244C330 242 316 246 304 252Z" fill="#f6f2ea"/>
    <path d="M178 277L304 248L314 289Z" fill="url(#bill)"/><path d="M182 278L316 272" stroke="#7a5520" stroke-width="2.4"/>
    <circle cx="346" cy="257" r="9.5" fill="#e6b440"/><circle cx="346" cy="257" r="5.2" fill="#0c0c0c"/><circle cx="348.5" cy="254.5" r="1.8" fill="#fff"/>
    <path d="M322 262q14-8 14-5" stroke="#39424b" stroke-width="3" fill="none"/>`;
}

const HERON_DEFS = `<linearGradient id="plumage" x1=".1" y1=".2" x2=".95" y2=".8"><stop offset="0" stop-color="#dcdad3"/><stop offset=".5" stop-color="#8b98a4"/><stop offset="1" stop-color="#56636f"/></linearGradient>
  <linearGradient id="bill" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#e3b45c"/><stop offset="1" stop-color="#a8741f"/></linearGradient><clipPath id="inBody"><path d="${BODY}"/></clipPath>`;

function reedShapes(reeds: readonly Reed[]): string {
  return reeds
    .map(({ curve, width, head }, i) => {
      const green = ['#5c6138', '#6f7244', '#4a5030', '#7d7a4c'][i % 4];
      const [x, y] = curve[3];
      const top = head
        ? `<ellipse cx="${x}" cy="${y + 30}" rx="9" ry="34" fill="#4b3420"/><path d="M${x} ${y - 4}v-22" stroke="#5c4a2a" stroke-width="2.5"/>`
        : '';
      const lit = line(
        curve.map(([a, b]) => [a + width * 0.3, b] as const),
        1.2,
        '#d9cf94',
        0.5,
      );
      return `<path d="${blade(curve, width * 1.7)}" fill="${green}"/>${lit}${top}`;
    })
    .join('');
}

/** Wood grain, laid over the boards by multiplying. */
function grain(): Buffer {
  const out = Buffer.alloc(WIDTH * HEIGHT * 4);
  for (let py = Math.floor(956 * K); py < HEIGHT; py++)
    for (let px = 0; px < WIDTH; px++) {
      const [x, y] = [px / K, py / K];
      const v = cloud(x / 160, y / 3.4, 71, 4) + 0.5 * noise(x / 40, y / 1.6, 83);
      const at = 4 * (py * WIDTH + px);
      out[at + 3] = Math.round(clamp(0.32 + v * 0.5) * 150);
      out[at] = 24;
      out[at + 1] = 18;
      out[at + 2] = 12;
    }
  return out;
}

/** Light spilling over edges, darker corners, and the noise of a small sensor. */
async function develop(image: Buffer): Promise<Buffer> {
  const raw = { raw: { width: WIDTH, height: HEIGHT, channels: 3 as const } };
  const bloom = await sharp(image, raw).blur(46).raw().toBuffer();
  const rnd = randomFrom(4242);
  const gauss = () => (rnd() + rnd() + rnd() + rnd() - 2) * 1.7;
  let coarse = 0;
  for (let py = 0, at = 0; py < HEIGHT; py++)
    for (let px = 0; px < WIDTH; px++, at += 3) {
      const r = Math.hypot(px / WIDTH - 0.5, (py / HEIGHT - 0.48) * 1.1);
      const dark = 1 - 0.55 * smooth((r - 0.3) / 0.5);
      const grey = gauss();
      coarse = coarse * 0.55 + gauss() * 0.45;
      for (let c = 0; c < 3; c++) {
        const v = image[at + c];
        const screen = 255 - ((255 - v) * (255 - bloom[at + c] * 0.2)) / 255;
        const lit = mix(v, screen, 0.8) * dark;
        // Shot noise grows with the root of the light; colour noise is strongest in the shadows.
        const shadow = 1 - lit / 255;
        image[at + c] = Math.max(
          0,
          Math.min(255, lit + grey * (2.2 + 3.2 * Math.sqrt(clamp(lit / 255))) + coarse * 3 + gauss() * 3.4 * shadow),
        );
      }
    }
  return sharp(image, raw).jpeg({ quality: 84, chromaSubsampling: '4:2:0' }).toBuffer();
}

/** Paints the photo-like reference, 2400 x 3200 px. */
export async function makePhoto(): Promise<Buffer> {
  const blurred = (layer: Buffer, sigma: number) => sharp(layer).blur(sigma).toBuffer();
  const farReeds = REEDS.filter((r) => !r.near);
  const nearReeds = REEDS.filter((r) => r.near);
  const layers = [
    await blurred(svg(distance()), 7),
    await blurred(svg(reedShapes(farReeds)), 4.5),
    await blurred(svg(jetty()), 2.2),
  ];
  const raw = { width: WIDTH, height: HEIGHT, channels: 4 as const };
  const base = await sharp(await skyAndWater(), { raw: { ...raw, channels: 3 } })
    .composite([
      ...layers.map((input) => ({ input })),
      { input: grain(), raw },
      { input: await blurred(svg(heron(), HERON_DEFS), 0.9) },
      { input: await blurred(svg(reedShapes(nearReeds.slice(0, 16))), 2.6) },
      { input: await blurred(svg(reedShapes(nearReeds.slice(16).map((r) => ({ ...r, width: r.width * 1.6 })))), 11) },
    ])
    .removeAlpha()
    .raw()
    .toBuffer();
  return develop(base);
}
