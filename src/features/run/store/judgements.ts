import type { Client } from '#app/database/pool';
import type { Finding } from '#core/compare/types';
import { insertFindings, type ReadingFigures, type StoredResult } from './runs';

/** Holds a run until the transaction ends. */
export async function lockRun(db: Client, id: number): Promise<void> {
  await db.query('select from runs where id = $1 for update', [id]);
}

export async function setJudged(db: Client, id: number, judged: 'open' | 'accepted' | 'excluded', reason: string | null): Promise<void> {
  await db.query('update runs set judged = $2, excluded_reason = $3 where id = $1', [id, judged, reason]);
}

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
  await db.query(
    `update runs set result = $2, rise_k = $3, se_k = $4, r_k_per_w = $5, valid = $6, r_valid = $7, censored = $8, options = $9, automatic = $10, reading = $11
     where id = $1`,
    [
      id,
      result,
      result.rise_k,
      result.se_k,
      result.r_k_per_w,
      result.valid,
      result.r_valid,
      result.censored,
      how.options,
      automatic,
      how.reading,
    ],
  );
  await db.query(`delete from findings where run_id = $1 and code <> 'fault_later'`, [id]);
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

export async function listNotes(db: Client, runId: number): Promise<RunNoteRow[]> {
  const { rows } = await db.query<RunNoteRow>('select * from run_notes where run_id = $1 order by at_s, id', [runId]);
  return rows;
}

export async function insertNote(db: Client, note: Pick<RunNoteRow, 'run_id' | 'at_s' | 'text' | 'who'>): Promise<void> {
  await db.query('insert into run_notes (run_id, at_s, text, who) values ($1, $2, $3, $4)', [note.run_id, note.at_s, note.text, note.who]);
}

export async function deleteNote(db: Client, runId: number, id: number): Promise<RunNoteRow | null> {
  const { rows } = await db.query<RunNoteRow>('delete from run_notes where run_id = $1 and id = $2 returning *', [runId, id]);
  return rows[0] ?? null;
}
