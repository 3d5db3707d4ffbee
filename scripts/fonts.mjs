// Makes public/fonts: the letters that the interface is written in, as woff2, and the page's few styles with them, and
// those that labels are written in. Names in other scripts are shown in the system's own fonts.
import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import subsetFont from 'subset-font';
import { root } from './paths.mjs';

const STYLES = join(root, 'scripts', 'page.css');
const FOLDER = join(root, 'public', 'fonts');
const FONTS = [
  ['HankenGrotesk_400Regular', '@expo-google-fonts/hanken-grotesk/400Regular'],
  ['HankenGrotesk_600SemiBold', '@expo-google-fonts/hanken-grotesk/600SemiBold'],
  ['YoungSerif_400Regular', '@expo-google-fonts/young-serif/400Regular'],
];
/** What labels are written in (core/sheet/entities.ts, LABEL_FONTS): whole, for their outlines. */
const LABEL_FONTS = JSON.parse(readFileSync(join(root, 'scripts', 'label-fonts.json'), 'utf8'));
/** Most pages need the first part alone: browsers fetch a part when a letter of it is shown. */
const PARTS = [
  // Basic Latin, and the signs and punctuation that the interface uses.
  { name: 'basic', ranges: ['20-7e', 'a0', 'b0', 'b2', 'b7', 'd7', '2010-2014', '2018-201d', '2026', '202f', '2212'] },
  // Latin-1, Latin Extended-A, more signs.
  { name: 'latin', ranges: ['a1-af', 'b1', 'b3-b6', 'b8-d6', 'd8-17f', '20ac', '2190-2193', '2264-2265'] },
];
const lettersOf = (range) => {
  const [from, to = from] = range.split('-').map((code) => parseInt(code, 16));
  return Array.from({ length: to - from + 1 }, (_, i) => String.fromCodePoint(from + i)).join('');
};

/** Makes the folder anew: the parts of each font under their hashes, and `page.css`. */
export async function makeFonts() {
  rmSync(FOLDER, { recursive: true, force: true });
  mkdirSync(FOLDER, { recursive: true });
  const faces = [];
  for (const [family, place] of FONTS) {
    const file = createRequire(import.meta.url).resolve(`${place}/${family}.ttf`);
    for (const part of PARTS) {
      const letters = part.ranges.map(lettersOf).join('');
      const bytes = await subsetFont(readFileSync(file), letters, { targetFormat: 'woff2', noHinting: true });
      const hash = createHash('sha256').update(bytes).digest('hex').slice(0, 12);
      const name = `${family}-${part.name}.${hash}.woff2`;
      writeFileSync(join(FOLDER, name), bytes);
      const codes = part.ranges.map((range) => `U+${range}`);
      faces.push(
        `@font-face{font-family:${family};src:url(/fonts/${name}) format("woff2");font-display:swap;` +
          `unicode-range:${codes.join(',')}}`,
      );
    }
  }
  mkdirSync(join(FOLDER, 'labels'));
  const fileOf = (place) => createRequire(import.meta.url).resolve(`@expo-google-fonts/${place}.ttf`);
  for (const [name, place] of Object.entries(LABEL_FONTS))
    copyFileSync(fileOf(place), join(FOLDER, 'labels', `${name}.ttf`));
  // They may be passed on with their licences.
  const places = [
    ...FONTS.map(([, place]) => place),
    ...Object.values(LABEL_FONTS).map((p) => `@expo-google-fonts/${p}`),
  ];
  for (const name of new Set(places.map((place) => place.split('/')[1])))
    copyFileSync(
      createRequire(import.meta.url).resolve(`@expo-google-fonts/${name}/LICENSE_FONT`),
      join(FOLDER, `${name}.licence.txt`),
    );
  writeFileSync(join(FOLDER, 'page.css'), `${readFileSync(STYLES, 'utf8')}${faces.join('\n')}\n`);
}
