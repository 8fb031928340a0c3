import type { Client } from '#app/database/pool';
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
}

export async function listStudies(db: Client): Promise<StudyRow[]> {
  const { rows } = await db.query<StudyRow>('select * from studies order by id');
  return rows;
}

export async function getStudy(db: Client, id: number): Promise<StudyRow | null> {
  const { rows } = await db.query<StudyRow>('select * from studies where id = $1', [id]);
  return rows[0] ?? null;
}

/** @returns null where the title is taken */
export async function insertStudy(
  db: Client,
  study: { title: string; question: string; margin_k: number; reduction: Partial<ReduceOptions> },
): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into studies (title, question, margin_k, reduction) values ($1, $2, $3, $4)
     on conflict (title) do nothing returning id`,
    [study.title, study.question, study.margin_k, study.reduction],
  );
  return rows[0]?.id ?? null;
}

/** Deletes a study with all below it, and the original files that no other run rests on. */
export async function deleteStudy(db: Client, id: number): Promise<boolean> {
  const { rowCount } = await db.query('delete from studies where id = $1', [id]);
  await db.query(
    `delete from log_files f where not exists (select from run_files r where r.sha256 = f.sha256)
     and not exists (select from run_results r where r.sha256 = f.sha256)`,
  );
  return rowCount === 1;
}

export async function listSpecimens(db: Client, studyId?: number): Promise<SpecimenRow[]> {
  const { rows } = await db.query<SpecimenRow>(
    'select * from specimens where $1::bigint is null or study_id = $1 order by study_id, position',
    [studyId ?? null],
  );
  return rows;
}

/**
 * Adds a specimen behind the others of its study; the first becomes the reference.
 * @returns null where the study has one of that name
 */
export async function insertSpecimen(db: Client, studyId: number, name: string, kind: string): Promise<number | null> {
  // the study's row is locked, so that two imports at once do not take the same position
  await db.query('select from studies where id = $1 for update', [studyId]);
  const { rows } = await db.query<{ id: number }>(
    `insert into specimens (study_id, name, kind, position)
     select $1, $2, $3, coalesce(max(position) + 1, 0) from specimens where study_id = $1
     on conflict (study_id, name) do nothing returning id`,
    [studyId, name, kind],
  );
  if (!rows[0]) return null;
  await db.query('update studies set reference_id = $2 where id = $1 and reference_id is null', [studyId, rows[0].id]);
  return rows[0].id;
}

export async function listMounts(db: Client, studyId?: number): Promise<MountRow[]> {
  const { rows } = await db.query<MountRow>(
    `select m.id, m.specimen_id, m.rig_id, r.name as rig, m.number, m.note, m.excluded_reason,
            coalesce((select max(a.ended_at) from mount_attempts a where a.mount_id = m.id), m.created_at) as made_at
     from mounts m join rigs r on r.id = m.rig_id join specimens s on s.id = m.specimen_id
     where $1::bigint is null or s.study_id = $1
     order by s.study_id, s.position, m.number`,
    [studyId ?? null],
  );
  return rows;
}

/** Adds the next mount of a specimen. */
export async function insertMount(db: Client, specimenId: number, rigId: number, note: string): Promise<{ id: number; number: number }> {
  await db.query('select from specimens where id = $1 for update', [specimenId]);
  const { rows } = await db.query<{ id: number; number: number }>(
    `insert into mounts (specimen_id, rig_id, number, note)
     select $1, $2, coalesce(max(number) + 1, 1), $3 from mounts where specimen_id = $1
     returning id, number`,
    [specimenId, rigId, note],
  );
  return rows[0];
}

/** The cooler that a specimen is, by its sheet, and photographs of its base. */
interface SpecimenCooler {
  specimen: string;
  position: number;
  sheet: SheetValues | null;
  photographs: number[];
}

/** A study's specimens as coolers, in their order. */
export async function listSpecimenCoolers(db: Client, studyId: number): Promise<SpecimenCooler[]> {
  const { rows } = await db.query<SpecimenCooler>(
    `select sp.name as specimen, sp.position, c.sheet,
            array(select p.id from photographs p join mounts m on m.id = p.mount_id
                  where m.specimen_id = sp.id and p.face = 'base' and p.removed_at is null order by p.id limit 3) as photographs
     from specimens sp left join coolers c on c.id = sp.cooler_id where sp.study_id = $1 order by sp.position`,
    [studyId],
  );
  return rows;
}

/** Says which sheet of the shelf a specimen is. */
export async function linkSpecimen(db: Client, id: number, materialId: number | null, coolerId: number | null): Promise<void> {
  await db.query('update specimens set material_id = $2, cooler_id = $3 where id = $1', [id, materialId, coolerId]);
}
