import { useEffect, useRef, type RefObject } from 'react';
import type { View } from 'react-native';

/** What dragging an element tells; places in CSS px of the window. */
export interface Drag {
  begin?(at: PointerPlace): void;
  move(at: PointerPlace): void;
  end(at: PointerPlace): void;
  /** The device took the drag away: nothing has happened. */
  drop(): void;
}

export interface Place {
  x: number;
  y: number;
}

/** Where the pointer is, of which kind it is, and the keys that are held. */
export interface PointerPlace extends Place {
  kind: string;
  shift: boolean;
  alt: boolean;
}

/** Makes an element be dragged by one finger, pen or mouse at a time, which is caught as long as it drags. */
export function useDrag(drag: Drag): RefObject<View | null> {
  const element = useRef<View>(null);
  const latest = useRef(drag);
  useEffect(() => {
    latest.current = drag;
  });
  useEffect(() => {
    const node = element.current as unknown as HTMLElement;
    let dragging: number | undefined;
    const abort = new AbortController();
    const on = (
      type: 'pointerdown' | 'pointermove' | 'pointerup' | 'pointercancel',
      listen: (e: PointerEvent) => void,
    ) => node.addEventListener(type, listen, { signal: abort.signal });
    const placeOf = (e: PointerEvent): PointerPlace => ({
      x: e.clientX,
      y: e.clientY,
      kind: e.pointerType,
      shift: e.shiftKey,
      alt: e.altKey,
    });
    const isDragging = (e: PointerEvent) => e.pointerId === dragging;
    on('pointerdown', (e) => {
      // Something within has taken it.
      if (dragging !== undefined || e.button > 0 || e.defaultPrevented) return;
      e.preventDefault();
      node.setPointerCapture(e.pointerId);
      dragging = e.pointerId;
      latest.current.begin?.(placeOf(e));
    });
    on('pointermove', (e) => isDragging(e) && latest.current.move(placeOf(e)));
    on('pointerup', (e) => {
      if (!isDragging(e)) return;
      dragging = undefined;
      latest.current.end(placeOf(e));
    });
    on('pointercancel', (e) => {
      if (!isDragging(e)) return;
      dragging = undefined;
      latest.current.drop();
    });
    return () => abort.abort();
  }, []);
  return element;
}

/** Makes an element be dragged, and tells by how much it was since it last told, CSS px. */
export function useDragBy(move: (dx: number, dy: number) => void): RefObject<View | null> {
  const last = useRef({ x: 0, y: 0 });
  return useDrag({
    begin: (at) => {
      last.current = at;
    },
    move: (at) => {
      move(at.x - last.current.x, at.y - last.current.y);
      last.current = at;
    },
    end: () => undefined,
    drop: () => undefined,
  });
}
