import { nanoid } from 'nanoid';
import type { ChangedInk, Followed } from '../../core/fill/following';
import { isInkable, type Pour, type Stroke } from '../../core/sheet/entities';
import { ordersBetween } from '../../core/sheet/orders';
import type { SheetModel } from '../../core/sheet/sheet-model';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign, putRows, type Change } from '../../core/sheet/steps';
import type { SheetClient } from '../../workers/sheet-client';

/** After the last edit, until pours follow: lines that are drawn one after the other are followed together. */
const AFTER_MS = 120;

/** The open sheet, as far as its pours need it. */
interface PouredSheet {
  readonly model: SheetModel;
  /** A stroke is under way, or something is shown that is not done. */
  readonly isHandBusy: boolean;
  readonly client: Pick<SheetClient, 'colour'>;
  act(label: string, changes: Change[], options: { undoable: false; parts: [string, Uint8Array][] }): Promise<void>;
}

/**
 * Lets tied pours follow when this device changes the lines around them: a step of its own, which undo passes over. The hand
 * comes first: while it draws, or takes back, this leaves off, and begins anew when it rests.
 */
export class TiedPours {
  private changed: ChangedInk[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;
  private doing: Promise<void> = Promise.resolve();
  private isFollowing = false;
  /** The hand has gone on since it was asked what has become of pours. */
  private isOutOfDate = false;
  private closed = false;
  /** The last act, until it is shown: only then is it known what it has changed. */
  shown: Promise<void> = Promise.resolve();

  constructor(private readonly session: PouredSheet) {}

  /** Ink of the artist's has changed there, or is shown otherwise for now. @param isDone it stays so. */
  note(changed: readonly ChangedInk[], isDone: boolean): void {
    if (!this.session.model.strokes.hasPours) return;
    this.changed.push(...changed);
    if (isDone) this.soon();
  }

  /** The hand goes on: what is being looked for is out of date, and stands in its way. */
  leaveOff(): void {
    this.isOutOfDate = true;
    if (this.isFollowing) void this.session.client.colour<'leave-off'>({ what: 'leave-off' }).catch(() => undefined);
  }

  private soon(): void {
    clearTimeout(this.timer);
    this.timer = this.closed ? undefined : setTimeout(() => this.begin(), AFTER_MS);
  }

  private begin(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.doing = this.doing.then(() => this.follow());
  }

  /** Pours follow now what they have not followed yet. @returns when they have, or the hand goes on. */
  async settled(): Promise<void> {
    await this.shown;
    while ((this.timer !== undefined || this.isFollowing) && !this.session.isHandBusy && !this.closed) {
      if (this.timer !== undefined) this.begin();
      await this.doing;
    }
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  private async follow(): Promise<void> {
    const { session } = this;
    if (session.isHandBusy) return this.soon();
    const changed = this.changed.splice(0);
    const layerIds = session.model
      .stack()
      .filter(isInkable)
      .map(({ id }) => id);
    this.isFollowing = true;
    this.isOutOfDate = false;
    // What lies out of reach is followed after the next edit there.
    const followed = await session.client
      .colour<'follow'>({ what: 'follow', layerIds, changed })
      .catch(() => [])
      .finally(() => (this.isFollowing = false));
    if (!followed || this.isOutOfDate) {
      this.changed.unshift(...changed);
      return this.soon();
    }
    if (!followed.length) return;
    const { changes, parts } = followedChanges(followed, (id) => session.model.strokes.get(id), nanoid);
    if (changes.length && !isTooLarge(changes, parts))
      await session.act('Colour follows', changes, { undoable: false, parts });
  }
}

/**
 * What becomes of tied pours as changes of their sheet, with the shapes that they bring.
 * @param find pours as they are; those that have gone meanwhile are passed over.
 */
export function followedChanges(
  followed: readonly Followed[],
  find: (id: string) => Stroke | undefined,
  newId: () => string,
): { changes: Change[]; parts: [string, Uint8Array][] } {
  const changes: Change[] = [];
  const parts: [string, Uint8Array][] = [];
  for (const one of followed) {
    const stroke = find(one.kind === 'part' ? one.like : one.id);
    if (!stroke?.pour || stroke.deleted || !stroke.tied) continue;
    const { isOpen: _, shape: __, ...bare } = stroke.pour;
    if (one.kind === 'joined') changes.push(assign('strokes', stroke, 'deleted', true));
    else if (one.kind === 'open') changes.push(assign('strokes', stroke, 'pour', { ...stroke.pour, isOpen: true }));
    else if (one.kind === 'shape') {
      const shape = newId();
      const pour: Pour = { ...bare, seeds: [one.seed], shape };
      changes.push(assign('strokes', stroke, 'pour', pour));
      parts.push([shape, one.bytes]);
    } else {
      const id = newId();
      const order = ordersBetween(stroke.order, undefined, 1)?.[0] ?? stroke.order;
      changes.push(putRows('strokes', { ...stroke, id, order, pour: { ...bare, seeds: [one.seed] } }));
      parts.push([id, one.bytes]);
    }
  }
  return { changes, parts };
}
