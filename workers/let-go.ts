/** What is made of all lines holds several KB of each: it is let go once nothing was asked for so long. */
const KEPT_MS = 60_000;

/** @returns tells that it is used, and so is kept for a while. */
export function lettingGo(forget: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  return () => {
    clearTimeout(timer);
    timer = setTimeout(forget, KEPT_MS);
  };
}
