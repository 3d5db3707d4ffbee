import { parse, type Font, type PathCommand } from 'opentype.js';

/** A letter in its line: parts of the size, from the line's beginning and its baseline, y downwards. */
export interface SetLetter {
  glyph: number;
  x: number;
}

/** A line as it is set: its letters and how far it goes, in sizes. */
export interface SetLine {
  letters: SetLetter[];
  width: number;
}

interface Ligature {
  glyphs: readonly number[];
  by: number;
}

/** The letters of a font, set beside each other by its own widths, kerning and ligatures. */
export class Letters {
  /** How far letters reach above and below the baseline, in sizes, both above 0. */
  readonly above: number;
  readonly below: number;
  private readonly ligatures = new Map<number, Ligature[]>();

  private constructor(private readonly font: Font) {
    this.above = font.ascender / font.unitsPerEm;
    this.below = -font.descender / font.unitsPerEm;
    for (const { sub, by } of font.substitution.getLigatures('liga', 'latn') ?? []) {
      const known = this.ligatures.get(sub[0]) ?? [];
      // The longest comes first.
      known.push({ glyphs: sub, by });
      this.ligatures.set(
        sub[0],
        known.sort((a, b) => b.glyphs.length - a.glyphs.length),
      );
    }
  }

  /** @param bytes of a TrueType or OpenType font. @throws what is none. */
  static read(bytes: ArrayBuffer): Letters {
    return new Letters(parse(bytes));
  }

  /** The characters of a text that the font has no letter for, each once. */
  lacking(text: string): string[] {
    const all = [...text.normalize('NFC')].filter((one) => one !== '\n' && this.font.charToGlyphIndex(one) === 0);
    return [...new Set(all)];
  }

  /** Sets one line, from left to right. What the font has no letter for is its box. */
  set(line: string): SetLine {
    const { font } = this;
    const glyphs = this.joined([...line.normalize('NFC')].map((one) => font.charToGlyphIndex(one)));
    let x = 0;
    const letters = glyphs.map((glyph, i): SetLetter => {
      const at = x / font.unitsPerEm;
      x += font.glyphs.get(glyph).advanceWidth;
      if (i + 1 < glyphs.length) x += font.getKerningValue(glyph, glyphs[i + 1]);
      return { glyph, x: at };
    });
    return { letters, width: x / font.unitsPerEm };
  }

  /** The outlines of a letter at a place, px. */
  outlines(glyph: number, x: number, y: number, sizePx: number): PathCommand[] {
    return this.font.glyphs.get(glyph).getPath(x, y, sizePx).commands;
  }

  private joined(glyphs: readonly number[]): number[] {
    const out: number[] = [];
    for (let i = 0; i < glyphs.length;) {
      const found = this.ligatures.get(glyphs[i])?.find((one) => one.glyphs.every((g, k) => glyphs[i + k] === g));
      out.push(found?.by ?? glyphs[i]);
      i += found?.glyphs.length ?? 1;
    }
    return out;
  }
}
