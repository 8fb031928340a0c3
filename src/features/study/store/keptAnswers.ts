import type { Client } from '#app/database/pool';
import { execute, first, many } from '#app/database/query';

/** A study with the version of its data, and what was kept of one task. */
export interface KeptRow {
  study_id: number;
  version: number;
  /** what the kept answer rests on; null where none is kept */
  key: string | null;
  answer: Buffer | null;
}

/** Some studies with what is kept of a task. */
export const listKept = (db: Client, task: string, ids: number[]) => many<KeptRow>(db)`
  select v.study_id, v.version, k.key, k.answer
  from study_versions v left join kept_answers k on k.study_id = v.study_id and k.task = ${task}
  where v.study_id = any (${ids})`;

/** Studies in use that have an order. */
export const listOrderedStudies = async (db: Client): Promise<number[]> =>
  (
    await many<{ id: number }>(db)`
      select id from studies s where archived_at is null and exists (select from planned_mounts p where p.study_id = s.id)`
  ).map((s) => s.id);

/** What was kept of one task of a study under a key; null where that is not there. */
export const getKept = async (db: Client, studyId: number, task: string, key: string): Promise<Buffer | null> =>
  (
    await first<{ answer: Buffer }>(db)`
      select answer from kept_answers where study_id = ${studyId} and task = ${task} and key = ${key}`
  )?.answer ?? null;

/** Keeps an answer in place of the one before; nothing where the study is gone. */
export const keepAnswer = (db: Client, studyId: number, task: string, key: string, answer: Buffer) => execute(db)`
  insert into kept_answers (study_id, task, key, answer)
  select ${studyId}, ${task}, ${key}, ${answer} where exists (select from studies where id = ${studyId})
  on conflict (study_id, task) do update set key = excluded.key, answer = excluded.answer, kept_at = now()`;
