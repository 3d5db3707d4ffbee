import type { CopiedLines } from '../../contract/copied-lines';

/** A web custom format (W3C, "Clipboard API and events"): read as it was written. */
export const LINES_FORMAT = 'web application/x-hush-line-lines';

/** Whether this browser carries lines from window to window. */
export const carriesLines = (): boolean =>
  typeof ClipboardItem !== 'undefined' && ClipboardItem.supports?.(LINES_FORMAT) === true;

type Said = { asks: true } | { copied: CopiedLines };

/** What was copied last, from whichever sheet in whichever tab of this browser. */
let last: CopiedLines | undefined;
const listeners = new Set<() => void>();

/** Other tabs: each has what any of them has copied, and a new one asks. */
const tabs = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('hush-line.copied');
if (tabs) {
  tabs.onmessage = ({ data }: MessageEvent<Said>) => {
    if ('copied' in data) take(data.copied);
    else if (last) tabs.postMessage({ copied: last } satisfies Said);
  };
  tabs.postMessage({ asks: true } satisfies Said);
}

function take(copied: CopiedLines): void {
  if (last && last.at > copied.at) return;
  last = copied;
  for (const listener of listeners) listener();
}

/** The lines that were copied last in this browser. */
export const lastCopied = (): CopiedLines | undefined => last;

/** Whether there are lines to paste, or may be in another window. */
export const mayPaste = (): boolean => last !== undefined || carriesLines();

/** Tells when other lines are copied. @returns stops telling. */
export function watchCopied(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

/** From now on these are what is pasted, in all tabs. */
export function keepCopied(copied: CopiedLines): void {
  take(copied);
  tabs?.postMessage({ copied } satisfies Said);
}
