import { usePathname, useRouter } from 'expo-router';
import { useEffect, useRef, type RefObject } from 'react';
import { useStore } from 'react-redux';
import type { PointerInput } from '../../../canvas/pointer-input';
import { useOpenSheet } from '../../../session/session-context';
import type { AppStore } from '../../../store/store';
import { useStop, type KeyAction } from '../stops/stop';
import { STOPS } from '../stops/stops';
import { useGoToStop } from '../frame/stops-bar';
import { pageKeys } from './page-keys';

/** Held, the pointer inks without being pressed. */
const INK_KEY = 'i';

/** Listens to the keys of the sheet's screens; key-list.ts tells the artist of them. */
export function useKeys(input: RefObject<PointerInput | undefined>): void {
  const open = useOpenSheet();
  const { session } = open;
  const store = useStore() as AppStore;
  const router = useRouter();
  const now = { go: useGoToStop(), path: usePathname(), stop: useStop() };
  const latest = useRef(now);
  useEffect(() => {
    latest.current = now;
  });

  useEffect(() => {
    const ofStops = STOPS.map((stop) => ({ stop, keys: stop.keys?.({ ...open, store }) ?? {} }));
    const page = pageKeys({ session, store });
    const isOpen = (of: (typeof ofStops)[number]) => of.stop === latest.current.stop;
    /** What a key may mean: at the open stop first, then for what is in the hand, then for the page. What nobody would see is nothing. */
    const actionsOf = (key: string): KeyAction[] => {
      const inHand = latest.current.stop.tool ? ofStops.filter((of) => !isOpen(of)) : [];
      return [
        ...ofStops.filter(isOpen).flatMap(({ keys }) => ownAction(keys, key)),
        ...inHand.flatMap(({ keys }) => ownAction(keys, key)).filter((action) => action.isForHand),
        ...ownAction(page, key),
      ];
    };
    /** The control that has the keys was gone to by key. */
    let isByTab = false;
    const press = () => (isByTab = false);
    const down = (e: KeyboardEvent) => {
      if (e.key === 'Tab') isByTab = true;
      if (isTyping(e.target)) return;
      const key = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && (key === 'z' || key === 'y')) {
        e.preventDefault();
        void (e.shiftKey || key === 'y' ? session.redo() : session.undo());
        return;
      }
      if ((e.ctrlKey || e.metaKey) && key === 's') {
        e.preventDefault();
        return session.tell(
          session.isSaved
            ? 'All of it is saved: each line is as soon as it is drawn.'
            : 'It is kept on this device, and goes to the server as soon as that can be reached.',
        );
      }
      if (e.ctrlKey || e.metaKey) {
        if (actionsOf(`ctrl+${key}`).some((action) => action.down(e) !== false)) e.preventDefault();
        return;
      }
      if (e.altKey) return;
      const stop = STOPS.find((s) => s.key === e.key);
      if (stop) return latest.current.go(stop.route);
      if (e.key === '?') return router.push({ pathname: '/keys', params: { from: latest.current.path } });
      // A focused control keeps its own keys: those that press it, and arrows where they choose something.
      const control = e.target instanceof HTMLElement ? e.target : undefined;
      const onControl = control?.closest('[role=slider],[role=button],[role=radio],[role=tab],[role=switch]');
      const takesArrows = control?.closest('[role=slider],[role=radio],[role=tab],[aria-label^="Drag "]');
      // What was pressed by a pointer has no claim on it once that is over the paper.
      const isPaperTurn = input.current?.isOver === true && !isByTab;
      if (e.key === ' ' && (!onControl || isPaperTurn)) {
        e.preventDefault();
        if (input.current) input.current.spaceHeld = true;
        return;
      }
      if (key === INK_KEY) {
        if (!e.repeat) input.current?.pressByKey();
        return;
      }
      if (takesArrows && e.key.startsWith('Arrow')) return;
      if (onControl && (e.key === ' ' || e.key === 'Enter')) return;
      if (actionsOf(key).some((action) => action.down(e) !== false)) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase();
      if (key === ' ' && input.current) input.current.spaceHeld = false;
      if (key === INK_KEY) input.current?.releaseKey();
      // Wherever it went down: the stop may be another by now.
      for (const { keys } of [...ofStops, { keys: page }]) for (const action of ownAction(keys, key)) action.up?.(e);
    };
    const blur = () => {
      for (const { keys } of [...ofStops, { keys: page }]) for (const action of Object.values(keys)) action.cancel?.();
      if (input.current) input.current.spaceHeld = false;
      input.current?.releaseKey();
    };
    // What a pointer has pressed gives the keys back to the paper; a keyboard's focus stays where it is.
    const giveBack = () =>
      setTimeout(() => {
        const focused = document.activeElement;
        if (focused instanceof HTMLElement && !isTyping(focused) && !focused.matches(':focus-visible, [role=slider]'))
          focused.blur();
      }, 0);
    // Over bars and columns, too, it is the paper that is meant, and never the browser's own zoom.
    const wheel = (e: WheelEvent) => (e.ctrlKey || e.metaKey) && e.preventDefault();
    window.addEventListener('wheel', wheel, { passive: false });
    window.addEventListener('pointerdown', press, true);
    window.addEventListener('pointerup', giveBack);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', blur);
    return () => {
      window.removeEventListener('wheel', wheel);
      window.removeEventListener('pointerdown', press, true);
      window.removeEventListener('pointerup', giveBack);
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', blur);
    };
  }, [open, session, store, router, input]);
}

const ownAction = (keys: Record<string, KeyAction>, key: string): KeyAction[] =>
  Object.hasOwn(keys, key) ? [keys[key]] : [];

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable);
