/** What a drag that began on undo or redo means if it ended now. */
export type StepDrag = { kind: 'tap' } | { kind: 'steps'; steps: number } | { kind: 'left' };

/** A drag this long along the button begins to go through the steps, and goes one step further each time. */
const STEP_PX = 24;
/** Further off than this, up or down, the drag has left the button. */
const LEAVE_PX = 56;

/**
 * @param dx, dy from where the pointer came down, CSS px; either way along counts.
 * @param available steps that there are.
 */
export function stepsOfDrag(dx: number, dy: number, available: number): StepDrag {
  if (Math.abs(dy) > LEAVE_PX) return { kind: 'left' };
  const along = Math.floor(Math.abs(dx) / STEP_PX);
  return along < 1 || available === 0 ? { kind: 'tap' } : { kind: 'steps', steps: Math.min(along, available) };
}

interface StepDragListener {
  /** Steps that there are. */
  available(): number;
  /** What letting go would do; undefined when no drag is under way. */
  show(drag: StepDrag | undefined): void;
  take(steps: number): void;
}

/**
 * Watches drags that begin on `element`. A tap stays the element's own press: the pointer is caught only once it
 * has moved far enough, and then no click follows.
 * @returns stops watching.
 */
export function watchStepDrag(element: HTMLElement, listener: StepDragListener): () => void {
  const abort = new AbortController();
  const options = { signal: abort.signal };
  let from: { id: number; x: number; y: number } | undefined;
  let drag: StepDrag = { kind: 'tap' };
  const end = () => {
    from = undefined;
    drag = { kind: 'tap' };
    listener.show(undefined);
  };
  const down = (e: PointerEvent) => {
    from = { id: e.pointerId, x: e.clientX, y: e.clientY };
  };
  const move = (e: PointerEvent) => {
    if (from?.id !== e.pointerId) return;
    const next = stepsOfDrag(e.clientX - from.x, e.clientY - from.y, listener.available());
    if (next.kind === 'tap' && drag.kind === 'tap') return;
    element.setPointerCapture(e.pointerId);
    // Back at the button, a drag that had begun takes nothing.
    drag = next.kind === 'tap' ? { kind: 'left' } : next;
    listener.show(drag);
  };
  const up = (e: PointerEvent) => {
    if (from?.id !== e.pointerId) return;
    const steps = drag.kind === 'steps' ? drag.steps : 0;
    end();
    if (steps > 0) listener.take(steps);
  };
  element.addEventListener('pointerdown', down, options);
  // A mouse may have left the button before it has moved far enough to be caught.
  document.addEventListener('pointermove', move, options);
  document.addEventListener('pointerup', up, options);
  document.addEventListener('pointercancel', end, options);
  return () => abort.abort();
}
