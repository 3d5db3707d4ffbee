import { packCopiedLines, unpackCopiedLines, type CopiedLines } from '../../contract/copied-lines';
import type { SheetSession } from './session';
import { carriesLines, LINES_FORMAT } from './copied-lines';

const SVG = 'image/svg+xml';

/** Of more lines no drawing is left for other programs. */
const MOST_DRAWN = 2000;

/** Leaves lines for other windows, browsers and programs, as far as this browser lets it. */
export async function leaveLines({ client, card }: SheetSession, copied: CopiedLines): Promise<void> {
  if (typeof ClipboardItem === 'undefined' || typeof navigator.clipboard?.write !== 'function') return;
  const data: Record<string, Blob> = {};
  if (carriesLines())
    data[LINES_FORMAT] = new Blob([packCopiedLines(copied)], { type: LINES_FORMAT.replace('web ', '') });
  const only = copied.copies.map(({ stroke }) => stroke.id);
  if (ClipboardItem.supports?.(SVG) && only.length <= MOST_DRAWN) {
    const parts = await client.svg({ onPaper: false, title: card.name, only }).result;
    if (parts) data[SVG] = new Blob(parts, { type: SVG });
  }
  if (Object.keys(data).length) await navigator.clipboard.write([new ClipboardItem(data)]);
}

/** What another window has copied since comes before what this browser has; says why there is nothing. */
export async function lastAnywhere(
  own: CopiedLines | undefined,
  tell: (text: string) => void,
): Promise<CopiedLines | undefined> {
  try {
    const theirs = await readLines(!own);
    if (theirs && (!own || theirs.at > own.at)) return theirs;
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    if (!own) return void tell('The lines that were copied cannot be read, so nothing was pasted.');
  }
  return own ?? void tell('No lines were copied, so nothing was pasted. Pick some, copy them, and paste again.');
}

/**
 * The lines that were copied last anywhere; undefined: something else was, or this browser does not say.
 * @param isMeant whether the artist may be asked to let the page look.
 * @throws {RangeError} lines that cannot be read.
 */
async function readLines(isMeant: boolean): Promise<CopiedLines | undefined> {
  if (!carriesLines() || typeof navigator.clipboard?.read !== 'function') return undefined;
  const state = await navigator.permissions?.query({ name: 'clipboard-read' as PermissionName }).then(
    ({ state: now }) => now,
    () => 'prompt' as const,
  );
  if (state === 'denied' || (state !== 'granted' && !isMeant)) return undefined;
  let bytes: ArrayBuffer | undefined;
  try {
    for (const item of await navigator.clipboard.read())
      if (item.types.includes(LINES_FORMAT)) bytes = await (await item.getType(LINES_FORMAT)).arrayBuffer();
  } catch {
    // The artist has said no, or the window is not in front.
    return undefined;
  }
  return bytes && unpackCopiedLines(new Uint8Array(bytes));
}
