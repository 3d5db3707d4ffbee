import Database from 'better-sqlite3';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { putRows, type Step } from '../core/sheet/steps';
import { encodeSamples } from '../core/stroke/pack-samples';
import { openStore } from '../server/store';
import { strokeEntity } from '../tests/measures/sheets';
import { handSamples } from '../tests/measures/strokes';
import { alternate, figure, type Figure } from './report';

const COUNT = 400;

/** Steps on disk per second, each in a transaction of its own, against bare inserts of the same bytes. */
export function steps(): Figure[] {
  const folder = mkdtempSync(join(tmpdir(), 'hush-line-bench-'));
  const store = openStore(folder);
  const bare = new Database(join(folder, 'bare.sqlite'));
  bare.pragma('journal_mode = WAL');
  bare.pragma('synchronous = FULL');
  bare.exec('CREATE TABLE rows (id TEXT PRIMARY KEY, text TEXT, bytes BLOB)');
  const insert = bare.prepare('INSERT INTO rows VALUES (?, ?, ?)');
  store.sheets.act(
    { id: 'act', kind: 'create', sheetId: 's', name: 'Bench', paper: { widthPx: 800, heightPx: 600, ppi: 300 } },
    0,
  );
  const samples = Buffer.from(encodeSamples(handSamples((u) => [500 * u, 80 * Math.sin(u * 6)], { ms: 800 })));
  let n = 0;
  const next = (): Step => {
    const stroke = strokeEntity(`k${n++}`);
    return {
      id: `step${n}`,
      device: 'bench',
      undoable: true,
      label: 'Ink line',
      changes: [putRows('strokes', stroke)],
    };
  };
  const [ours, theirs] = alternate(
    3,
    () => {
      for (let i = 0; i < COUNT; i++) {
        const step = next();
        store.steps.append('s', [step], new Map([[`k${n - 1}`, samples]]), i);
      }
    },
    () => {
      for (let i = 0; i < COUNT; i++) {
        const step = next();
        insert.run(step.id, JSON.stringify(step), samples);
      }
    },
  );
  store.close();
  bare.close();
  rmSync(folder, { recursive: true });
  return [
    figure(
      'steps acknowledged, synchronous=FULL',
      (COUNT / ours) * 1000,
      'steps/s',
      theirs / ours,
      'bare better-sqlite3 inserts of the same bytes',
    ),
  ];
}
