import { packCopiedLines, unpackCopiedLines, type CopiedLines } from '../../contract/copied-lines';
import { carriesLines, LINES_FORMAT } from './copied-lines';

const SVG = 'image/svg+xml';

/**
 * Leaves lines for other windows, browsers and programs, as far as this browser lets it.
 * @param svg draws them for other programs; undefined: cannot.
 */
export async function writeLines(copied: CopiedLines, svg: () => Promise<Blob | undefined>): Promise<void> {
  if (typeof ClipboardItem === 'undefined' || typeof navigator.clipboard?.write !== 'function') return;
  const data: Record<string, Blob> = {};
  if (carriesLines())
    data[LINES_FORMAT] = new Blob([packCopiedLines(copied)], { type: LINES_FORMAT.replace('web ', '') });
  const drawn = ClipboardItem.supports?.(SVG) ? await svg() : undefined;
  if (drawn) data[SVG] = drawn;
  if (Object.keys(data).length) await navigator.clipboard.write([new ClipboardItem(data)]);
}

/**
 * The lines that were copied last anywhere; undefined: something else was, or this browser does not say.
 * @param isMeant whether the artist may be asked to let the page look.
 * @throws {RangeError} lines that cannot be read.
 */
export async function readLines(isMeant: boolean): Promise<CopiedLines | undefined> {
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
