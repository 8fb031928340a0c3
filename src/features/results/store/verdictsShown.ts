import type { Client } from '#app/database/pool';

/** Numbers of mounts at which a finished study's verdicts were shown, rising. */
export async function listVerdictsShown(db: Client, studyId: number): Promise<number[]> {
  const { rows } = await db.query<{ mounts: number }>('select mounts from verdicts_shown where study_id = $1 order by mounts', [studyId]);
  return rows.map((r) => r.mounts);
}

export async function noteVerdictsShown(db: Client, studyId: number, mounts: number): Promise<void> {
  await db.query('insert into verdicts_shown (study_id, mounts) values ($1, $2) on conflict do nothing', [studyId, mounts]);
}
