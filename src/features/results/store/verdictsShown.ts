import type { Client } from '#app/database/pool';
import { execute, many } from '#app/database/query';

/** Numbers of mounts at which a finished study's verdicts were shown, rising. */
export const listVerdictsShown = async (db: Client, studyId: number) =>
  (await many<{ mounts: number }>(db)`select mounts from verdicts_shown where study_id = ${studyId} order by mounts`).map((r) => r.mounts);

/** Notes that verdicts were seen with so many mounts, so that looks before the planned ones are told. */
export const noteVerdictsShown = (db: Client, studyId: number, mounts: number) =>
  execute(db)`insert into verdicts_shown (study_id, mounts) values (${studyId}, ${mounts}) on conflict do nothing`;
