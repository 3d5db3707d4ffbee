import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import type { Db } from './open';
import { Statements } from './statements';

/** Raised when the packed form changes. */
const FORM = 4;
/** A sheet of fewer strokes is packed as quickly as it is read. */
export const FEWEST_STROKES = 2000;
/** Whoever opens a sheet takes in so many steps one by one; further behind, the ink is packed anew. */
export const MOST_STEPS_BEHIND = 200;

export interface PackedInk {
  body: { seq: number };
  parts: Parts;
}

/** The packed ink of large sheets, as it was at some step: with the steps since, it is the sheet. */
export class KeptInk {
  private readonly statements: Statements;

  constructor(db: Db) {
    this.statements = new Statements(db);
  }

  /** What is kept of a sheet, if it is not too far behind its latest step. */
  find(sheetId: string, latest: number): PackedInk | undefined {
    const frame = this.statements
      .of('SELECT frame FROM kept_ink WHERE sheet_id = ? AND form = ? AND seq >= ?')
      .pluck()
      .get(sheetId, FORM, latest - MOST_STEPS_BEHIND) as Buffer | undefined;
    return frame && (decodeFrame(frame) as PackedInk);
  }

  /** Keeps what was packed of a large sheet. */
  keep(sheetId: string, count: number, { body, parts }: PackedInk): void {
    if (count < FEWEST_STROKES) return;
    this.statements
      .of(
        `INSERT INTO kept_ink (sheet_id, seq, form, frame) VALUES (?, ?, ?, ?)
         ON CONFLICT DO UPDATE SET seq = excluded.seq, form = excluded.form, frame = excluded.frame`,
      )
      .run(sheetId, body.seq, FORM, Buffer.from(encodeFrame(body, parts).buffer));
  }
}
