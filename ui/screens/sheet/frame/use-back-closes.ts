import { useEffect, useRef } from 'react';

/** The router changes the address a moment after it has changed the page. */
const ROUTER_MS = 60;

/**
 * While something is open over the page, the system's Back closes it and stays on the page.
 * Closed any other way, the entry that caught Back is taken off again.
 */
export function useBackCloses(open: boolean, close: () => void): void {
  const latest = useRef(close);
  useEffect(() => {
    latest.current = close;
  });
  useEffect(() => {
    if (!open) return;
    // The router's own entry, once more: going back from it changes no route.
    window.history.pushState(window.history.state, '', window.location.href);
    let isCaught = false;
    const back = (e: PopStateEvent) => {
      e.stopImmediatePropagation();
      isCaught = true;
      latest.current();
    };
    window.addEventListener('popstate', back, { capture: true });
    const { href } = window.location;
    return () => {
      window.removeEventListener('popstate', back, { capture: true });
      if (!isCaught) setTimeout(() => takeOff(href), ROUTER_MS);
    };
  }, [open]);
}

/** Takes the extra entry off again, unless the page has gone elsewhere: then it has become that page's own. */
function takeOff(href: string): void {
  if (window.location.href !== href) return;
  const swallow = (e: PopStateEvent) => e.stopImmediatePropagation();
  window.addEventListener('popstate', swallow, { capture: true, once: true });
  window.history.back();
}
