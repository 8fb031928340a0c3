import type { Client } from '#app/database/pool';
import { execute, first, many, only, sql } from '#app/database/query';
import type { PlanSpecimen } from '#features/study/model/context';
import type { StudyRow } from '#features/study/store/studies';

/** A study's plan as it is stored. Fields that queries need are columns of the study; all others stand in `plan`. */
export interface PlanRow
  extends Pick<StudyRow, 'id' | 'title' | 'question' | 'margin_k' | 'confidence' | 'scatter' | 'reference_id' | 'plan'> {
  plan_version: number;
  plan_stamps: Record<string, number>;
}

const COLUMNS = sql`id, title, question, margin_k, confidence, scatter, reference_id, plan, plan_version, plan_stamps`;

/** The plan of a study; null where there is no study. */
export const getPlan = (db: Client, studyId: number) => first<PlanRow>(db)`select ${COLUMNS} from studies where id = ${studyId}`;

/** The plan, held until the transaction ends. */
export const lockPlan = (db: Client, studyId: number) =>
  first<PlanRow>(db)`select ${COLUMNS} from studies where id = ${studyId} for update`;

/** @throws a unique violation (23505) where the title is taken */
export const savePlan = (db: Client, p: PlanRow) => execute(db)`
  update studies set title = ${p.title}, question = ${p.question}, margin_k = ${p.margin_k}, confidence = ${p.confidence}, scatter =
  ${p.scatter}, reference_id = ${p.reference_id},
          plan = ${p.plan}, plan_version = ${p.plan_version}, plan_stamps = ${p.plan_stamps} where id = ${p.id}`;

/** A specimen with the sheets it is, and every mount of it. */
type PlanSpecimenRow = Omit<PlanSpecimen, 'made' | 'stock_left' | 'cost' | 'currency'>;

/** The specimens of a study with their sheets and the mounts that were made. */
export const listPlanSpecimens = (db: Client, studyId: number) => many<PlanSpecimenRow>(db)`
  select sp.id, sp.name, sp.kind, sp.position, sp.plan,
         case when m.id is not null then jsonb_build_object('id', m.id, 'name', m.name, 'sheet', m.sheet) end as material,
         case when c.id is not null then jsonb_build_object('id', c.id, 'name', c.name, 'sheet', c.sheet) end as cooler,
         (select coalesce(jsonb_agg(jsonb_build_object('number', mo.number, 'rig', g.name, 'standing', mo.excluded_reason is null,
           'ran', exists (select from runs where mount_id = mo.id)) order by mo.number), '[]')
          from mounts mo join rigs g on g.id = mo.rig_id where mo.specimen_id = sp.id) as made_mounts
  from specimens sp left join materials m on m.id = sp.material_id left join coolers c on c.id = sp.cooler_id
  where sp.study_id = ${studyId} order by sp.position`;

/** Stores what is planned of a specimen. */
export const saveSpecimenPlan = (db: Client, id: number, plan: PlanSpecimen['plan']) =>
  execute(db)`update specimens set plan = ${plan} where id = ${id}`;

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

/** The order of a study. */
export const listPlannedMounts = (db: Client, studyId: number) => many<PlannedMountRow>(db)`
  select p.id, s.name as specimen, p.specimen_id, g.name as rig, p.rig_id, p.number, p.day, p.extra, p.state, p.reason
  from planned_mounts p join specimens s on s.id = p.specimen_id join rigs g on g.id = p.rig_id
  where p.study_id = ${studyId} order by p.position`;

/** Puts an order in place of the one there is; mounts that come with an id keep it, so that calendar entries do too. */
export async function replacePlannedMounts(
  db: Client,
  studyId: number,
  mounts: (Omit<PlannedMountRow, 'id' | 'specimen' | 'rig'> & { id: number | null })[],
): Promise<void> {
  await execute(db)`delete from planned_mounts where study_id = ${studyId}`;
  await execute(db)`
    insert into planned_mounts (id, study_id, specimen_id, rig_id, number, day, position, extra, state, reason) overriding system value
    select coalesce(u.id, nextval(pg_get_serial_sequence('all_planned_mounts', 'id'))), ${studyId}, u.specimen_id, u.rig_id, u.number, u.day,
      u.position - 1, u.extra, u.state, u.reason
    from unnest(${mounts.map((m) => m.id)}::bigint[], ${mounts.map((m) => m.specimen_id)}::bigint[], ${mounts.map((m) => m.rig_id)}::bigint[],
      ${mounts.map((m) => m.number)}::int[], ${mounts.map((m) => m.day)}::int[], ${mounts.map((m) => m.extra)}::bool[],
      ${mounts.map((m) => m.state)}::text[], ${mounts.map((m) => m.reason)}::text[])
      with ordinality as u(id, specimen_id, rig_id, number, day, extra, state, reason, position)`;
}

/** Counts the changes of all runs of the lab and of where they stand. */
export const runsVersion = async (db: Client): Promise<string> =>
  (
    await only<{ version: string }>(db)`
      select current_database() || '/' || coalesce(sum(runs_version), 0) || '/' || count(*) as version from study_versions`
  ).version;

/**
 * The newest run values of the lab by interface kind: what its scatter is told from. Under another load or at another fan speed, by more
 * than a tenth, a specimen counts as another, and what a mount shows days after its first run is its age: none of these is scatter.
 * @param most runs looked at; of the oldest of them a mount's first may lie before
 */
export const listScatterRuns = (db: Client, most: number) => many<{ kind: string; specimen: string; mount: string; value: number }>(db)`
  with newest as (select * from runs order by id desc limit ${most}),
  counted as (
    select r.id, sp.kind, sp.id as specimen_id, m.id as mount_id, r.rise_k, r.started_at,
           min(r.started_at) over (partition by m.id) as first_at,
           coalesce('/' || r.load, '') || coalesce('/' || round(ln(greatest(1, (r.result ->> 'fan_rpm')::float8)) / ln(1.1)), '') as
             setting
    from newest r join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id
    where r.valid and r.rise_k is not null and m.excluded_reason is null and r.excluded_reason is null
      and not exists (select from study_origins o where o.study_id = sp.study_id and not o.own))
  select kind, specimen_id || setting as specimen, mount_id || setting as mount, rise_k as value
  from counted where started_at is null or started_at < first_at + interval '36 hours' order by id desc`;
