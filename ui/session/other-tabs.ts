/**
 * Other tabs of this browser that have a sheet open: they are told when there is something new. Undefined where a browser has
 * no such channels; then a tab sees the others when it looks again.
 * @param news one of them has told.
 */
export function otherTabs(sheetId: string, news: () => void): BroadcastChannel | undefined {
  if (typeof BroadcastChannel === 'undefined') return undefined;
  const tabs = new BroadcastChannel(`hush-line.sheet.${sheetId}`);
  tabs.onmessage = news;
  return tabs;
}
