import { leanOfTilt } from '../../core/geometry/tilt';
import { ANGLE_STEP_DEG, straightened } from '../../core/geometry/straight-line';
import { MAX_SAMPLES } from '../../core/stroke/codec';
import type { StrokePath } from '../../core/stroke/path';
import type { HandPoint } from '../../core/stroke/samples';
import { PointerArbiter, type ArbiterRules, type Contact, type Intents } from './pointer-arbiter';
import type { Stage } from './stage';

/** What the interface decides and hears while pointers work on the paper. */
export interface PointerHost extends Pick<Intents, 'pageStart' | 'pageMove' | 'pageEnd'> {
  stage: Stage;
  /** `adds`: Shift was held; `at`: where, paper px. */
  strokeStart(start: {
    hasPressure: boolean;
    eraserEnd: boolean;
    isPen: boolean;
    adds: boolean;
    at: { x: number; y: number };
  }): void;
  /** What the hand makes of its way, where it does not draw it as it is. @param isEven Shift is held. */
  pathOf(hand: readonly HandPoint[], isEven: boolean): StrokePath | undefined;
  /** @param points all that the hand has passed since it was told last. @param at where the line is shown to end; paper px. */
  strokeMoved(points: readonly HandPoint[], at: HandPoint): void;
  strokeEnd(): void;
  strokeDrop(): void;
  /** The nib's ring follows a hovering pen or mouse, and a finger that inks from afar; undefined when it leaves. */
  hover(at: { x: number; y: number } | undefined): void;
  /** A pen touches the paper, or has hovered over it for a while. */
  penNear(): void;
}

export interface InputRules extends ArbiterRules {
  /** The nib lies so many CSS px above the fingertip, so that the finger does not hide it. */
  fingerLiftPx: number;
  /** A pen's side button erases; otherwise it moves the page. */
  sideErases: boolean;
}

/** A pen that only crosses the paper on its way to a control is not near it. */
const NEAR_MS = 500;

/** The bit of a pen's eraser end in `buttons` (W3C Pointer Events, "button and buttons"). */
const ERASER_BIT = 32;
/** The bit of a pen's side button: held, the pen moves the page, or erases. */
const SIDE_BIT = 2;

/** A guess for later than the next frame but one is none. */
const FURTHEST_GUESS_MS = 34;

/** Some room is left for the samples of one more event. */
const LONGEST_STROKE = MAX_SAMPLES - 512;

/**
 * Listens to the pointers on the stage: sorts them with the arbiter and turns events, with all their
 * coalesced ones, into hand points.
 */
export class PointerInput {
  readonly arbiter: PointerArbiter;
  spaceHeld = false;
  private startedAt = 0;
  private current: PointerEvent | undefined;
  /** Where a mouse or trackpad was last, over the paper. */
  private mouse: PointerEvent | undefined;
  /** The pointer that a held key has put down. */
  private keyed: number | undefined;
  private strokeId = -1;
  /** The stroke as the hand made it, and whether it is shown as a straight line. */
  private hand: HandPoint[] = [];
  private isRuled = false;
  private lastPressure = 0.5;
  private readonly known = new Set<number>();
  private readonly abort = new AbortController();
  private nearTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly element: HTMLElement,
    private readonly host: PointerHost,
    private inputRules: InputRules,
  ) {
    this.arbiter = new PointerArbiter(
      {
        strokeStart: (id) => this.startStroke(id),
        strokeEnd: () => this.endStroke(() => host.strokeEnd()),
        strokeDrop: () => this.endStroke(() => host.strokeDrop()),
        pageStart: () => host.pageStart(),
        pageMove: (from, to, factor, turn) => host.pageMove(from, to, factor, turn),
        pageEnd: () => host.pageEnd(),
      },
      inputRules,
    );
    const options = { signal: this.abort.signal };
    element.addEventListener('pointerdown', (e) => this.down(e), options);
    element.addEventListener('pointermove', (e) => this.move(e), options);
    element.addEventListener('pointerup', (e) => this.up(e), options);
    element.addEventListener('pointercancel', (e) => this.cancel(e), options);
    element.addEventListener('pointerleave', () => this.leave(), options);
    element.addEventListener('contextmenu', (e) => e.preventDefault(), options);
    this.guardControls(options);
  }

  close(): void {
    clearTimeout(this.nearTimer);
    this.abort.abort();
  }

  set rules(rules: InputRules) {
    this.inputRules = rules;
    this.arbiter.rules = rules;
  }

  /** Controls take no touch while a pen is, or just was, on the paper: the hand rests there. */
  private guardControls(options: { signal: AbortSignal }): void {
    for (const type of ['pointerdown', 'click', 'touchstart'] as const)
      document.addEventListener(
        type,
        (e) => {
          const isTouch = type === 'touchstart' || (e as PointerEvent).pointerType === 'touch';
          if (isTouch && !this.element.contains(e.target as Node) && this.arbiter.palmTime(e.timeStamp)) {
            e.stopPropagation();
            e.preventDefault();
          }
        },
        { capture: true, passive: false, ...options },
      );
  }

  private down(e: PointerEvent): void {
    if (e.pointerType === 'mouse' && e.button > 1) return;
    e.preventDefault();
    // A finger's focus would scroll the page; a text field that has it should lose it.
    (document.activeElement as HTMLElement | null)?.blur?.();
    this.element.setPointerCapture(e.pointerId);
    this.known.add(e.pointerId);
    this.current = e;
    this.arbiter.down(this.contact(e));
    if (e.pointerType === 'pen') this.host.penNear();
    this.showNib(e);
  }

  /** Shows where the nib is: under a mouse or pen; above a finger that inks, if it is lifted. */
  private showNib(e: PointerEvent): void {
    const inksFromAfar = e.pointerId === this.strokeId && this.inputRules.fingerLiftPx > 0;
    this.host.hover(e.pointerType !== 'touch' || inksFromAfar ? this.nibPlace(e) : undefined);
  }

  /** Whether a mouse or trackpad is over the paper. */
  get isOver(): boolean {
    return this.mouse !== undefined;
  }

  /** A held key inks without a button being pressed: a trackpad's is hard to hold and move at once. */
  pressByKey(): void {
    const { mouse } = this;
    if (!mouse || this.known.has(mouse.pointerId) || this.inputRules.single !== 'ink') return;
    this.keyed = mouse.pointerId;
    this.known.add(mouse.pointerId);
    this.current = mouse;
    this.arbiter.down(this.contact(mouse));
  }

  releaseKey(): void {
    const { mouse, keyed } = this;
    this.keyed = undefined;
    if (mouse && keyed === mouse.pointerId && this.known.delete(keyed)) this.arbiter.up(this.contact(mouse));
  }

  private leave(): void {
    this.releaseKey();
    this.mouse = undefined;
    clearTimeout(this.nearTimer);
    this.nearTimer = undefined;
    this.host.hover(undefined);
  }

  private waitForPen(e: PointerEvent): void {
    if (e.pointerType !== 'pen' || this.nearTimer !== undefined) return;
    this.nearTimer = setTimeout(() => this.host.penNear(), NEAR_MS);
  }

  private move(e: PointerEvent): void {
    if (e.pointerType === 'mouse') this.mouse = e;
    this.showNib(e);
    this.waitForPen(e);
    // After a cancel the browser may go on under a new id; such a pointer never came down.
    if (!this.known.has(e.pointerId)) return;
    this.arbiter.move(this.contact(e));
    if (e.pointerId !== this.strokeId) return;
    this.extend(e, this.pointsOf(e), this.guessesOf(e));
    if (this.host.stage.wetSamples > LONGEST_STROKE) this.goOnAsAnother(e);
  }

  /** A stroke of more samples than one can have ends here, and the next begins here. */
  private goOnAsAnother(e: PointerEvent): void {
    this.host.strokeEnd();
    this.current = e;
    this.startStroke(e.pointerId);
  }

  /** Ends the stroke under way where it is: the page under it is about to move. */
  finish(): void {
    this.arbiter.finish();
  }

  private up(e: PointerEvent): void {
    if (!this.known.delete(e.pointerId)) return;
    // The line ends where the pen was lifted, and a dot is as long as it was held.
    if (e.pointerId === this.strokeId) this.extend(e, [{ ...this.point(e), pressure: this.lastPressure }]);
    this.arbiter.up(this.contact(e));
  }

  private cancel(e: PointerEvent): void {
    if (!this.known.delete(e.pointerId)) return;
    this.arbiter.cancel(this.contact(e));
  }

  private startStroke(id: number): void {
    const e = this.current;
    if (!e) return;
    this.strokeId = id;
    this.startedAt = e.timeStamp;
    const isPen = e.pointerType === 'pen';
    const eraserBits = this.inputRules.sideErases ? ERASER_BIT | SIDE_BIT : ERASER_BIT;
    const eraserEnd = isPen && (e.buttons & eraserBits) !== 0;
    const at = this.point(e);
    this.host.strokeStart({ hasPressure: hasPressure(e), eraserEnd, isPen, adds: e.shiftKey, at });
    this.hand = [];
    this.isRuled = false;
    this.extend(e, [at]);
  }

  /** Goes on with the stroke: as the hand goes or, with Shift held, straight; with Ctrl, Cmd or Alt too, in steps of 15 degrees. */
  private extend(e: PointerEvent, points: HandPoint[], guessed: HandPoint[] = []): void {
    this.hand.push(...points);
    const wasRuled = this.isRuled;
    this.isRuled = e.shiftKey;
    const { stage } = this.host;
    const path = this.host.pathOf(this.hand, e.shiftKey);
    if (path) {
      stage.redrawPath(path);
      return this.host.strokeMoved(points, this.hand[this.hand.length - 1]);
    }
    const steps = e.ctrlKey || e.metaKey || e.altKey ? ANGLE_STEP_DEG : undefined;
    const line = e.shiftKey ? straightened(this.hand, steps) : this.hand;
    if (e.shiftKey || wasRuled) stage.redrawStroke(line);
    else stage.extendStroke(points, guessed);
    this.host.strokeMoved(points, line[line.length - 1]);
  }

  private endStroke(tell: () => void): void {
    this.strokeId = -1;
    if (this.current?.pointerType === 'touch') this.host.hover(undefined);
    tell();
  }

  private pointsOf(e: PointerEvent): HandPoint[] {
    // Missing in insecure contexts; then each event is its own only sample.
    const all = e.getCoalescedEvents?.() ?? [];
    return (all.length ? all : [e]).map((c) => this.point(c));
  }

  /** Where the browser thinks that the pointer will be until the next frame is shown. */
  private guessesOf(e: PointerEvent): HandPoint[] {
    const { lastPressure } = this;
    const guesses = e.getPredictedEvents?.() ?? [];
    const points = guesses.filter((g) => g.timeStamp - e.timeStamp <= FURTHEST_GUESS_MS).map((g) => this.point(g));
    this.lastPressure = lastPressure;
    return points.map((p) => ({ ...p, pressure: lastPressure }));
  }

  private point(e: PointerEvent): HandPoint {
    const { x, y } = this.nibPlace(e);
    const [px, py] = this.host.stage.toPaper(x, y);
    const lean = leanOfTilt(e.tiltX || 0, e.tiltY || 0);
    // What a mouse reports while it is pressed (W3C Pointer Events, "pressure"); by a key it is not.
    const pressure = e.pointerType === 'mouse' ? 0.5 : e.pressure;
    if (e.type !== 'pointerup') this.lastPressure = pressure;
    return { x: px, y: py, tMs: Math.max(0, e.timeStamp - this.startedAt), pressure, ...lean };
  }

  private nibPlace(e: PointerEvent): { x: number; y: number } {
    const { x, y } = this.place(e);
    return { x, y: e.pointerType === 'touch' ? y - this.inputRules.fingerLiftPx : y };
  }

  private place(e: PointerEvent): { x: number; y: number } {
    const box = this.element.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  }

  private contact(e: PointerEvent): Contact {
    const type = e.pointerType === 'pen' || e.pointerType === 'touch' ? e.pointerType : 'mouse';
    const isOther =
      type === 'mouse' ? e.button === 1 : type === 'pen' && !this.inputRules.sideErases && (e.buttons & SIDE_BIT) !== 0;
    const moves = isOther || this.spaceHeld;
    return { id: e.pointerId, type, ...this.place(e), t: e.timeStamp, moves };
  }
}

/**
 * Whether the pressure is measured. Devices without a sensor report 0.5 (W3C Pointer Events Level 3)
 * for mice and, in practice, 0, 0.5 or 1 for fingers.
 */
function hasPressure(e: PointerEvent): boolean {
  if (e.pointerType === 'pen') return true;
  return e.pointerType === 'touch' && ![0, 0.5, 1].includes(e.pressure);
}
