import type { Client } from '#app/database/pool';
import { execute, first } from '#app/database/query';

/** Answers that are kept; a year of looking at a lab makes a few a week. */
const MOST_KEPT = 60;

/** An answer as it was kept; null where none was. */
export const getKeptRanking = async (db: Client, key: string): Promise<Buffer | null> =>
  (await first<{ answer: Buffer }>(db)`select answer from kept_rankings where key = ${key}`)?.answer ?? null;

/** Keeps an answer and lets go of the oldest. */
export async function keepRanking(db: Client, key: string, answer: Buffer): Promise<void> {
  await execute(db)`insert into kept_rankings (key, answer) values (${key}, ${answer}) on conflict (key) do nothing`;
  await execute(db)`
    delete from kept_rankings where key in (select key from kept_rankings order by kept_at desc, key offset ${MOST_KEPT})`;
}
