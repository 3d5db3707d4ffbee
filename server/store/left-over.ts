import type { Db } from './open';

/** What no sheet of the drawer has, or none any more. It is kept: a deleted sheet can come back. */
export interface LeftOver {
  pictures: number;
  /** Of their files as they came; their copies are as large again, at most. */
  pictureBytes: number;
  /** What the hand gave for the lines of deleted sheets. */
  samples: number;
  sampleBytes: number;
}

/** Counts what is never cleared. Reads no file and no sample. */
export function leftOver(db: Db): LeftOver {
  const pictures = db
    .prepare(
      `SELECT count(*) AS pictures, coalesce(sum(bytes), 0) AS pictureBytes FROM pictures
       WHERE hash NOT IN (SELECT picture_hash FROM layers JOIN sheets ON sheets.id = sheet_id
                          WHERE picture_hash IS NOT NULL AND sheets.deleted = 0)`,
    )
    .get() as Pick<LeftOver, 'pictures' | 'pictureBytes'>;
  const samples = db
    .prepare(
      `SELECT count(*) AS samples, coalesce(sum(length(bytes)), 0) AS sampleBytes FROM samples
       WHERE sheet_id IN (SELECT id FROM sheets WHERE deleted = 1)`,
    )
    .get() as Pick<LeftOver, 'samples' | 'sampleBytes'>;
  return { ...pictures, ...samples };
}

/** The same in words; undefined: nothing is left over. */
export function leftOverWords({ pictures, pictureBytes, samples, sampleBytes }: LeftOver): string | undefined {
  const parts = [
    ...(pictures ? [`${pictures} ${pictures === 1 ? 'picture' : 'pictures'} (${megabytes(pictureBytes)})`] : []),
    ...(samples ? [`the ink of ${samples} ${samples === 1 ? 'line' : 'lines'} (${megabytes(sampleBytes)})`] : []),
  ];
  return parts.length ? `Kept, though on no sheet of the drawer: ${parts.join(', ')}.` : undefined;
}

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;
