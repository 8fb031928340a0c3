import type { Client } from '#app/database/pool';
import { execute, first, only } from '#app/database/query';

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

/** What changes whenever something in the lab does that a ranking rests on: counted by triggers, so that no way of writing can forget to. */
export const getLabState = async (db: Client): Promise<string> =>
  (
    await only<{ state: string }>(db)`
      select concat_ws('/', (select concat_ws('.', count(*), sum(v.version), max(v.study_id)) from study_versions v join studies s on s.id = v.study_id),
        (select concat_ws('.', count(*), max(id)) from setup_choices)) as state`
  ).state;
