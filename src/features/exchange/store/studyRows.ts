import type { Client } from '#app/database/pool';
import { many } from '#app/database/query';
import type { PackageRow } from '#features/exchange/model/packageTable';
import type { PackagedRun, PackagedSheet, StudyDocument } from '#features/exchange/model/studyDocument';

type Rows = Promise<PackageRow[]>;

/** Rows of the table `specimens`. */
export const specimenRows = (db: Client, study: number): Rows => many<PackageRow>(db)`
  select s.id, s.position, s.name, s.kind, m.name as material, c.name as cooler, s.id = st.reference_id is true as reference
  from specimens s join studies st on st.id = s.study_id left join materials m on m.id = s.material_id left join coolers c on c.id = s.cooler_id
  where s.study_id = ${study} order by s.position, s.id`;

/** Rows of the table `mounts`. */
export const mountRows = (db: Client, study: number): Rows => many<PackageRow>(db)`
  select m.id, m.specimen_id, m.number, r.name as rig, m.created_at, m.note, m.excluded_reason, m.excluded_by, m.excluded_at, m.failed_cause
  from mounts m join specimens s on s.id = m.specimen_id join rigs r on r.id = m.rig_id
  where s.study_id = ${study} order by s.position, m.number, m.id`;

/** Rows of the table `tries`. */
export const tryRows = (db: Client, study: number): Rows => many<PackageRow>(db)`
  select a.id, a.mount_id, a.number, a.begun_at, a.ended_at, a.outcome, a.reason, a.cause, a.who
  from mount_attempts a join placed_mounts p using (mount_id) where p.study_id = ${study} order by p.specimen_position, p.mount, a.number`;

/** Rows of the table `findings`. */
export const findingRows = (db: Client, study: number): Rows => many<PackageRow>(db)`
  select f.run_id, (row_number() over (partition by f.run_id order by f.id))::int as number, f.code, f.severity, f.message
  from findings f join runs r on r.id = f.run_id join placed_mounts p using (mount_id)
  where p.study_id = ${study} order by p.specimen_position, p.mount, r.number, f.id`;

/** Rows of the table `decisions`: the journal of the study's runs, mounts and reports. */
export const decisionRows = (db: Client, study: number): Rows => many<PackageRow>(db)`
  select c.id, c.at, c.who, c.subject, c.subject_id, c.action, c.reason, c.before::text as before, c.after::text as after
  from changes c
  where (c.subject = 'run' and c.subject_id in (select r.id from runs r join placed_mounts p using (mount_id) where p.study_id = ${study}))
     or (c.subject = 'mount' and c.subject_id in (select mount_id from placed_mounts where study_id = ${study}))
     or (c.subject = 'report' and c.subject_id in (select id from reports where study_id = ${study}))
  order by c.id`;

/** A photograph of a study, without its bytes. */
export interface PhotographRow {
  id: number;
  mount_id: number | null;
  rig: string | null;
  taken_at: Date;
  who: string;
  caption: string;
  width: number;
  height: number;
  bytes: number;
  sha256: string;
}

/** Photographs of the mounts of a study. */
export const photographRows = (db: Client, study: number) => many<PhotographRow>(db)`
  select h.id, h.mount_id, null::text as rig, h.taken_at, h.who, h.caption, h.width, h.height, length(h.jpeg) as bytes, encode(h.sha256, 'hex') as sha256
  from photographs h join placed_mounts p using (mount_id)
  where p.study_id = ${study} and h.removed_at is null order by p.specimen_position, p.mount, h.id`;

/** How the runs of a study were read, in the order of its mounts. */
export const packagedRuns = (db: Client, study: number) => many<PackagedRun>(db)`
  select r.id, r.reading, r.options, coalesce(r.result -> 'clock_offset_s', '{}') as clock_offset_s, r.typed, r.automatic, f.figures as program
  from runs r join placed_mounts p using (mount_id)
  left join lateral (select figures from run_results where run_id = r.id and comparable order by added_at desc limit 1) f on true
  where p.study_id = ${study} order by p.specimen_position, p.mount, r.number`;

/** Plans of the specimens of a study. */
export const specimenPlans = (db: Client, study: number) => many<StudyDocument['specimens'][number]>(db)`
  select id, plan from specimens where study_id = ${study} order by position, id`;

/** Records of the tries of a study. */
export const tryRecords = (db: Client, study: number) => many<StudyDocument['tries'][number]>(db)`
  select a.id, a.steps, a.work from mount_attempts a join placed_mounts p using (mount_id)
  where p.study_id = ${study} order by p.specimen_position, p.mount, a.number`;

/** Rigs that the mounts of a study were made on. */
export const packagedRigs = (db: Client, study: number) => many<StudyDocument['shelf']['rigs'][number]>(db)`
  select id, name, sheet, version, parts, teardown from rigs
  where id in (select rig_id from placed_mounts where study_id = ${study}) order by id`;

/** Instruments that those rigs name. */
export const packagedInstruments = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from instruments
  where id in (select jsonb_array_elements(r.sheet -> 'instruments')::bigint from rigs r
    where r.id in (select rig_id from placed_mounts where study_id = ${study}) and jsonb_typeof(r.sheet -> 'instruments') = 'array') order by id`;

/** Materials that the specimens of a study name. */
export const packagedMaterials = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from materials where id in (select material_id from specimens where study_id = ${study}) order by id`;

/** Coolers that the specimens of a study name. */
export const packagedCoolers = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from coolers where id in (select cooler_id from specimens where study_id = ${study}) order by id`;

/** A file of a run, without its bytes. */
export interface RunFileRow {
  run_id: number;
  position: number;
  kind: 'log' | 'results';
  name: string;
  file_id: number;
  sha256: Buffer;
  size: number;
}

/** Files of the runs of a study: their logs in order, then results that programs wrote. */
export const runFileRows = (db: Client, study: number) => many<RunFileRow>(db)`
  select r.id as run_id, (row_number() over (partition by r.id order by x.kind, x.position, x.added_at, x.name) - 1)::int as position, x.kind, x.name,
    f.id as file_id, f.sha256, (select coalesce(sum(length(bytes)), 0) from log_file_pieces where file_id = f.id)::bigint as size
  from runs r join placed_mounts p using (mount_id) cross join lateral (
    select 'log' as kind, position, null::timestamptz as added_at, name, sha256 from run_files where run_id = r.id
    union all select 'results', 0, added_at, name, sha256 from run_results where run_id = r.id) x
  join log_files f on f.sha256 = x.sha256
  where p.study_id = ${study} order by p.specimen_position, p.mount, r.number, 2`;
