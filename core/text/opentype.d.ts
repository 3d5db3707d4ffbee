/** The part of opentype.js 2 that is used here (the package carries no types, and those that there are ask for a page). */
declare module 'opentype.js' {
  /** A piece of an outline, in px, y downwards. */
  type PathCommand =
    | { type: 'M' | 'L'; x: number; y: number }
    | { type: 'Q'; x1: number; y1: number; x: number; y: number }
    | { type: 'C'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
    | { type: 'Z' };
  interface Glyph {
    index: number;
    advanceWidth: number;
    getPath(x: number, y: number, fontSize: number): { commands: PathCommand[] };
  }
  interface Font {
    unitsPerEm: number;
    ascender: number;
    descender: number;
    charToGlyphIndex(character: string): number;
    glyphs: { get(index: number): Glyph };
    getKerningValue(left: number, right: number): number;
    substitution: { getLigatures(feature: string, script: string): { sub: number[]; by: number }[] | undefined };
  }
  /** @throws what is no font, or of a kind that it cannot read. */
  function parse(bytes: ArrayBuffer): Font;
}
