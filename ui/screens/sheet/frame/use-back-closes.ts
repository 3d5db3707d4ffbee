import { useEffect, useRef } from 'react';
import { catchBack } from '../../../platform/back';

/** The router changes the address a moment after it has changed the page. */
const ROUTER_MS = 60;

/**
 * While something is open over the page, the system's Back closes it and stays on the page.
 * Closed any other way, the entry that would have caught Back is taken off again.
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
    const letGo = catchBack(() => {
      isCaught = true;
      latest.current();
    });
    const { href } = window.location;
    return () => {
      letGo();
      if (!isCaught) setTimeout(() => takeOff(href), ROUTER_MS);
    };
  }, [open]);
}

/** Takes the extra entry off again, unless the page has gone elsewhere: then it has become that page's own. */
function takeOff(href: string): void {
  if (window.location.href !== href) return;
  const letGo = catchBack(() => letGo());
  window.history.back();
}
