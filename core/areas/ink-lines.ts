import type { Box } from '../geometry/box';
import type { Matrix } from '../geometry/matrix';
import { samplesOf } from '../sheet/entities';
import { ChangeLog } from '../sheet/change-log';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import type { Pen } from '../stroke/pen';
import type { SampleRange } from '../stroke/spine-maker';
import { inkLine, type InkLine } from './ink-line';

/** What a line was made of: where it is still so, the line is, too. */
interface Made {
  /** A label's are those of its words. */
  samples: string;
  pen: Pen;
  matrix: Matrix | undefined;
  stands: SampleRange | undefined;
  line: InkLine;
}

/** Lines that are made at a time. */
const PART = 400;
/** So many are kept beside those that were asked for last. */
const MOST_KEPT = 30_000;

/** All lines of some layers, by their ids, as they were at a revision. */
interface Whole {
  layers: string;
  revision: number;
  lines: Map<string, InkLine>;
}

/** The middles of a drawing's lines, kept: after an edit only those that have changed are made anew. */
export class InkLines {
  private made = new Map<string, Made>();
  private madeOf: InkStore | undefined;
  private whole: Whole | undefined;

  /** Nothing is kept any more. */
  forget(): void {
    this.madeOf = this.whole = undefined;
    this.made = new Map();
  }

  /**
   * All standing lines of layers. What is filled is closed; soft erasers and pours are no lines. Erasures that leave holes
   * are passed over.
   * @param box only those that can touch it, paper px.
   */
  *of(ink: InkStore, layerIds: readonly string[], box?: Box): Generator<Pause, InkLine[]> {
    if (this.madeOf !== ink) {
      this.made = new Map();
      this.whole = undefined;
    }
    this.madeOf = ink;
    if (box) return yield* this.gather(ink, layerIds, box);
    const { revision } = ink;
    ink.log ??= new ChangeLog(revision);
    const layers = JSON.stringify(layerIds);
    const changed = this.whole?.layers === layers ? ink.log.since(this.whole.revision) : undefined;
    if (this.whole && changed) {
      const { lines } = this.whole;
      yield* this.follow(ink, layerIds, lines, changed);
      this.whole = { layers, revision, lines };
      return [...lines.values()];
    }
    const lines = yield* this.gather(ink, layerIds);
    this.whole = { layers, revision, lines: new Map(lines.map((line) => [line.id, line])) };
    return lines;
  }

  private *gather(ink: InkStore, layerIds: readonly string[], box?: Box): Generator<Pause, InkLine[]> {
    const next = box && this.made.size < MOST_KEPT ? this.made : new Map<string, Made>();
    const lines: InkLine[] = [];
    for (const layerId of layerIds) {
      const records = (box ? ink.find(layerId, box) : ink.ofLayer(layerId)).filter(isLine);
      const unknown = records.filter((record) => !this.known(record));
      yield* makeLines(ink, unknown, next);
      for (const record of records) {
        const made = this.known(record) ?? next.get(record.stroke.id);
        if (!made) continue;
        next.set(record.stroke.id, made);
        lines.push(made.line);
      }
    }
    this.made = next;
    return lines;
  }

  /** Brings `lines` up to date with strokes that came or changed. */
  private *follow(
    ink: InkStore,
    layerIds: readonly string[],
    lines: Map<string, InkLine>,
    changed: ReadonlySet<string>,
  ): Generator<Pause, void> {
    const records = ink.standing([...changed]).filter((record) => isLine(record) && layerIds.includes(record.stroke.layerId)); // prettier-ignore
    const made = new Map<string, Made>();
    const unknown = records.filter((record) => !this.known(record));
    yield* makeLines(ink, unknown, made);
    const stands = new Map(
      records.map((record) => [record.stroke.id, this.known(record) ?? made.get(record.stroke.id)]),
    );
    for (const id of changed) {
      const now = stands.get(id);
      if (now) {
        this.made.set(id, now);
        lines.set(id, now.line);
      } else lines.delete(id);
    }
  }

  private known(record: StrokeRecord): Made | undefined {
    const made = this.made.get(record.stroke.id);
    return made && isSame(made, record) ? made : undefined;
  }
}

const isLine = ({ pen, stroke }: StrokeRecord): boolean => !pen.fades && !stroke.pour;

function* makeLines(ink: InkStore, records: readonly StrokeRecord[], into: Map<string, Made>): Generator<Pause, void> {
  for (let from = 0; from < records.length; from += PART)
    for (const record of yield* ink.readable(records, from, from + PART)) {
      const { pen, matrix, stands } = record;
      const line = lineOf(ink, record);
      if (line) into.set(record.stroke.id, { samples: samplesOf(record.stroke), pen, matrix, stands, line });
    }
}

const isSame = ({ samples, pen, matrix, stands, line }: Made, record: StrokeRecord): boolean =>
  samples === samplesOf(record.stroke) &&
  pen === record.pen &&
  line.layerId === record.stroke.layerId &&
  stands?.from === record.stands?.from &&
  stands?.to === record.stands?.to &&
  (matrix === record.matrix ||
    (matrix !== undefined && record.matrix !== undefined && matrix.every((v, i) => v === record.matrix![i])));

function lineOf(ink: InkStore, record: StrokeRecord): InkLine | undefined {
  const { spine } = ink.drawable(record, 0, 'exact');
  const { data, count, fill } = spine;
  if (count === 0) return undefined;
  const own = new Float64Array(3 * (fill ? count + 1 : count));
  own.set(data.subarray(0, 3 * count));
  apart(own, count, record.stroke.id);
  // What it encloses is ink: its border goes all around.
  if (fill) own.set(own.subarray(0, 3), 3 * count);
  return inkLine(record.stroke.id, record.stroke.layerId, own);
}

/** Points are moved by at most this, px. */
const APART_PX = 1e-4;

/**
 * Lines that lie on each other (copies, boxes side by side, a way back) have no crossings that could be told. Each point is
 * moved by a hair, always by the same, so that none does.
 * @see Edelsbrunner & Muecke (1990), "Simulation of Simplicity", ACM TOG 9(1), for the idea
 */
function apart(data: Float64Array, count: number, id: string): void {
  let seed = 0;
  for (let i = 0; i < id.length; i++) seed = (Math.imul(seed, 31) + id.charCodeAt(i)) | 0;
  for (let i = 0; i < count; i++)
    for (let c = 0; c < 2; c++) {
      seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
      data[3 * i + c] += APART_PX * (seed / 2 ** 31);
    }
}
