const CONTROLS = '[role=button],[role=slider],[role=radio],[role=switch],[role=listitem],[role=img],input';
/** Between what is the last to be seen whole and the edge, CSS px. */
const GAP_PX = 6;

/**
 * The largest height up to `most` at which the lower edge of a scrolled area cuts through no control.
 * @param spans where the controls lie, from the top of the content, CSS px.
 * @param least is kept even if something is cut then.
 */
export function uncutHeight(spans: readonly { top: number; bottom: number }[], most: number, least: number): number {
  let height = most;
  for (;;) {
    const cut = spans.filter((s) => s.top < height && s.bottom > height);
    if (!cut.length) return Math.max(least, height);
    height = Math.min(...cut.map((s) => s.top)) - GAP_PX;
    if (height <= least) return least;
  }
}

/** Where the controls within an element lie, from its top. */
export function controlSpans(content: HTMLElement): { top: number; bottom: number }[] {
  const origin = content.getBoundingClientRect().top;
  return [...content.querySelectorAll(CONTROLS)].map((control) => {
    const { top, bottom } = control.getBoundingClientRect();
    return { top: top - origin, bottom: bottom - origin };
  });
}
