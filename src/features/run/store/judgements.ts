import type { Client } from '#app/database/pool';
import { execute, first, many } from '#app/database/query';
import type { Finding } from '#core/compare/types';
import { insertFindings, type ReadingFigures, type StoredResult } from './runs';

/** Holds a run until the transaction ends. */
export const lockRun = (db: Client, id: number) => execute(db)`select from runs where id = ${id} for update`;

/** Sets what a person decided of a run. */
export const setJudged = (db: Client, id: number, judged: 'open' | 'accepted' | 'excluded', reason: string | null) =>
  execute(db)`update runs set judged = ${judged}, excluded_reason = ${reason} where id = ${id}`;

/**
 * Writes a run's reading anew. Findings of the reading are replaced; those that came from elsewhere, such as a fault of its mount, stay.
 * @param automatic the automatic reading beside one by hand; null where the reading is automatic
 */
export async function updateReading(
  db: Client,
  id: number,
  result: StoredResult,
  findings: Finding[],
  how: { reading: unknown; options: unknown },
  automatic: ReadingFigures | null,
): Promise<void> {
  await execute(db)`
    update runs set result = ${result}, rise_k = ${result.rise_k}, se_k = ${result.se_k}, r_k_per_w = ${result.r_k_per_w}, valid =
     ${result.valid}, r_valid = ${result.r_valid}, censored = ${result.censored}, options = ${how.options}, automatic = ${automatic},
     reading = ${how.reading}
    where id = ${id}`;
  await execute(db)`delete from findings where run_id = ${id} and code <> 'fault_later'`;
  await insertFindings(db, id, findings);
}

export interface RunNoteRow {
  id: number;
  run_id: number;
  at_s: number;
  text: string;
  who: string;
  created_at: Date;
}

/** Notes pinned to a run, by their time. */
export const listNotes = (db: Client, runId: number) =>
  many<RunNoteRow>(db)`select * from run_notes where run_id = ${runId} order by at_s, id`;

/** Pins a note to a time of a run. */
export const insertNote = (db: Client, note: Pick<RunNoteRow, 'run_id' | 'at_s' | 'text' | 'who'>) =>
  execute(db)`insert into run_notes (run_id, at_s, text, who) values (${note.run_id}, ${note.at_s}, ${note.text}, ${note.who})`;

/** Takes a note away; false where there is none. */
export const deleteNote = (db: Client, runId: number, id: number) =>
  first<RunNoteRow>(db)`delete from run_notes where run_id = ${runId} and id = ${id} returning *`;
