import { enlarged } from './growing';

/** The slowest common rate of samples is 60 Hz: one that came with others took no longer than this. */
const LONGEST_SHARE_MS = 17;
/** What a sample is given when the clock stands still: 250 Hz. */
const STANDSTILL_MS = 4;
/** A group this large is closed although the clock has not moved, so that work per sample stays bounded. */
const LARGEST_GROUP = 64;

/**
 * Times of samples, made plausible. Devices hand over samples in batches with one time stamp, or
 * with stamps rounded to the screen's frames; such a group is spread evenly over the time since the
 * group before it. `t` holds ms, rising; the first `closed` values never change again.
 */
export class SampleClock {
  t = new Float64Array(256);
  n = 0;
  closed = 0;
  private stamp = NaN;

  restart(): void {
    this.n = this.closed = 0;
    this.stamp = NaN;
  }

  /** What later samples change; given back to {@link revert}, they were never there. */
  mark(): readonly [n: number, closed: number, stamp: number] {
    return [this.n, this.closed, this.stamp];
  }

  revert([n, closed, stamp]: readonly [n: number, closed: number, stamp: number]): void {
    this.n = n;
    this.closed = closed;
    this.stamp = stamp;
  }

  /** Takes the next sample's stamp, ms. */
  push(stampMs: number): void {
    if (stampMs !== this.stamp || this.n - this.closed >= LARGEST_GROUP) this.close();
    this.stamp = stampMs;
    if (this.n === this.t.length) this.t = enlarged(this.t);
    this.n++;
    // The first sample is where time begins, whatever comes with it.
    if (this.n === 1) {
      this.t[0] = stampMs;
      this.closed = 1;
    }
  }

  /** Gives the samples of the open group the times that they would have if it were whole. */
  spread(): void {
    const { t, closed, n, stamp } = this;
    const size = n - closed;
    if (size === 0) return;
    const before = t[closed - 1];
    const share = stamp > before ? Math.min(LONGEST_SHARE_MS, (stamp - before) / size) : STANDSTILL_MS;
    const end = stamp > before ? stamp : before + size * share;
    for (let j = 1; j <= size; j++) t[n - j] = end - (j - 1) * share;
  }

  private close(): void {
    this.spread();
    this.closed = this.n;
  }
}
