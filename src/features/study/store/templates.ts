import type { Client } from '#app/database/pool';
import { execute, first, many, only, touches } from '#app/database/query';

/** A study of one's own to start from. */
export interface TemplateRow {
  id: number;
  title: string;
  study: unknown;
  specimens: unknown;
}

/** Own templates by name. */
export const listTemplates = (db: Client) => many<TemplateRow>(db)`select id, title, study, specimens from templates
  where deleted_at is null order by lower(title)`;

/** Keeps the plan and the specimens of a study under a name; what was kept under it before is replaced. */
export const insertTemplate = (db: Client, title: string, studyId: number) => only<TemplateRow>(db)`
  insert into templates (title, study, specimens)
  select ${title},
    jsonb_build_object('question', question, 'margin_k', margin_k, 'confidence', confidence, 'scatter', scatter, 'reduction', reduction,
      'plan', plan, 'reference', (select position from specimens where id = s.reference_id)),
    (select coalesce(jsonb_agg(jsonb_build_object('name', name, 'kind', kind, 'position', position, 'material_id', material_id,
       'cooler_id', cooler_id, 'plan', plan) order by position), '[]') from specimens where study_id = s.id)
  from studies s where s.id = ${studyId}
  on conflict (title) where deleted_at is null do update set study = excluded.study, specimens = excluded.specimens, saved_at = now()
  returning id, title, study, specimens`;

/** Opens a study from a template; a sheet that is no longer on the shelf is left out. Gives its number, or why not. */
export async function openTemplate(db: Client, id: number, title: string): Promise<number | 'gone' | 'taken'> {
  const template = await first<TemplateRow>(db)`select id, title, study, specimens from templates where id = ${id} and deleted_at is null`;
  if (!template) return 'gone';
  const made = await first<{ id: number }>(db)`
    insert into studies (title, question, margin_k, confidence, scatter, reduction, plan)
    select ${title}, study ->> 'question', (study ->> 'margin_k')::float8, (study ->> 'confidence')::float8, study ->> 'scatter',
      study -> 'reduction', study -> 'plan'
    from templates where id = ${id} on conflict do nothing returning id`;
  if (!made) return 'taken';
  await execute(db)`
    insert into specimens (study_id, name, kind, position, material_id, cooler_id, plan)
    select ${made.id}, s.name, s.kind, s.position, m.id, c.id, s.plan
    from templates t cross join lateral jsonb_to_recordset(t.specimens)
      as s(name text, kind text, position int, material_id bigint, cooler_id bigint, plan jsonb)
    left join materials m on m.id = s.material_id left join coolers c on c.id = s.cooler_id
    where t.id = ${id}`;
  await execute(db)`
    update studies set reference_id = (
      select s.id from specimens s join templates t on t.id = ${id}
      where s.study_id = ${made.id} and s.position = coalesce((t.study ->> 'reference')::int, 0))
    where id = ${made.id}`;
  return made.id;
}

/** Deletes a template, to be put back for some days, or puts it back; false where it is not there, or stands so already. */
export async function setTemplateDeleted(db: Client, id: number, deleted: boolean, keptDays: number): Promise<boolean> {
  await execute(db)`delete from templates where deleted_at < now() - make_interval(days => ${keptDays}::int)`;
  return touches(db)`
    update templates t set deleted_at = case when ${deleted} then now() end
    where id = ${id} and (deleted_at is not null) <> ${deleted}
      and (${deleted} or not exists (select from templates o where o.title = t.title and o.deleted_at is null))`;
}
