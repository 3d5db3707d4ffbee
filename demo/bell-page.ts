import { Resvg } from '@resvg/resvg-js';
import sharp from 'sharp';
import { composeMaps, invertMap, ontoQuad } from '../core/geometry/homography';
import { makePicture, warpRows } from '../core/picture/warp';
import { BELL_HATCHING, BELL_LINES, CORNERS, SHOT, type BellLine } from './bell-curves';
import { along, PAGE, randomFrom } from './curves';
import { cloud } from './noise';

/** The page's px per unit. */
const K = 2;

/** A pencil page, photographed askew on a table by a lamp, a hand's shadow at its lower right. */
export async function makeBellPage(): Promise<Buffer> {
  const page = await pencilled();
  const [width, height] = [PAGE.width * K, PAGE.height * K];
  const seen = makePicture(SHOT.width, SHOT.height);
  const toPage = invertMap(ontoQuad(width, height, CORNERS));
  warpRows({ width, height, data: page }, seen, composeMaps([1, 0, 0, 0, 1, 0, 0, 0, 1], toPage), 0, SHOT.height);
  const shot = lit(seen.data);
  return sharp(shot, { raw: { ...SHOT, channels: 3 } })
    .blur(0.8)
    .jpeg({ quality: 82, chromaSubsampling: '4:2:0' })
    .toBuffer();
}

/** Pencil on paper with a tooth: lines gone over twice, as a hand searches. */
async function pencilled(): Promise<Uint8ClampedArray<ArrayBuffer>> {
  const rnd = randomFrom(77);
  const [width, height] = [PAGE.width * K, PAGE.height * K];
  const lines = [...BELL_LINES.flatMap((line) => [line, line]), ...BELL_HATCHING].map((l) => pencilLine(l, rnd));
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${PAGE.width} ${PAGE.height}" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#fff"/>${lines.join('')}</svg>`;
  const { pixels } = new Resvg(svg).render();
  const out = new Uint8ClampedArray(4 * width * height);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const dark = 1 - pixels[at] / 255;
      const tooth = 0.72 + 0.9 * cloud(x / 3.1, y / 3.1, 3, 2) + 0.25 * (rnd() - 0.5);
      const mark = Math.min(1, Math.max(0, dark * tooth * 1.15));
      const fibre = 4 * cloud(x / 40, y / 9, 9, 3);
      const paper = [238 + fibre, 233 + fibre, 222 + fibre];
      const lead = [58, 58, 62];
      for (let c = 0; c < 3; c++) out[at + c] = paper[c] + (lead[c] - paper[c]) * mark;
      out[at + 3] = 255;
    }
  return out;
}

function pencilLine({ curve, firm }: BellLine, rnd: () => number): string {
  const n = 48;
  const [dx, dy] = [(rnd() - 0.5) * 2.4, (rnd() - 0.5) * 2.4];
  const phase = rnd() * 6;
  const [from, to] = [along(curve, 0), along(curve, 1)];
  // A short line is one flick.
  const tremor = Math.min(1, Math.hypot(to[0] - from[0], to[1] - from[1]) / 160);
  const places = Array.from({ length: n + 1 }, (_, i) => {
    const u = i / n;
    const [x, y] = along(curve, u);
    const shake = tremor * (0.7 * Math.sin(phase + u * 17) + 0.4 * (rnd() - 0.5));
    return [x + dx + shake, y + dy + 0.7 * shake] as const;
  });
  return places
    .slice(1)
    .map(([x, y], i) => {
      const u = i / n;
      const press = firm * (0.45 + 0.55 * Math.sin(Math.PI * Math.min(1, 0.12 + u * 0.9)));
      const [px, py] = places[i];
      return `<path d="M${px.toFixed(2)} ${py.toFixed(2)}L${x.toFixed(2)} ${y.toFixed(2)}" stroke="#000" stroke-linecap="round" stroke-width="${(1.2 + 1.7 * press).toFixed(2)}" stroke-opacity="${(0.3 + 0.5 * press).toFixed(2)}"/>`;
    })
    .join('');
}

/** The table under the page, the lamp's light over both, the sensor's noise. */
function lit(seen: Uint8ClampedArray): Buffer {
  const rnd = randomFrom(5);
  const { width, height } = SHOT;
  const out = Buffer.alloc(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const [u, v] = [x / width, y / height];
      const alpha = seen[4 * at + 3] / 255;
      const board = 16 * cloud(x / 700, y / 34, 21, 4) + (Math.floor(u * 4 + 0.1 * v) % 2 ? 6 : -4);
      const table = [118 + board, 88 + board * 0.9, 62 + board * 0.8];
      const lamp = 1.04 - 0.5 * Math.hypot(u - 0.22, (v - 0.16) * 1.15) ** 1.4;
      const hand = 1 - 0.3 / (1 + Math.exp((Math.hypot((u - 0.98) * 1.3, v - 0.92) - 0.34) / 0.05));
      const shade = lamp * hand;
      const warm = [1, 0.975 - 0.03 * u, 0.92 - 0.06 * u];
      const noise = 5 * (rnd() + rnd() + rnd() - 1.5);
      for (let c = 0; c < 3; c++) {
        const surface = seen[4 * at + c] * alpha + table[c] * (1 - alpha);
        out[3 * at + c] = Math.max(0, Math.min(255, surface * shade * warm[c] + noise));
      }
    }
  return out;
}
