import type { Client } from '#app/database/pool';
import { execute, only, touches } from '#app/database/query';

/** Copies the plan and the specimens of a study into a new one; nothing that was measured comes along. Gives its number. */
export async function copyPlan(db: Client, studyId: number, title: string): Promise<number> {
  const { id } = await only<{ id: number }>(db)`
    insert into studies (title, question, margin_k, confidence, scatter, reduction, plan)
    select ${title}, question, margin_k, confidence, scatter, reduction, plan from studies where id = ${studyId} returning id`;
  await execute(db)`
    insert into specimens (study_id, name, kind, position, material_id, cooler_id, plan)
    select ${id}, name, kind, position, material_id, cooler_id, plan from specimens where study_id = ${studyId}`;
  await execute(db)`
    update studies set reference_id = (
      select n.id from specimens n join specimens o on o.name = n.name join studies s on s.reference_id = o.id
      where n.study_id = ${id} and s.id = ${studyId})
    where id = ${id}`;
  return id;
}

/** Archives a study or brings it back; false where there is none. */
export const setStudyArchived = (db: Client, id: number, archived: boolean) =>
  touches(db)`update studies set archived_at = case when ${archived} then coalesce(archived_at, now()) end where id = ${id}`;

/** Gives a specimen another name; false where it is not in the study. */
export const renameSpecimen = (db: Client, studyId: number, id: number, name: string) =>
  touches(db)`update specimens set name = ${name} where id = ${id} and study_id = ${studyId}`;
