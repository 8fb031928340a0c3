import type { Client } from '#app/database/pool';
import type { ProgramResults } from '#core/signal/performance/readResults';

interface RunResultsRow {
  name: string;
  sha256: Buffer;
  figures: ProgramResults;
  comparable: boolean;
  added_at: Date;
}

/** @returns false where the run has this file already */
export async function insertResults(
  db: Client,
  runId: number,
  sha256: Buffer,
  name: string,
  figures: ProgramResults,
  comparable: boolean,
): Promise<boolean> {
  const { rowCount } = await db.query(
    'insert into run_results (run_id, sha256, name, figures, comparable) values ($1, $2, $3, $4, $5) on conflict do nothing',
    [runId, sha256, name, figures, comparable],
  );
  return rowCount === 1;
}

export async function listResults(db: Client, runId: number): Promise<RunResultsRow[]> {
  const { rows } = await db.query<RunResultsRow>(
    'select name, sha256, figures, comparable, added_at from run_results where run_id = $1 order by added_at',
    [runId],
  );
  return rows;
}

export async function deleteResults(db: Client, runId: number, name: string): Promise<boolean> {
  const { rowCount } = await db.query('delete from run_results where run_id = $1 and name = $2', [runId, name]);
  return (rowCount ?? 0) > 0;
}
