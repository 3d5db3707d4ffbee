import type { Parts } from '../../contract/frame';
import type { StepsAnswer } from '../../contract/answers';
import type { ErrorCode } from '../../contract/errors';
import type { PaperSize } from '../../core/sheet/paper';
import {
  isShape,
  samplesOf,
  type AnyEntity,
  type Erasure,
  type Label,
  type Layer,
  type PictureLayer,
  type Pour,
  type Stroke,
  type TableName,
  type Tables,
} from '../../core/sheet/entities';
import { FIRST_FRAME } from '../../core/geometry/frame';
import { completed, frameSetBy, rebased } from '../../core/sheet/frames';
import type { Matrix } from '../../core/geometry/matrix';
import { sameValue } from '../../core/sheet/history';
import { historyOf, type History, type HistoryEntry } from '../../core/sheet/history';
import {
  planWrites,
  shapesOf,
  StepRefused,
  type Change,
  type Read,
  type Step,
  type Write,
} from '../../core/sheet/steps';
import { columnFor, columnsOf, entityFrom, rowValues, toSql } from './columns';
import type { Transaction } from 'better-sqlite3';
import { BOX_COLUMNS, type InkBoxes } from './ink-boxes';
import type { InkDamage } from './ink-damage';
import type { Db } from './open';
import { Statements } from './statements';

/** A step could not be written; nothing of it was. */
class Refusal extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
  ) {
    super(message);
  }
}

/**
 * The journal of sheets and the tables that it keeps up to date.
 * Both change in one transaction; a step that is there already is answered with its number.
 */
export class StepStore {
  private readonly statements: Statements;
  private readonly appendAll: Transaction<StepStore['appendEach']>;
  /** Inside another transaction it is a savepoint: a refusal takes back this step alone. */
  private readonly writeWhole: Transaction<StepStore['write']>;

  constructor(
    private readonly db: Db,
    private readonly boxes: InkBoxes,
    private readonly damage: InkDamage,
  ) {
    this.statements = new Statements(db);
    this.appendAll = db.transaction(this.appendEach.bind(this));
    this.writeWhole = db.transaction(this.write.bind(this));
  }

  /**
   * Writes steps in order, all in one transaction; refused ones are left out whole.
   * @param parts samples by stroke or erasure id.
   */
  append(sheetId: string, steps: readonly Step[], parts: Parts, now: number): StepsAnswer {
    return this.appendAll.immediate(sheetId, steps, parts, now);
  }

  private appendEach(sheetId: string, steps: readonly Step[], parts: Parts, now: number): StepsAnswer {
    const results = steps.map((step) => this.appendOne(sheetId, step, parts, now));
    return { results, ...this.stateOf(sheetId) };
  }

  private appendOne(sheetId: string, step: Step, parts: Parts, now: number): StepsAnswer['results'][number] {
    const known = this.statements
      .of('SELECT seq FROM steps WHERE sheet_id = ? AND id = ?')
      .pluck()
      .get(sheetId, step.id) as number | undefined;
    if (known !== undefined) return { id: step.id, seq: known, isOther: true };
    try {
      const changes = this.onThisPaper(sheetId, step);
      const seq = this.writeWhole(sheetId, { ...step, changes }, parts, now);
      return { id: step.id, seq, ...(sameValue(changes, step.changes) ? {} : { isOther: true }) };
    } catch (error) {
      if (error instanceof StepRefused || error instanceof Refusal)
        return { id: step.id, refused: { code: error.code, message: error.message } };
      throw error;
    }
  }

  private write(sheetId: string, step: Step, parts: Parts, now: number): number {
    const writes = planWrites(step.changes, this.reader(sheetId));
    const damage = this.damage.before(sheetId, writes);
    for (const write of writes) this.writeOne(sheetId, write, parts);
    const seq = this.seqOf(sheetId) + 1;
    this.damage.note(sheetId, seq, writes, damage);
    this.statements
      .of(
        `INSERT INTO steps (sheet_id, seq, id, device, undoes, undoable, label, changes, at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      )
      .run(
        sheetId,
        seq,
        step.id,
        step.device,
        step.undoes ?? null,
        Number(step.undoable),
        step.label,
        JSON.stringify(step.changes),
        now,
      );
    this.statements.of('UPDATE sheets SET seq = ?, updated_at = ? WHERE id = ?').run(seq, now, sheetId);
    return seq;
  }

  /**
   * A step's changes as they are on the paper that the sheet has by now: it may have been made before that was cut or grew
   * at the left or above. One that does so moves all that is on the sheet, known to whoever made it or not.
   */
  private onThisPaper(sheetId: string, { changes, on = FIRST_FRAME }: Step): Change[] {
    const { frame, guides } = this.reader(sheetId)('sheet', 'sheet')!;
    const now = frame ?? FIRST_FRAME;
    if (!frameSetBy(changes)) return rebased(changes, on, now);
    const strokes = this.statements.of('SELECT id, matrix FROM strokes WHERE sheet_id = ?').all(sheetId) as {
      id: string;
      matrix: string;
    }[];
    const layers = this.statements.of(`SELECT ${columnsOf('layers')} FROM layers WHERE sheet_id = ?`).all(sheetId);
    return completed(changes, now, {
      strokes: strokes.map(({ id, matrix }) => ({ id, matrix: JSON.parse(matrix) as Matrix })),
      layers: layers.map((row) => entityFrom<Layer>('layers', row as Record<string, unknown>)),
      guides,
    });
  }

  private writeOne(sheetId: string, write: Write, parts: Parts): void {
    if (write.kind === 'assign' && write.table === 'sheet' && write.field === 'paper')
      return this.setPaper(sheetId, write.value as PaperSize);
    if (write.kind === 'assign' && write.table === 'strokes' && isShape(write.field))
      this.keepShape(sheetId, write.value as Pour | Label, parts);
    if (write.kind === 'assign') {
      const column = columnFor(write.table, write.field);
      const target = write.table === 'sheet' ? 'sheets' : write.table;
      const where = write.table === 'sheet' ? 'id = ?' : 'sheet_id = ? AND id = ?';
      const keys = write.table === 'sheet' ? [sheetId] : [sheetId, write.id];
      this.statements
        .of(`UPDATE ${target} SET ${column.column} = ? WHERE ${where}`)
        .run(toSql(column, write.value), ...keys);
      return;
    }
    if (write.table === 'layers') this.insertLayer(sheetId, write.row);
    else this.insertMarks(sheetId, write.table, write.row, parts);
  }

  /** The paper's size is the sheet's own: the drawer shows it. */
  private setPaper(sheetId: string, { widthPx, heightPx, ppi }: PaperSize): void {
    this.statements
      .of('UPDATE sheets SET width_px = ?, height_px = ?, ppi = ? WHERE id = ?')
      .run(widthPx, heightPx, ppi, sheetId);
  }

  private insertLayer(sheetId: string, row: AnyEntity): void {
    const { kind, picture } = row as Partial<PictureLayer>;
    if (picture && !this.statements.of('SELECT 1 FROM pictures WHERE hash = ?').get(picture.hash))
      throw new Refusal('unknown-picture', 'This picture is not stored yet.');
    this.insert(sheetId, 'layers', row, ['picture_hash'], [(kind === 'reference' && picture?.hash) || null]);
  }

  private insertMarks(sheetId: string, table: 'strokes' | 'erasures', row: AnyEntity, parts: Parts): void {
    const mark = row as Stroke | Erasure;
    const samplesId = samplesOf(mark);
    const isOwn = samplesId === row.id;
    const bytes = isOwn ? parts.get(row.id) : this.storedSamples(sheetId, samplesId);
    if (!bytes) throw new Refusal('missing-part', `The samples of ${row.id} did not come with the step.`);
    if (isOwn) this.keepSamples(sheetId, row.id, bytes);
    this.insert(sheetId, table, row, BOX_COLUMNS.split(', '), this.boxes.valuesOf(bytes, mark));
  }

  /** A pour that follows its lines, or a label that says something else, brings another shape, or has again one that it had. */
  private keepShape(sheetId: string, { shape }: Pour | Label, parts: Parts): void {
    if (shape === undefined) return;
    const bytes = parts.get(shape);
    if (bytes) this.keepSamples(sheetId, shape, bytes);
    else if (!this.storedSamples(sheetId, shape))
      throw new Refusal('missing-part', `The shape ${shape} did not come with the step.`);
  }

  private keepSamples(sheetId: string, id: string, bytes: Uint8Array): void {
    this.statements
      .of('INSERT OR IGNORE INTO samples (sheet_id, id, bytes) VALUES (?, ?, ?)')
      .run(sheetId, id, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  }

  private storedSamples(sheetId: string, id: string): Buffer | undefined {
    return this.statements.of('SELECT bytes FROM samples WHERE sheet_id = ? AND id = ?').pluck().get(sheetId, id) as
      Buffer | undefined;
  }

  private insert(sheetId: string, table: TableName, row: AnyEntity, more: string[], values: unknown[]): void {
    const names = ['sheet_id', columnsOf(table), ...more].join(', ');
    const all = [sheetId, ...rowValues(table, row), ...values];
    this.statements.of(`INSERT INTO ${table} (${names}) VALUES (${all.map(() => '?').join(', ')})`).run(...all);
  }

  private reader(sheetId: string): Read {
    return <T extends TableName>(table: T, id: string): Tables[T] | undefined => {
      const source = table === 'sheet' ? 'sheets WHERE id = ?' : `${table} WHERE sheet_id = ? AND id = ?`;
      const keys = table === 'sheet' ? [sheetId] : [sheetId, id];
      const row = this.statements.of(`SELECT ${columnsOf(table)} FROM ${source}`).get(...keys);
      return row ? entityFrom<Tables[T]>(table, row as Record<string, unknown>) : undefined;
    };
  }

  private seqOf(sheetId: string): number {
    return this.statements.of('SELECT seq FROM sheets WHERE id = ?').pluck().get(sheetId) as number;
  }

  private stateOf(sheetId: string): { seq: number; deleted: boolean } {
    const row = this.statements.of('SELECT seq, deleted FROM sheets WHERE id = ?').get(sheetId) as {
      seq: number;
      deleted: number;
    };
    return { seq: row.seq, deleted: row.deleted === 1 };
  }

  /** What a device can undo and redo. Reads ids only. */
  history(sheetId: string, device: string): History {
    const rows = this.statements
      .of('SELECT id, undoes, undoable FROM steps WHERE sheet_id = ? AND device = ? ORDER BY seq')
      .all(sheetId, device) as { id: string; undoes: string | null; undoable: number }[];
    return historyOf(
      rows.map((r): HistoryEntry => ({ id: r.id, undoes: r.undoes ?? undefined, undoable: r.undoable === 1 })),
    );
  }

  /** The first of the named steps that fit `bytes` together, at least one; unknown ids are left out. */
  find(sheetId: string, ids: readonly string[], bytes: number): Step[] {
    const one = this.statements.of('SELECT * FROM steps WHERE sheet_id = ? AND id = ?');
    const steps: Step[] = [];
    let left = bytes;
    for (const id of ids) {
      const row = one.get(sheetId, id) as StepRow | undefined;
      if (!row) continue;
      left -= row.changes.length;
      if (left < 0 && steps.length) break;
      steps.push(stepFrom(row));
    }
    return steps;
  }

  /** Which of these steps are written. */
  known(sheetId: string, ids: readonly string[]): string[] {
    const one = this.statements.of('SELECT 1 FROM steps WHERE sheet_id = ? AND id = ?');
    return ids.filter((id) => one.get(sheetId, id) !== undefined);
  }

  /** What the named steps are called. */
  labels(sheetId: string, ids: readonly string[]): { id: string; label: string }[] {
    const one = this.statements.of('SELECT label FROM steps WHERE sheet_id = ? AND id = ?').pluck();
    return ids.map((id) => ({ id, label: one.get(sheetId, id) as string }));
  }

  /**
   * Steps after `seq`, oldest first, with the samples that they brought: as many as fit `bytes`, at
   * least one. With them the sheet's latest number, from the same moment.
   */
  after(sheetId: string, seq: number, bytes: number): { steps: Step[]; parts: Parts; seq: number; deleted: boolean } {
    return this.db.transaction(() => {
      const steps: Step[] = [];
      const parts: Parts = new Map();
      let left = bytes;
      const rows = this.statements
        .of('SELECT * FROM steps WHERE sheet_id = ? AND seq > ? ORDER BY seq')
        .iterate(sheetId, seq);
      for (const row of rows as IterableIterator<StepRow>) {
        const step = stepFrom(row);
        const own = this.samplesOf(sheetId, [step]);
        left -= row.changes.length;
        for (const part of own.values()) left -= part.length;
        if (left < 0 && steps.length) break;
        steps.push(step);
        for (const [id, part] of own) parts.set(id, part);
      }
      return { steps, parts, ...this.stateOf(sheetId) };
    })();
  }

  private samplesOf(sheetId: string, steps: readonly Step[]): Parts {
    const parts: Parts = new Map();
    const add = (id: string, samplesId: string) => {
      const bytes = this.storedSamples(sheetId, samplesId);
      if (bytes) parts.set(id, bytes);
    };
    for (const { changes } of steps)
      for (const change of changes)
        if (change.op === 'put' && change.table !== 'layers')
          for (const row of change.rows) add(row.id, samplesOf(row as Stroke | Erasure));
        else for (const shape of shapesOf(change)) add(shape, shape);
    return parts;
  }
}

interface StepRow {
  seq: number;
  id: string;
  device: string;
  undoes: string | null;
  undoable: number;
  label: string;
  changes: string;
}

const stepFrom = (row: StepRow): Step => ({
  id: row.id,
  device: row.device,
  seq: row.seq,
  ...(row.undoes === null ? {} : { undoes: row.undoes }),
  undoable: row.undoable === 1,
  label: row.label,
  changes: JSON.parse(row.changes) as Step['changes'],
});
