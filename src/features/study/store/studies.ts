import type { Client } from '#app/database/pool';
import { execute, first, many, only, touches } from '#app/database/query';
import type { ReduceOptions } from '#core/signal/reduce/types';
import type { SheetValues } from '#features/shelf/model/sections';
import type { SpecimenPlan } from '#features/study/model/specimenPlan';
import type { StudyPlan } from '#features/study/model/studyPlan';

export interface StudyRow {
  id: number;
  title: string;
  question: string;
  margin_k: number;
  confidence: number;
  scatter: 'auto' | 'pooled' | 'separate' | 'strict';
  reduction: Partial<ReduceOptions>;
  plan: StudyPlan;
  reference_id: number | null;
  created_at: Date;
  archived_at: Date | null;
}

export interface SpecimenRow {
  id: number;
  study_id: number;
  name: string;
  kind: string;
  position: number;
  plan: SpecimenPlan;
}

export interface MountRow {
  id: number;
  specimen_id: number;
  rig_id: number;
  rig: string;
  number: number;
  note: string;
  excluded_reason: string | null;
  /** when its last try ended, or when it was written down */
  made_at: Date;
  runs: number;
}

/** All studies in the order they were opened. */
export const listStudies = (db: Client) => many<StudyRow>(db)`select * from studies order by id`;

/** The newest studies in use, by their numbers. */
export const listNewestStudies = async (db: Client, most: number): Promise<number[]> =>
  (await many<{ id: number }>(db)`select id from studies where archived_at is null order by created_at desc, id desc limit ${most}`).map(
    (s) => s.id,
  );

/** Titles of all studies in the order they were opened. */
export const listTitles = (db: Client) =>
  many<{ id: number; title: string; archived: boolean }>(db)`
    select id, title, archived_at is not null as archived from studies order by id`;

/** How many studies there are. */
export const countStudies = async (db: Client): Promise<number> => (await only<{ n: number }>(db)`select count(*) as n from studies`).n;

/** A study by its number; null where there is none. */
export const getStudy = (db: Client, id: number) => first<StudyRow>(db)`select * from studies where id = ${id}`;

/** @returns null where the title is taken */
export const insertStudy = async (
  db: Client,
  study: {
    title: string;
    question: string;
    margin_k: number;
    confidence?: number;
    reduction: Partial<ReduceOptions>;
    plan?: StudyPlan;
  },
): Promise<number | null> =>
  (
    await first<{ id: number }>(db)`
      insert into studies (title, question, margin_k, confidence, reduction, plan)
      values (${study.title}, ${study.question}, ${study.margin_k}, ${study.confidence ?? 0.95}, ${study.reduction}, ${study.plan ?? {}})
      on conflict do nothing returning id`
  )?.id ?? null;

/** Deletes a study with all below it, and the original files that no other run rests on. */
export async function deleteStudy(db: Client, id: number): Promise<boolean> {
  const gone = await touches(db)`delete from studies where id = ${id}`;
  await execute(db)`delete from log_files f where not exists (select from run_files r where r.sha256 = f.sha256)
    and not exists (select from run_results r where r.sha256 = f.sha256)`;
  return gone;
}

/** Specimens of a study, or of all, in their order. */
export const listSpecimens = (db: Client, studyId?: number) =>
  many<SpecimenRow>(db)`
    select * from specimens where ${studyId ?? null}::bigint is null or study_id = ${studyId ?? null} order by study_id, position`;

/**
 * Adds a specimen behind the others of its study; the first becomes the reference.
 * @returns null where the study has one of that name
 */
export async function insertSpecimen(db: Client, studyId: number, name: string, kind: string): Promise<number | null> {
  // the study's row is locked, so that two imports at once do not take the same position
  await execute(db)`select from studies where id = ${studyId} for update`;
  const rows = await many<{ id: number }>(db)`insert into specimens (study_id, name, kind, position)
    select ${studyId}, ${name}, ${kind}, coalesce(max(position) + 1, 0) from specimens where study_id = ${studyId}
    on conflict do nothing returning id`;
  if (!rows[0]) return null;
  await execute(db)`update studies set reference_id = ${rows[0].id} where id = ${studyId} and reference_id is null`;
  return rows[0].id;
}

/** Mounts of a study, or of all, by specimen and number. */
export const listMounts = (db: Client, studyId?: number) => many<MountRow>(db)`
  select m.id, m.specimen_id, m.rig_id, r.name as rig, m.number, m.note, m.excluded_reason,
         coalesce((select max(a.ended_at) from mount_attempts a where a.mount_id = m.id), m.created_at) as made_at,
         (select count(*) from runs where mount_id = m.id) as runs
  from mounts m join rigs r on r.id = m.rig_id join specimens s on s.id = m.specimen_id
  where ${studyId ?? null}::bigint is null or s.study_id = ${studyId ?? null}
  order by s.study_id, s.position, m.number`;

/**
 * Adds the next mount of a specimen, or the one of a number where no other has it. A number under which the plan holds a failed or lost
 * mount is passed over.
 */
export async function insertMount(
  db: Client,
  specimenId: number,
  rigId: number,
  note: string,
  wanted: number | null = null,
): Promise<{ id: number; number: number }> {
  await execute(db)`select from specimens where id = ${specimenId} for update`;
  const asked =
    wanted === null
      ? null
      : await first<{ id: number; number: number }>(db)`insert into mounts (specimen_id, rig_id, number, note)
          values (${specimenId}, ${rigId}, ${wanted}, ${note}) on conflict do nothing returning id, number`;
  if (asked) return asked;
  return only<{ id: number; number: number }>(db)`insert into mounts (specimen_id, rig_id, number, note)
    select ${specimenId}, ${rigId}, n, ${note}
    from (select coalesce(max(number), 0) as last from mounts where specimen_id = ${specimenId}) m
    cross join lateral generate_series(m.last + 1, m.last + 1 + (select count(*) from planned_mounts where specimen_id = ${specimenId})) n
    where not exists (select from planned_mounts where specimen_id = ${specimenId} and number = n and state in ('failed', 'lost'))
    order by n limit 1 returning id, number`;
}

/** The cooler that a specimen is, by its sheet, and photographs of its base. */
interface SpecimenCooler {
  specimen: string;
  position: number;
  sheet: SheetValues | null;
  photographs: number[];
}

/** A study's specimens as coolers, in their order. */
export const listSpecimenCoolers = (db: Client, studyId: number) => many<SpecimenCooler>(db)`
  select sp.name as specimen, sp.position, c.sheet,
         array(select p.id from photographs p join mounts m on m.id = p.mount_id
               where m.specimen_id = sp.id and p.face = 'base' and p.removed_at is null order by p.id limit 3) as photographs
  from specimens sp left join coolers c on c.id = sp.cooler_id where sp.study_id = ${studyId} order by sp.position`;

/** Says which sheet of the shelf a specimen is. */
export const linkSpecimen = (db: Client, id: number, materialId: number | null, coolerId: number | null) =>
  execute(db)`update specimens set material_id = ${materialId}, cooler_id = ${coolerId} where id = ${id}`;
