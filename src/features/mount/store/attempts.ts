import type { Client } from '#app/database/pool';
import type { AttemptOutcome, StepStates } from '#features/mount/model/attempt';
import type { WorkKind } from '#features/mount/model/work';
import type { SpecimenKind } from '#features/shelf/model/materials';
import type { CoolerSheet, MaterialSheet, RigSheet } from '#features/shelf/model/sheets';
import type { TeardownStep } from '#features/shelf/model/teardown';

export interface AttemptRow {
  id: number;
  mount_id: number;
  number: number;
  begun_at: Date;
  ended_at: Date | null;
  outcome: AttemptOutcome | null;
  reason: string;
  who: string;
  steps: StepStates;
  /** what is done to the machine itself in this try */
  work: WorkKind[];
}

/** A mount with what its steps depend on. */
export interface MountSettingRow {
  id: number;
  number: number;
  study_id: number;
  study: string;
  specimen_id: number;
  specimen: string;
  kind: SpecimenKind;
  position: number;
  material: { name: string; sheet: MaterialSheet } | null;
  rig: string;
  rig_id: number;
  rig_sheet: RigSheet;
  teardown: TeardownStep[];
  cooler: { name: string; sheet: CoolerSheet } | null;
  excluded_reason: string | null;
  runs: number;
}

const SETTING = `select m.id, m.number, sp.study_id, st.title as study, sp.id as specimen_id, sp.name as specimen, sp.kind, sp.position,
            case when ma.id is not null then jsonb_build_object('name', ma.name, 'sheet', ma.sheet) end as material,
            g.name as rig, g.id as rig_id, g.sheet as rig_sheet, g.teardown,
            case when c.id is not null then jsonb_build_object('name', c.name, 'sheet', c.sheet) end as cooler,
            m.excluded_reason, (select count(*) from runs where mount_id = m.id) as runs
     from mounts m join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id join rigs g on g.id = m.rig_id
     left join materials ma on ma.id = sp.material_id
     left join coolers c on c.id = coalesce(sp.cooler_id, (g.sheet ->> 'cooler_id')::bigint)`;

export async function getMountSetting(db: Client, id: number): Promise<MountSettingRow | null> {
  const { rows } = await db.query<MountSettingRow>(`${SETTING} where m.id = $1`, [id]);
  return rows[0] ?? null;
}

/** All mounts of a study. */
export async function listMountSettings(db: Client, studyId: number): Promise<MountSettingRow[]> {
  const { rows } = await db.query<MountSettingRow>(`${SETTING} where sp.study_id = $1 order by sp.position, m.number`, [studyId]);
  return rows;
}

/** The last try of each mount of a study. */
export async function listLastAttempts(db: Client, studyId: number): Promise<AttemptRow[]> {
  const { rows } = await db.query<AttemptRow>(
    `select distinct on (a.mount_id) a.* from mount_attempts a join mounts m on m.id = a.mount_id join specimens s on s.id = m.specimen_id
     where s.study_id = $1 order by a.mount_id, a.number desc`,
    [studyId],
  );
  return rows;
}

export async function listAttempts(db: Client, mountId: number): Promise<AttemptRow[]> {
  const { rows } = await db.query<AttemptRow>('select * from mount_attempts where mount_id = $1 order by number', [mountId]);
  return rows;
}

/** Begins the next try of a mount; nothing where one is under way. */
export async function insertAttempt(db: Client, mountId: number, who: string): Promise<void> {
  await db.query('select from mounts where id = $1 for update', [mountId]);
  await db.query(
    `insert into mount_attempts (mount_id, number, who)
     select $1, coalesce(max(number) + 1, 1), $2 from mount_attempts where mount_id = $1
     having count(*) filter (where outcome is null) = 0`,
    [mountId, who],
  );
}

/** The try that is under way, held until the transaction ends. */
export async function lockOpenAttempt(db: Client, mountId: number): Promise<AttemptRow | null> {
  const { rows } = await db.query<AttemptRow>('select * from mount_attempts where mount_id = $1 and outcome is null for update', [mountId]);
  return rows[0] ?? null;
}

export async function saveAttempt(db: Client, a: AttemptRow): Promise<void> {
  await db.query('update mount_attempts set steps = $2, who = $3, outcome = $4, reason = $5, ended_at = $6, work = $7 where id = $1', [
    a.id,
    a.steps,
    a.who,
    a.outcome,
    a.reason,
    a.ended_at,
    a.work,
  ]);
}

/** What the grid of a study's mounts shows of each. */
export interface GridRow {
  id: number;
  specimen_id: number;
  number: number;
  rig: string;
  excluded_reason: string | null;
  runs: number;
  /** mean of its valid runs, K */
  rise_k: number | null;
  throttled: boolean;
  /** faults that were reported later */
  faults: number;
  /** findings of its runs that ask for a look */
  findings: number;
  failed: number;
  /** true where a try is under way */
  open: boolean;
  attempts: number;
}

export async function listGrid(db: Client, studyId: number): Promise<GridRow[]> {
  const { rows } = await db.query<GridRow>(
    `select m.id, m.specimen_id, m.number, g.name as rig, m.excluded_reason,
            count(r.id) as runs, (select count(*) from mount_faults mf where mf.mount_id = m.id) as faults, avg(r.rise_k) filter (where r.valid and r.judged <> 'excluded') as rise_k, coalesce(bool_or(r.censored), false) as throttled,
            (select count(*) from findings f join runs fr on fr.id = f.run_id where fr.mount_id = m.id and f.severity in ('warn', 'reject')) as findings,
            (select count(*) from mount_attempts a where a.mount_id = m.id and a.outcome not in ('ready')) as failed,
            exists (select from mount_attempts a where a.mount_id = m.id and a.outcome is null) as open,
            (select count(*) from mount_attempts a where a.mount_id = m.id) as attempts
     from mounts m join specimens sp on sp.id = m.specimen_id join rigs g on g.id = m.rig_id left join runs r on r.mount_id = m.id
     where sp.study_id = $1 group by m.id, g.name order by m.specimen_id, m.number`,
    [studyId],
  );
  return rows;
}

/** Leaves a mount out of the comparisons, or takes it in again where the reason is null. */
export async function setMountExcluded(db: Client, mountId: number, reason: string | null, who: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update mounts set excluded_reason = $2, excluded_by = $3, excluded_at = case when $2::text is null then null else now() end where id = $1',
    [mountId, reason, who],
  );
  return rowCount === 1;
}
