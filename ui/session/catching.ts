import type { NearLine } from '../../core/sheet/lines-near';
import type { Samples } from '../../core/stroke/samples';
import { withMetEnds, type Catch, type Place } from '../../core/stroke/met-ends';
import type { SheetSession } from './session';

/** From how far, CSS px at the hand (common practice, no source). */
const REACH_PX: Record<Catch, number> = { off: 0, gentle: 6, strong: 14 };
/** A line is there to be met for so long at most when the pen has left; then the end stays where it is. */
const PATIENCE_MS = 150;
/** Along so much of the line an end moves at least, CSS px. */
const LEAST_ALONG_PX = 24;
/** A way this many times the reach has left its own beginning: it may come back to it. */
const LEFT_TIMES = 4;

/** Looks where the ends of the stroke under the nib almost meet a line, shows it, and lets them meet. */
export class Catching {
  private layerId = '';
  private reach = 0;
  private start: Place | undefined;
  private startMeets: Promise<Place | undefined> = Promise.resolve(undefined);
  private latest: Place | undefined;
  private isAsking = false;
  private travelled = 0;
  private before: Promise<unknown> = Promise.resolve();

  /** @param onMeet a place where an end would meet a line now, paper px; undefined: nowhere. */
  constructor(
    private readonly session: SheetSession,
    private readonly onMeet: (at: Place | undefined) => void,
  ) {}

  /** A stroke begins on a layer. */
  begin(how: Catch, layerId: string | null): void {
    const scale = this.session.stage?.view.scale ?? 1;
    this.reach = layerId === null ? 0 : REACH_PX[how] / scale;
    this.layerId = layerId ?? '';
    this.start = this.latest = undefined;
    this.travelled = 0;
    this.startMeets = Promise.resolve(undefined);
  }

  /** The nib is there now. */
  follow(at: Place): void {
    if (this.reach === 0) return;
    if (!this.start) {
      this.start = at;
      this.startMeets = this.meetingOf(at);
    } else if (this.latest) this.travelled += Math.hypot(at.x - this.latest.x, at.y - this.latest.y);
    this.latest = at;
    if (!this.isAsking) void this.look();
  }

  /** The stroke is over, or was taken back: nothing is shown any more. */
  stop(): void {
    this.latest = undefined;
    this.onMeet(undefined);
  }

  /** The stroke with its ends where they meet; strokes come in the order in which they were drawn. */
  met(samples: Samples): Promise<Samples> {
    const { before } = this;
    const meeting = this.meeting(samples);
    const inOrder = before.then(() => meeting);
    this.before = inOrder;
    return inOrder;
  }

  private async meeting(samples: Samples): Promise<Samples> {
    const { reach, start } = this;
    this.stop();
    if (reach === 0 || !start || samples.count < 2) return samples;
    const perPx = 2 ** samples.unitLog2;
    const last = { x: samples.x[samples.count - 1] / perPx, y: samples.y[samples.count - 1] / perPx };
    const meets = Promise.all([this.startMeets, this.ownStart(last) ?? this.meetingOf(last)]);
    const late = new Promise<[undefined, undefined]>((resolve) =>
      setTimeout(() => resolve([undefined, undefined]), PATIENCE_MS),
    );
    const [from, to] = await Promise.race([meets, late]);
    return withMetEnds(samples, from, to, LEAST_ALONG_PX / (this.session.stage?.view.scale ?? 1));
  }

  private async look(): Promise<void> {
    this.isAsking = true;
    const { latest, start } = this;
    const meets = latest && (this.ownStart(latest) ?? (await this.meetingOf(latest)));
    this.isAsking = false;
    if (this.latest === undefined || this.start !== start) return;
    this.onMeet(meets);
    if (this.latest !== latest) void this.look();
  }

  /** The stroke's own beginning, where its end comes back to it. */
  private ownStart(end: Place): Place | undefined {
    const { start, reach, travelled } = this;
    if (!start || travelled < LEFT_TIMES * reach) return undefined;
    return Math.hypot(end.x - start.x, end.y - start.y) <= reach ? start : undefined;
  }

  /** The line that an end there almost meets; none where it meets one already, or where that cannot be known now. */
  private async meetingOf({ x, y }: Place): Promise<Place | undefined> {
    const near = await this.session.client.linesNear(this.layerId, x, y, this.reach).catch((): NearLine[] => []);
    const nearest = near.reduce<NearLine | undefined>((best, n) => (!best || n.gap < best.gap ? n : best), undefined);
    return nearest && nearest.gap > 0 ? { x: nearest.x, y: nearest.y } : undefined;
  }
}
