import type { Statement } from 'better-sqlite3';
import type { Db } from './open';

/** Prepared statements, each made once: preparing costs more than running. */
export class Statements {
  private readonly made = new Map<string, Statement>();

  constructor(private readonly db: Db) {}

  /** @returns a statement that gives rows as objects. */
  of(text: string): Statement {
    let statement = this.made.get(text);
    if (!statement) this.made.set(text, (statement = this.db.prepare(text)));
    return statement;
  }
}
