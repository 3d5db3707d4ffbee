import { LABEL_FONTS, type LabelFont } from '../../core/sheet/entities';
import { Letters } from '../../core/text/set-line';
import { labelFontBytes } from '../../demo/label-font';

const read = new Map(LABEL_FONTS.map((font) => [font, Letters.read(labelFontBytes(font))]));
export const lettersIn = (font: LabelFont): Letters => read.get(font)!;

/** The advance widths of characters, read from the tables of the font's file by hand, in sizes. @see OpenType 1.9: head, hhea, hmtx, cmap format 4 */
export function advancesIn(font: LabelFont): (character: string) => number {
  const view = new DataView(labelFontBytes(font));
  const tables = new Map<string, number>();
  for (let i = 0; i < view.getUint16(4); i++) {
    const at = 12 + 16 * i;
    const tag = String.fromCharCode(...[0, 1, 2, 3].map((k) => view.getUint8(at + k)));
    tables.set(tag, view.getUint32(at + 8));
  }
  const unitsPerEm = view.getUint16(tables.get('head')! + 18);
  const metrics = view.getUint16(tables.get('hhea')! + 34);
  const cmap = tables.get('cmap')!;
  let sub = 0;
  for (let i = 0; i < view.getUint16(cmap + 2); i++) {
    const at = cmap + view.getUint32(cmap + 4 + 8 * i + 4);
    if (view.getUint16(at) === 4) sub = at;
  }
  const twice = view.getUint16(sub + 6);
  const [ends, starts] = [sub + 14, sub + 16 + twice];
  const glyphOf = (code: number): number => {
    for (let k = 0; k < twice; k += 2) {
      if (view.getUint16(ends + k) < code) continue;
      const start = view.getUint16(starts + k);
      if (start > code) return 0;
      const delta = view.getInt16(starts + twice + k);
      const place = starts + 2 * twice + k;
      const offset = view.getUint16(place);
      if (offset === 0) return (code + delta) & 0xffff;
      const glyph = view.getUint16(place + offset + 2 * (code - start));
      return glyph === 0 ? 0 : (glyph + delta) & 0xffff;
    }
    return 0;
  };
  return (character) => {
    const glyph = Math.min(glyphOf(character.codePointAt(0)!), metrics - 1);
    return view.getUint16(tables.get('hmtx')! + 4 * glyph) / unitsPerEm;
  };
}
