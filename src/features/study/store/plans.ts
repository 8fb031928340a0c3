import type { Client } from '#app/database/pool';
import type { PlanSpecimen } from '#features/study/model/context';
import type { StudyPlan } from '#features/study/model/studyPlan';

/** A study's plan as it is stored. Fields that queries need are columns of the study; all others stand in `plan`. */
export interface PlanRow {
  id: number;
  title: string;
  question: string;
  margin_k: number;
  confidence: number;
  scatter: 'auto' | 'pooled' | 'separate' | 'strict';
  reference_id: number | null;
  plan: StudyPlan;
  plan_version: number;
  plan_stamps: Record<string, number>;
}

const COLUMNS = 'id, title, question, margin_k, confidence, scatter, reference_id, plan, plan_version, plan_stamps';

export async function getPlan(db: Client, studyId: number): Promise<PlanRow | null> {
  const { rows } = await db.query<PlanRow>(`select ${COLUMNS} from studies where id = $1`, [studyId]);
  return rows[0] ?? null;
}

/** The plan, held until the transaction ends. */
export async function lockPlan(db: Client, studyId: number): Promise<PlanRow | null> {
  const { rows } = await db.query<PlanRow>(`select ${COLUMNS} from studies where id = $1 for update`, [studyId]);
  return rows[0] ?? null;
}

/** @throws a unique violation (23505) where the title is taken */
export async function savePlan(db: Client, p: PlanRow): Promise<void> {
  await db.query(
    `update studies set title = $2, question = $3, margin_k = $4, confidence = $5, scatter = $6, reference_id = $7,
            plan = $8, plan_version = $9, plan_stamps = $10 where id = $1`,
    [p.id, p.title, p.question, p.margin_k, p.confidence, p.scatter, p.reference_id, p.plan, p.plan_version, p.plan_stamps],
  );
}

/** A specimen with the sheets it is; mounts made are those with a run, excluded ones left out. */
type PlanSpecimenRow = Omit<PlanSpecimen, 'stock_left' | 'cost' | 'currency'>;

export async function listPlanSpecimens(db: Client, studyId: number): Promise<PlanSpecimenRow[]> {
  const { rows } = await db.query<PlanSpecimenRow>(
    `select sp.id, sp.name, sp.kind, sp.position, sp.plan,
            case when m.id is not null then jsonb_build_object('id', m.id, 'name', m.name, 'sheet', m.sheet) end as material,
            case when c.id is not null then jsonb_build_object('id', c.id, 'name', c.name, 'sheet', c.sheet) end as cooler,
            (select count(*) from mounts where specimen_id = sp.id and excluded_reason is null and exists (select from runs where mount_id = mounts.id)) as made
     from specimens sp left join materials m on m.id = sp.material_id left join coolers c on c.id = sp.cooler_id
     where sp.study_id = $1 order by sp.position`,
    [studyId],
  );
  return rows;
}

export async function saveSpecimenPlan(db: Client, id: number, plan: PlanSpecimen['plan']): Promise<void> {
  await db.query('update specimens set plan = $2 where id = $1', [id, plan]);
}

/** Deletes a specimen that has no mount, and its planned mounts with it. */
export async function deleteSpecimen(db: Client, studyId: number, id: number): Promise<boolean> {
  const { rowCount } = await db.query(
    'delete from specimens where id = $2 and study_id = $1 and not exists (select from mounts where specimen_id = $2)',
    [studyId, id],
  );
  return rowCount === 1;
}

export interface PlannedMountRow {
  id: number;
  specimen: string;
  specimen_id: number;
  rig: string;
  rig_id: number;
  number: number;
  day: number;
  extra: boolean;
  state: 'planned' | 'failed' | 'lost';
  reason: string;
}

export async function listPlannedMounts(db: Client, studyId: number): Promise<PlannedMountRow[]> {
  const { rows } = await db.query<PlannedMountRow>(
    `select p.id, s.name as specimen, p.specimen_id, g.name as rig, p.rig_id, p.number, p.day, p.extra, p.state, p.reason
     from planned_mounts p join specimens s on s.id = p.specimen_id join rigs g on g.id = p.rig_id
     where p.study_id = $1 order by p.position`,
    [studyId],
  );
  return rows;
}

/** Puts an order in place of the one there is; mounts that stay keep their ids, so that calendar entries do too. */
export async function replacePlannedMounts(
  db: Client,
  studyId: number,
  mounts: Omit<PlannedMountRow, 'id' | 'specimen' | 'rig'>[],
): Promise<void> {
  await db.query(
    'delete from planned_mounts p where study_id = $1 and not (specimen_id, number) in (select * from unnest($2::bigint[], $3::int[]))',
    [studyId, mounts.map((m) => m.specimen_id), mounts.map((m) => m.number)],
  );
  await db.query(
    `insert into planned_mounts (study_id, specimen_id, rig_id, number, day, position, extra, state, reason)
     select $1, u.specimen_id, u.rig_id, u.number, u.day, u.position - 1, u.extra, u.state, u.reason
     from unnest($2::bigint[], $3::bigint[], $4::int[], $5::int[], $6::bool[], $7::text[], $8::text[])
       with ordinality as u(specimen_id, rig_id, number, day, extra, state, reason, position)
     on conflict (specimen_id, number) do update
       set rig_id = excluded.rig_id, day = excluded.day, position = excluded.position, extra = excluded.extra, state = excluded.state, reason = excluded.reason`,
    [
      studyId,
      mounts.map((m) => m.specimen_id),
      mounts.map((m) => m.rig_id),
      mounts.map((m) => m.number),
      mounts.map((m) => m.day),
      mounts.map((m) => m.extra),
      mounts.map((m) => m.state),
      mounts.map((m) => m.reason),
    ],
  );
}

/**
 * Run values of the whole lab by interface kind, the newest first: what its scatter is told from. Under another load or at another fan speed, by
 * more than a tenth, a specimen counts as another, and what a mount shows days after its first run is its age: none of these is scatter.
 */
export async function listScatterRuns(
  db: Client,
  most: number,
): Promise<{ kind: string; specimen: string; mount: string; value: number }[]> {
  const { rows } = await db.query<{ kind: string; specimen: string; mount: string; value: number }>(
    `with counted as (
       select r.id, sp.kind, sp.id as specimen_id, m.id as mount_id, r.rise_k, r.started_at,
              min(r.started_at) over (partition by m.id) as first_at,
              coalesce('/' || r.load, '') || coalesce('/' || round(ln(greatest(1, (r.result ->> 'fan_rpm')::float8)) / ln(1.1)), '') as setting
       from runs r join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id
       where r.valid and r.rise_k is not null and m.excluded_reason is null and r.excluded_reason is null)
     select kind, specimen_id || setting as specimen, mount_id || setting as mount, rise_k as value
     from counted where started_at is null or started_at < first_at + interval '36 hours'
     order by id desc limit $1`,
    [most],
  );
  return rows;
}

/** Mounts made on each rig that used up a coupon: those of permanent materials. */
export async function listCouponsUsed(db: Client): Promise<Map<number, number>> {
  const { rows } = await db.query<{ rig_id: number; used: number }>(
    `select m.rig_id, count(*) as used from mounts m join specimens sp on sp.id = m.specimen_id join materials ma on ma.id = sp.material_id
     where ma.sheet -> 'permanent' = 'true' group by m.rig_id`,
  );
  return new Map(rows.map((r) => [r.rig_id, r.used]));
}
