import type { Client } from '#app/database/pool';
import { many, touches } from '#app/database/query';
import type { ProgramResults } from '#core/signal/performance/readResults';

interface RunResultsRow {
  name: string;
  sha256: Buffer;
  figures: ProgramResults;
  comparable: boolean;
  added_at: Date;
}

/** @returns false where the run has this file already */
export const insertResults = (db: Client, runId: number, sha256: Buffer, name: string, figures: ProgramResults, comparable: boolean) =>
  touches(db)`
    insert into run_results (run_id, sha256, name, figures, comparable) values (${runId}, ${sha256}, ${name}, ${figures}, ${comparable})
    on conflict do nothing`;

/** Results files of a run in the order they came. */
export const listResults = (db: Client, runId: number) =>
  many<RunResultsRow>(db)`select name, sha256, figures, comparable, added_at from run_results where run_id = ${runId} order by added_at`;

/** Takes a results file from its run; false where there is none of that name. */
export const deleteResults = (db: Client, runId: number, name: string) =>
  touches(db)`delete from run_results where run_id = ${runId} and name = ${name}`;
