import type { Client } from '#app/database/pool';
import { execute, first, many, sql, touches } from '#app/database/query';
import type { AttemptOutcome, StepStates } from '#features/mount/model/attempt';
import type { FailureCause } from '#features/mount/model/failure';
import type { WorkKind } from '#features/mount/model/work';
import type { SpecimenKind } from '#features/shelf/model/materials';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { CoolerSheet, MaterialSheet, RigSheet } from '#features/shelf/model/sheets';
import type { TeardownStep } from '#features/shelf/model/teardown';
import type { SpecimenPlan } from '#features/study/model/specimenPlan';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { MountRow } from '#features/study/store/studies';
import type { PlacedMount } from './placedMount';

export interface AttemptRow {
  id: number;
  mount_id: number;
  number: number;
  begun_at: Date;
  ended_at: Date | null;
  outcome: AttemptOutcome | null;
  reason: string;
  /** why it failed, where that is known from the list */
  cause: FailureCause | null;
  who: string;
  steps: StepStates;
  /** what is done to the machine itself in this try */
  work: WorkKind[];
}

/** A mount with what its steps depend on. */
export interface MountSettingRow extends Omit<PlacedMount, 'mount_id' | 'mount' | 'specimen_position' | 'kind'> {
  id: number;
  number: number;
  kind: SpecimenKind;
  position: number;
  material: { name: string; sheet: MaterialSheet } | null;
  rig_sheet: RigSheet;
  teardown: TeardownStep[];
  rig_parts: RigPart[];
  /** materials that always lie on a part of the rig, by number; null where none does */
  part_materials: Record<string, { name: string; sheet: MaterialSheet }> | null;
  specimen_plan: SpecimenPlan;
  study_plan: StudyPlan;
  cooler: { name: string; sheet: CoolerSheet } | null;
  runs: number;
}

const SETTING = sql`
  select p.mount_id as id, p.mount as number, p.study_id, p.study, p.specimen_id, p.specimen, p.kind, p.specimen_position as position,
         case when ma.id is not null then jsonb_build_object('name', ma.name, 'sheet', ma.sheet) end as material,
         p.rig, p.rig_id, g.sheet as rig_sheet, g.teardown, g.parts as rig_parts, sp.plan as specimen_plan,
         (select jsonb_object_agg(pm.id, jsonb_build_object('name', pm.name, 'sheet', pm.sheet)) from materials pm
          where pm.id in (select (e ->> 'material_id')::bigint from jsonb_array_elements(g.parts) e)) as part_materials,
         st.plan || jsonb_build_object('reference_id', st.reference_id) as study_plan,
         case when c.id is not null then jsonb_build_object('name', c.name, 'sheet', c.sheet) end as cooler,
         p.excluded_reason, p.failed_cause, (select count(*) from runs where mount_id = p.mount_id) as runs
  from placed_mounts p join specimens sp on sp.id = p.specimen_id join studies st on st.id = p.study_id join rigs g on g.id = p.rig_id
  left join materials ma on ma.id = sp.material_id
  left join coolers c on c.id = coalesce(sp.cooler_id, (g.sheet ->> 'cooler_id')::bigint)`;

/** A mount with what its steps depend on; null where there is none. */
export const getMountSetting = (db: Client, id: number) => first<MountSettingRow>(db)`${SETTING} where p.mount_id = ${id}`;

/** All mounts of a study. */
export const listMountSettings = (db: Client, studyId: number) =>
  many<MountSettingRow>(db)`${SETTING} where p.study_id = ${studyId} order by p.specimen_position, p.mount`;

/** The last try of each mount of a study. */
export const listLastAttempts = (db: Client, studyId: number) => many<AttemptRow>(db)`
  select distinct on (a.mount_id) a.* from mount_attempts a join placed_mounts using (mount_id)
  where study_id = ${studyId} order by a.mount_id, a.number desc`;

/** All tries of a mount in their order. */
export const listAttempts = (db: Client, mountId: number) =>
  many<AttemptRow>(db)`select * from mount_attempts where mount_id = ${mountId} order by number`;

/** Begins the next try of a mount; nothing where one is under way. */
export async function insertAttempt(db: Client, mountId: number, who: string): Promise<void> {
  await execute(db)`select from mounts where id = ${mountId} for update`;
  await execute(db)`insert into mount_attempts (mount_id, number, who)
    select ${mountId}, coalesce(max(number) + 1, 1), ${who} from mount_attempts where mount_id = ${mountId}
    having count(*) filter (where outcome is null) = 0`;
}

/** The try that is under way, held until the transaction ends. */
export const lockOpenAttempt = (db: Client, mountId: number) =>
  first<AttemptRow>(db)`select * from mount_attempts where mount_id = ${mountId} and outcome is null for update`;

/** Stores a try as it stands. */
export const saveAttempt = (db: Client, a: AttemptRow) =>
  execute(db)`
    update mount_attempts set steps = ${a.steps}, who = ${a.who}, outcome = ${a.outcome}, reason = ${a.reason}, cause = ${a.cause},
    ended_at = ${a.ended_at}, work = ${a.work} where id = ${a.id}`;

/** What the grid of a study's mounts shows of each. */
export interface GridRow extends Pick<MountRow, 'id' | 'specimen_id' | 'number' | 'rig' | 'excluded_reason'> {
  /** why it was judged failed; null where it was not */
  failed_cause: FailureCause | null;
  runs: number;
  /** mean of its valid runs, K */
  rise_k: number | null;
  /** faults that were reported later */
  faults: number;
  /** findings of its runs that ask for a look */
  findings: number;
  /** applications that failed: tries, and the mount itself where it was judged so */
  failed: number;
  /** true where a try is under way */
  open: boolean;
  /** applications made: its tries, or one where it runs without any being written down */
  attempts: number;
}

/** Every mount of a study as its grid shows it, by specimen and number. */
export const listGrid = (db: Client, studyId: number) => many<GridRow>(db)`
  select m.id, m.specimen_id, m.number, g.name as rig, m.excluded_reason, m.failed_cause,
         avg(r.rise_k) filter (where r.valid and r.judged <> 'excluded') as rise_k,
         count(r.id) as runs, (select count(*) from mount_faults mf where mf.mount_id = m.id) as faults,          (select count(*) from findings f join runs fr on fr.id = f.run_id where fr.mount_id = m.id and f.severity in ('warn',
           'reject')) as findings,
         (select count(*) from mount_attempts a where a.mount_id = m.id and a.outcome <> 'ready') + (m.failed_cause is not null)::int as failed,
         exists (select from mount_attempts a where a.mount_id = m.id and a.outcome is null) as open,
         greatest((select count(*) from mount_attempts a where a.mount_id = m.id), (count(r.id) > 0)::int) as attempts
  from mounts m join specimens sp on sp.id = m.specimen_id join rigs g on g.id = m.rig_id left join runs r on r.mount_id = m.id
  where sp.study_id = ${studyId} group by m.id, m.specimen_id, m.number, m.excluded_reason, m.failed_cause, g.name order by m.specimen_id, m.number`;

/** Leaves a mount out of the comparisons, as failed where a cause is given; takes it in again where the reason is null. */
export const setMountExcluded = (db: Client, mountId: number, reason: string | null, cause: FailureCause | null, who: string) =>
  touches(db)`
    update mounts set excluded_reason = ${reason}, failed_cause = ${cause}, excluded_by = ${who}, excluded_at = case when ${reason}::text is null then null else
    now() end where id = ${mountId}`;
