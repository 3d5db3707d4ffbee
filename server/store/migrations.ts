import type Database from 'better-sqlite3';

/** Each entry takes the database from the format of its index to the next. Never edited once landed. */
export const MIGRATIONS: readonly (string | ((db: Database.Database) => void))[] = [
  `
  CREATE TABLE sheets (
    id TEXT PRIMARY KEY, name TEXT NOT NULL,
    width_px INTEGER NOT NULL, height_px INTEGER NOT NULL, ppi REAL NOT NULL,
    created_at INTEGER NOT NULL, updated_at INTEGER NOT NULL,
    deleted INTEGER NOT NULL DEFAULT 0, seq INTEGER NOT NULL DEFAULT 0,
    paper_colour TEXT NOT NULL, hush REAL NOT NULL, scaffolding_shown INTEGER NOT NULL,
    veil REAL NOT NULL, target TEXT, nibs TEXT NOT NULL
  ) STRICT;
  CREATE TABLE pictures (
    hash TEXT PRIMARY KEY, type TEXT NOT NULL, bytes INTEGER NOT NULL,
    width INTEGER NOT NULL, height INTEGER NOT NULL, frames INTEGER NOT NULL,
    working_type TEXT NOT NULL, added_at INTEGER NOT NULL
  ) STRICT;
  CREATE TABLE layers (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), id TEXT NOT NULL, kind TEXT NOT NULL,
    name TEXT NOT NULL, ord TEXT NOT NULL, visible INTEGER NOT NULL, locked INTEGER NOT NULL,
    opacity REAL NOT NULL, deleted INTEGER NOT NULL,
    picture_hash TEXT REFERENCES pictures(hash), picture TEXT, placement TEXT,
    PRIMARY KEY (sheet_id, id),
    CHECK ((kind = 'reference') = (picture_hash IS NOT NULL))
  ) STRICT, WITHOUT ROWID;
  CREATE TABLE strokes (
    sheet_id TEXT NOT NULL, id TEXT NOT NULL, layer_id TEXT NOT NULL, ord TEXT NOT NULL,
    colour TEXT NOT NULL, pen TEXT NOT NULL, matrix TEXT NOT NULL, engine INTEGER NOT NULL,
    deleted INTEGER NOT NULL,
    PRIMARY KEY (sheet_id, id), FOREIGN KEY (sheet_id, layer_id) REFERENCES layers(sheet_id, id)
  ) STRICT, WITHOUT ROWID;
  CREATE TABLE erasures (
    sheet_id TEXT NOT NULL, id TEXT NOT NULL, layer_id TEXT NOT NULL, pen TEXT NOT NULL,
    stroke_ids TEXT NOT NULL, matrices TEXT, engine INTEGER NOT NULL, deleted INTEGER NOT NULL,
    PRIMARY KEY (sheet_id, id), FOREIGN KEY (sheet_id, layer_id) REFERENCES layers(sheet_id, id)
  ) STRICT, WITHOUT ROWID;
  CREATE TABLE samples (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), id TEXT NOT NULL, bytes BLOB NOT NULL,
    PRIMARY KEY (sheet_id, id)
  ) STRICT, WITHOUT ROWID;
  CREATE TABLE steps (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), seq INTEGER NOT NULL, id TEXT NOT NULL,
    device TEXT NOT NULL, undoes TEXT, undoable INTEGER NOT NULL, label TEXT NOT NULL,
    changes TEXT NOT NULL, at INTEGER NOT NULL,
    PRIMARY KEY (sheet_id, seq), UNIQUE (sheet_id, id)
  ) STRICT, WITHOUT ROWID;
  CREATE INDEX steps_of_device ON steps (sheet_id, device, seq);
  CREATE TABLE overviews (
    sheet_id TEXT PRIMARY KEY REFERENCES sheets(id), seq INTEGER NOT NULL, png BLOB NOT NULL
  ) STRICT;
  CREATE TABLE drawer_acts (
    n INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT NOT NULL UNIQUE, body TEXT NOT NULL, at INTEGER NOT NULL
  ) STRICT;
  `,
  // Boxes are null until they are measured (ink-boxes.ts): the ink before its matrix; empty where it cannot be read.
  `
  ALTER TABLE strokes ADD COLUMN x0 REAL;
  ALTER TABLE strokes ADD COLUMN y0 REAL;
  ALTER TABLE strokes ADD COLUMN x1 REAL;
  ALTER TABLE strokes ADD COLUMN y1 REAL;
  ALTER TABLE erasures ADD COLUMN x0 REAL;
  ALTER TABLE erasures ADD COLUMN y0 REAL;
  ALTER TABLE erasures ADD COLUMN x1 REAL;
  ALTER TABLE erasures ADD COLUMN y1 REAL;
  CREATE INDEX strokes_in_order ON strokes (sheet_id, layer_id, ord, id);
  CREATE INDEX strokes_unmeasured ON strokes (sheet_id, id) WHERE x0 IS NULL;
  CREATE INDEX erasures_unmeasured ON erasures (sheet_id, id) WHERE x0 IS NULL;
  CREATE TABLE low_tiles (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), layer_id TEXT NOT NULL, level INTEGER NOT NULL,
    tx INTEGER NOT NULL, ty INTEGER NOT NULL, seq INTEGER NOT NULL, look INTEGER NOT NULL, bytes BLOB NOT NULL
  ) STRICT;
  CREATE UNIQUE INDEX low_tiles_by_place ON low_tiles (sheet_id, level, layer_id, tx, ty);
  CREATE TABLE low_levels (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), layer_id TEXT NOT NULL, level INTEGER NOT NULL,
    seq INTEGER NOT NULL, look INTEGER NOT NULL, PRIMARY KEY (sheet_id, layer_id, level)
  ) STRICT, WITHOUT ROWID;
  CREATE TABLE kept_ink (
    sheet_id TEXT PRIMARY KEY REFERENCES sheets(id), seq INTEGER NOT NULL, form INTEGER NOT NULL, frame BLOB NOT NULL
  ) STRICT;
  CREATE TABLE ink_damage (
    sheet_id TEXT NOT NULL REFERENCES sheets(id), seq INTEGER NOT NULL, layer_id TEXT NOT NULL,
    x0 REAL NOT NULL, y0 REAL NOT NULL, x1 REAL NOT NULL, y1 REAL NOT NULL,
    PRIMARY KEY (sheet_id, seq, layer_id)
  ) STRICT, WITHOUT ROWID;
  `,
  // Strokes that were severed: the parts share the samples of the whole.
  `
  ALTER TABLE strokes ADD COLUMN stands TEXT;
  CREATE INDEX strokes_severed ON strokes (sheet_id, json_extract(stands, '$.of')) WHERE stands IS NOT NULL;
  `,
  // Parts are found by their whole, which a planner does not see in an index of an expression; and lines that are picked together.
  (db) => {
    if (!hasColumn(db, 'strokes', 'part_of'))
      db.exec(`
        DROP INDEX strokes_severed;
        ALTER TABLE strokes ADD COLUMN part_of TEXT GENERATED ALWAYS AS (json_extract(stands, '$.of')) VIRTUAL;
        CREATE INDEX strokes_severed ON strokes (sheet_id, part_of) WHERE part_of IS NOT NULL;
      `);
    db.exec('ALTER TABLE strokes ADD COLUMN grp TEXT');
  },
  // Groups of layers, and how layers mix with what is below.
  `
  ALTER TABLE layers ADD COLUMN parent TEXT;
  ALTER TABLE layers ADD COLUMN blend TEXT;
  ALTER TABLE layers ADD COLUMN folded TEXT;
  `,
  // A veil over one picture; pictures that lie beside the paper; what was done to pictures; guides.
  `
  ALTER TABLE sheets ADD COLUMN guides TEXT;
  ALTER TABLE layers ADD COLUMN veil TEXT;
  ALTER TABLE layers ADD COLUMN beside TEXT;
  ALTER TABLE layers ADD COLUMN recipe TEXT;
  `,
  // Colours that are kept with a sheet.
  `
  ALTER TABLE sheets ADD COLUMN swatches TEXT;
  `,
  // Strokes that were poured between others; the shape of one that has followed its lines is stored under another id.
  `
  ALTER TABLE strokes ADD COLUMN pour TEXT;
  ALTER TABLE strokes ADD COLUMN tied TEXT;
  `,
  // Layers that show only where colour lies beneath them.
  `
  ALTER TABLE layers ADD COLUMN inside TEXT;
  `,
  // Labels: what the letters of a stroke say. As of a pour, another shape is stored under another id.
  `
  ALTER TABLE strokes ADD COLUMN label TEXT;
  `,
  // Each kept tile speaks for itself, blank ones too, and a small picture says its paper; what was kept before may be of
  // something else. Where the paper's upper left corner and scale have come to.
  `
  DROP TABLE low_levels;
  DELETE FROM low_tiles;
  ALTER TABLE overviews ADD COLUMN width_px INTEGER NOT NULL DEFAULT 0;
  ALTER TABLE overviews ADD COLUMN height_px INTEGER NOT NULL DEFAULT 0;
  ALTER TABLE sheets ADD COLUMN kept_drops INTEGER NOT NULL DEFAULT 0;
  ALTER TABLE sheets ADD COLUMN frame TEXT;
  `,
];

/** For a column that some databases of a format have already. Generated columns are told by `table_xinfo` alone. */
function hasColumn(db: Database.Database, table: string, name: string): boolean {
  return db.prepare('SELECT 1 FROM pragma_table_xinfo(?) WHERE name = ?').get(table, name) !== undefined;
}
