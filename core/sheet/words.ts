/** The longest name, label or title, in UTF-16 units. */
export const MAX_NAME = 120;

/** Control characters and lone halves of surrogate pairs: no XML can hold them, no screen shows them. */
const UNPRINTABLE =
  /[\u0000-\u001f\u007f-\u009f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

export const isPrintable = (text: string): boolean => text.search(UNPRINTABLE) === -1;

/** The text without what cannot be printed. */
export const printable = (text: string): string => text.replace(UNPRINTABLE, '');

/** A text that fits where a name or label goes: printable, cut with an ellipsis where it is too long. */
export function cutText(text: string, most = MAX_NAME): string {
  const clean = printable(text);
  return clean.length <= most ? clean : `${printable(clean.slice(0, most - 1)).trimEnd()}…`;
}
