import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { LabelFont } from '../core/sheet/entities';
import places from '../scripts/label-fonts.json';

/** The bytes of a label's font, as its package has them. */
export function labelFontBytes(font: LabelFont): ArrayBuffer {
  const bytes = readFileSync(createRequire(__filename).resolve(`@expo-google-fonts/${places[font]}.ttf`));
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
}
