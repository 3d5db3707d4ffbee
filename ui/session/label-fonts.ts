import type { LabelFont } from '../../core/sheet/entities';
import type { Letters } from '../../core/text/set-line';

/** Where the letters of a font come from. @throws they cannot be had. */
export type LetterSource = (font: LabelFont) => Promise<Letters>;

/** The name under which a label's font is known to the page. */
export const pageFont = (font: LabelFont): string => `label-${font}`;

/** From the server: the font's file, and the code that reads it, which nothing else needs. */
const fetched: LetterSource = async (font) => {
  const file = fetch(`/fonts/labels/${font}.ttf`);
  const [answer, reading] = await Promise.all([file, import('../../core/text/set-line')]);
  if (!answer.ok) throw new Error(`no font ${font}: ${answer.status}`);
  const bytes = await answer.arrayBuffer();
  showOnPage(font, bytes);
  return reading.Letters.read(bytes);
};

/** The letters that labels are set in: fetched when they are first asked for, then kept. */
export class LabelFonts {
  private readonly known = new Map<LabelFont, Promise<Letters>>();

  constructor(private readonly source: LetterSource = fetched) {}

  /** @throws they cannot be had now; asked for again, it is tried again. */
  lettersOf(font: LabelFont): Promise<Letters> {
    const found = this.known.get(font);
    if (found) return found;
    const coming = this.source(font);
    this.known.set(font, coming);
    coming.catch(() => this.known.delete(font));
    return coming;
  }
}

/** Lets the page write with a font, too: so the names of fonts are set in them. */
function showOnPage(font: LabelFont, bytes: ArrayBuffer): void {
  const face = new FontFace(pageFont(font), bytes.slice(0));
  face.load().then(
    () => document.fonts.add(face),
    () => undefined,
  );
}
