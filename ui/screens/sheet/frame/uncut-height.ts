const CONTROLS = '[role=button],[role=slider],[role=radio],[role=switch],[role=listitem],[role=img],input';
/** Between the edge and what comes next, CSS px, at most. */
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
    const first = Math.min(...cut.map((s) => s.top));
    // Half of a narrower gap: not into the row before.
    const before = Math.max(first - 2 * GAP_PX, ...spans.filter((s) => s.bottom <= first).map((s) => s.bottom));
    height = (first + before) / 2;
    if (height <= least) return least;
  }
}

/** What is higher holds controls of its own: an unfolded row of a list. */
const TALL_PX = 120;

/** Where the controls within an element lie, from its top. */
export function controlSpans(content: HTMLElement): { top: number; bottom: number }[] {
  const origin = content.getBoundingClientRect().top;
  return [...content.querySelectorAll(CONTROLS)].flatMap((control) => {
    const { top, bottom } = control.getBoundingClientRect();
    return bottom - top > TALL_PX ? [] : { top: top - origin, bottom: bottom - origin };
  });
}
