/** A contact as the arbiter sees it; `t` in ms, x and y in px of the stage. */
export interface Contact {
  id: number;
  type: 'pen' | 'touch' | 'mouse';
  x: number;
  y: number;
  t: number;
  /** Another button, or the space key: the mouse moves the page. */
  moves?: boolean;
}

/** What the arbiter decides. The page movement carries `from` to `to`, scales and turns about it. */
export interface Intents {
  strokeStart(id: number): void;
  strokeEnd(): void;
  strokeDrop(): void;
  pageStart(): void;
  pageMove(from: [number, number], to: [number, number], factor: number, turnDeg: number): void;
  pageEnd(): void;
}

export interface ArbiterRules {
  /** What a single contact does. */
  single: 'ink' | 'move';
  /** Fingers move the page once a pen has been seen. */
  fingersMoveAfterPen: boolean;
}

/** A second finger within this time, or before the first has travelled this far, means "move the page". */
export const SECOND_FINGER_MS = 150;
export const SECOND_FINGER_PX = 12;
/** After the last pen contact fingers and palms are not listened to for this long. */
export const PALM_MS = 300;

/**
 * Tells inking, moving the page and resting hands apart. A second finger or a palm never leaves a
 * mark: an early one takes the stroke back and moves the page, a later one is ignored.
 */
export class PointerArbiter {
  private stroke: { contact: Contact; travelled: number } | undefined;
  private moving = new Map<number, Contact>();
  private lastPen = -Infinity;
  private penSeen = false;

  constructor(
    private readonly intents: Intents,
    public rules: ArbiterRules,
  ) {}

  get isStroking(): boolean {
    return this.stroke !== undefined;
  }

  /** Whether fingers are shut out because a pen is, or just was, on the paper. */
  palmTime(t: number): boolean {
    return this.stroke?.contact.type === 'pen' || t - this.lastPen < PALM_MS;
  }

  down(contact: Contact): void {
    if (contact.type === 'pen') return this.penDown(contact);
    if (contact.type === 'touch') return this.fingerDown(contact);
    if (this.stroke || this.moving.size) return;
    if (contact.moves || this.rules.single === 'move') this.beginMoving([contact]);
    else this.beginStroke(contact);
  }

  move(contact: Contact): void {
    const { stroke, moving } = this;
    if (stroke?.contact.id === contact.id) {
      const { x, y } = stroke.contact;
      stroke.travelled = Math.max(stroke.travelled, Math.hypot(contact.x - x, contact.y - y));
      if (contact.type === 'pen') this.lastPen = contact.t;
      return;
    }
    if (!moving.has(contact.id)) return;
    const before = [...moving.values()].slice(0, 2);
    moving.set(contact.id, contact);
    this.tellMove(before, [...moving.values()].slice(0, 2));
  }

  up(contact: Contact): void {
    if (contact.type === 'pen') this.lastPen = contact.t;
    if (this.stroke?.contact.id === contact.id) {
      this.stroke = undefined;
      this.intents.strokeEnd();
    } else this.release(contact.id);
  }

  /** The stroke under way ends here; its contact does nothing more until it is lifted. */
  finish(): void {
    if (!this.stroke) return;
    this.stroke = undefined;
    this.intents.strokeEnd();
  }

  /** The system took the contact away: a pen's stroke is kept, a finger's was no stroke. */
  cancel(contact: Contact): void {
    if (contact.type === 'pen') return this.up(contact);
    if (this.stroke?.contact.id === contact.id) {
      this.stroke = undefined;
      this.intents.strokeDrop();
    } else this.release(contact.id);
  }

  private penDown(contact: Contact): void {
    this.penSeen = true;
    this.lastPen = contact.t;
    if (this.stroke?.contact.type === 'pen') return;
    // The hand came down before the pen did.
    if (this.stroke) {
      this.stroke = undefined;
      this.intents.strokeDrop();
    }
    if (this.moving.size) {
      this.moving.clear();
      this.intents.pageEnd();
    }
    if (contact.moves || this.rules.single === 'move') this.beginMoving([contact]);
    else this.beginStroke(contact);
  }

  private fingerDown(contact: Contact): void {
    if (this.palmTime(contact.t)) return;
    const { stroke, moving } = this;
    if (stroke) {
      const early = contact.t - stroke.contact.t < SECOND_FINGER_MS || stroke.travelled < SECOND_FINGER_PX;
      if (stroke.contact.type !== 'touch' || !early) return;
      this.stroke = undefined;
      this.intents.strokeDrop();
      return this.beginMoving([stroke.contact, contact]);
    }
    if (moving.size) {
      moving.set(contact.id, contact);
      return;
    }
    const moves = this.rules.single === 'move' || (this.penSeen && this.rules.fingersMoveAfterPen);
    if (moves) this.beginMoving([contact]);
    else this.beginStroke(contact);
  }

  private beginStroke(contact: Contact): void {
    this.stroke = { contact, travelled: 0 };
    this.intents.strokeStart(contact.id);
  }

  private beginMoving(contacts: Contact[]): void {
    for (const c of contacts) this.moving.set(c.id, c);
    this.intents.pageStart();
  }

  /** A finger that stays goes on moving the page; it never begins to ink. */
  private release(id: number): void {
    if (this.moving.delete(id) && this.moving.size === 0) this.intents.pageEnd();
  }

  private tellMove(before: Contact[], after: Contact[]): void {
    const from = middle(before);
    const to = middle(after);
    if (before.length < 2) return this.intents.pageMove(from, to, 1, 0);
    const [a, b] = before;
    const [c, d] = after;
    const d0 = Math.hypot(b.x - a.x, b.y - a.y);
    const d1 = Math.hypot(d.x - c.x, d.y - c.y);
    const turn = Math.atan2(d.y - c.y, d.x - c.x) - Math.atan2(b.y - a.y, b.x - a.x);
    const factor = d0 > 1 && d1 > 1 ? d1 / d0 : 1;
    this.intents.pageMove(from, to, factor, wrap((turn * 180) / Math.PI));
  }
}

const middle = (contacts: Contact[]): [number, number] => [
  contacts.reduce((s, c) => s + c.x, 0) / contacts.length,
  contacts.reduce((s, c) => s + c.y, 0) / contacts.length,
];

const wrap = (deg: number): number => (deg > 180 ? deg - 360 : deg < -180 ? deg + 360 : deg);
