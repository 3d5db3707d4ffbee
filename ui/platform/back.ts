/** Takes a step back in the browser's history in place of the router. */
export type BackCatcher = () => void;

const catchers: BackCatcher[] = [];

/**
 * Gets the system's Back before the router does, as long as someone wants it. To be called before the router starts:
 * listeners of the window itself are called in the order in which they were added, whatever their phase.
 */
export function listenToBack(): void {
  if (typeof window === 'undefined') return;
  window.addEventListener('popstate', (e) => {
    const catcher = catchers[catchers.length - 1];
    if (!catcher) return;
    e.stopImmediatePropagation();
    catcher();
  });
}

/** Catches each step back until it is let go; of several catchers the latest. @returns lets go. */
export function catchBack(catcher: BackCatcher): () => void {
  catchers.push(catcher);
  return () => {
    const at = catchers.lastIndexOf(catcher);
    if (at >= 0) catchers.splice(at, 1);
  };
}
