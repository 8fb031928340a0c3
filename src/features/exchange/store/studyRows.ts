import type { Client } from '#app/database/pool';
import { many, only, sql } from '#app/database/query';
import type { PackagedRun, PackagedSheet, StudyDocument } from '#features/exchange/model/studyDocument';

/** Rows of the table `specimens`. */
export const specimenRows = (db: Client, study: number) => many<{
  id: number;
  position: number;
  name: string;
  kind: string;
  material: string | null;
  cooler: string | null;
  reference: boolean;
}>(db)`
  select s.id, s.position, s.name, s.kind, m.name as material, c.name as cooler, s.id = st.reference_id is true as reference
  from specimens s join studies st on st.id = s.study_id left join materials m on m.id = s.material_id left join coolers c on c.id = s.cooler_id
  where s.study_id = ${study} order by s.position, s.id`;

/** Rows of the table `mounts`. */
export const mountRows = (db: Client, study: number) => many<{
  id: number;
  specimen_id: number;
  number: number;
  rig: string;
  created_at: Date;
  note: string;
  excluded_reason: string | null;
  excluded_by: string;
  excluded_at: Date | null;
  failed_cause: string | null;
}>(db)`
  select m.id, m.specimen_id, m.number, r.name as rig, m.created_at, m.note, m.excluded_reason, m.excluded_by, m.excluded_at, m.failed_cause
  from mounts m join specimens s on s.id = m.specimen_id join rigs r on r.id = m.rig_id
  where s.study_id = ${study} order by s.position, m.number, m.id`;

/** Rows of the table `tries`. */
export const tryRows = (db: Client, study: number) => many<{
  id: number;
  mount_id: number;
  number: number;
  begun_at: Date;
  ended_at: Date | null;
  outcome: string | null;
  reason: string;
  cause: string | null;
  who: string;
}>(db)`
  select a.id, a.mount_id, a.number, a.begun_at, a.ended_at, a.outcome, a.reason, a.cause, a.who
  from mount_attempts a join placed_mounts p using (mount_id) where p.study_id = ${study} order by p.specimen_position, p.mount, a.number`;

/** Rows of the table `schedule`. */
export const scheduleRows = (db: Client, study: number) => many<{
  id: number;
  specimen_id: number;
  number: number;
  rig: string;
  day: number;
  position: number;
  extra: boolean;
  state: string;
  reason: string;
}>(db)`
  select p.id, p.specimen_id, p.number, r.name as rig, p.day, p.position, p.extra, p.state, p.reason
  from planned_mounts p join rigs r on r.id = p.rig_id where p.study_id = ${study} order by p.day, p.position, p.id`;

/** Rows of the table `openings`. */
export const openingRows = (db: Client, study: number) => many<{
  id: number;
  mount_id: number;
  found: string;
  note: string;
  who: string;
  opened_at: Date;
}>(db)`
  select o.id, o.mount_id, array_to_string(o.found, ' ') as found, o.note, o.who, o.opened_at
  from mount_openings o join placed_mounts p using (mount_id) where p.study_id = ${study} and o.removed_at is null order by o.id`;

/** Rows of the table `faults`. */
export const faultRows = (db: Client, study: number) => many<{
  id: number;
  mount_id: number;
  kind: string;
  note: string;
  who: string;
  reported_at: Date;
  inspected_at: Date | null;
  moved_at: Date | null;
}>(db)`
  select f.id, f.mount_id, f.kind, f.note, f.who, f.reported_at, f.inspected_at, f.moved_at
  from mount_faults f join placed_mounts p using (mount_id) where p.study_id = ${study} order by f.id`;

/** Rows of the table `notes`. */
export const noteRows = (db: Client, study: number) => many<{
  id: number;
  run_id: number;
  at_s: number;
  text: string;
  who: string;
  created_at: Date;
}>(db)`
  select n.id, n.run_id, n.at_s, n.text, n.who, n.created_at
  from run_notes n join runs r on r.id = n.run_id join placed_mounts p using (mount_id) where p.study_id = ${study} order by n.id`;

/** Rows of the table `recommendations`. */
export const recommendationRows = (db: Client, study: number) => many<{
  id: number;
  position: number;
  reader: string;
  words: string;
  rests_on: string;
  saved_at: Date;
}>(db)`
  select id, position, reader, words, rests_on::text as rests_on, saved_at from recommendations where study_id = ${study} order by position, id`;

/** A sound clip of a study, without its bytes. */
export interface ClipRow {
  id: number;
  specimen_id: number;
  name: string;
  kind: string;
  rpm: number | null;
  level_db: number | null;
  note: string;
  added_at: Date;
  sha256: string;
}

/** Sound clips of the specimens of a study. */
export const clipRows = (db: Client, study: number) => many<ClipRow>(db)`
  select c.id, c.specimen_id, c.name, c.kind, c.rpm, c.level_db, c.note, c.added_at, encode(c.sha256, 'hex') as sha256
  from sound_clips c join specimens s on s.id = c.specimen_id where s.study_id = ${study} and c.removed_at is null order by s.position, c.id`;

/** Rows of the table `findings`. */
export const findingRows = (db: Client, study: number) => many<{
  run_id: number;
  number: number;
  code: string;
  severity: string;
  message: string;
}>(db)`
  select f.run_id, (row_number() over (partition by f.run_id order by f.id))::int as number, f.code, f.severity, f.message
  from findings f join runs r on r.id = f.run_id join placed_mounts p using (mount_id)
  where p.study_id = ${study} order by p.specimen_position, p.mount, r.number, f.id`;

/** Rows of the table `decisions`: the journal of the study's runs, mounts and reports. */
export const decisionRows = (db: Client, study: number) => many<{
  id: number;
  at: Date;
  who: string;
  subject: string;
  subject_id: number;
  action: string;
  reason: string;
  before: string | null;
  after: string | null;
  undoes: number | null;
}>(db)`
  select c.id, c.at, c.who, c.subject, c.subject_id, c.action, c.reason, c.before::text as before, c.after::text as after, c.undoes
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
  face: string | null;
  width: number;
  height: number;
  sha256: string;
}

/** Photographs of the mounts of a study, and of the rigs they were made on. */
export const photographRows = (db: Client, study: number) => many<PhotographRow>(db)`
  select h.id, h.mount_id, g.name as rig, h.taken_at, h.who, h.caption, h.face, h.width, h.height, encode(h.sha256, 'hex') as sha256
  from photographs h left join rigs g on g.id = h.rig_id
  where h.removed_at is null and (h.mount_id in (select mount_id from placed_mounts where study_id = ${study})
    or h.rig_id in (${rigsOf(study)})) order by h.id`;

/** How the prints in the photographs of a study's mounts were read, and what they show. */
export const packagedPrints = (db: Client, study: number) => many<StudyDocument['prints'][number]>(db)`
  select h.id as photograph_id, h.reading, h.figures from photographs h join placed_mounts p using (mount_id)
  where p.study_id = ${study} and h.removed_at is null and h.face is not null order by h.id`;

/** What of a study is in no other place: how often its plan was changed, and at which change each part of it. */
export const planState = (db: Client, study: number) => only<Pick<StudyDocument['study'], 'plan_version' | 'plan_stamps' | 'archived_at'>>(
  db,
)`
  select plan_version, plan_stamps, to_char(archived_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as archived_at from studies where id = ${study}`;

/** How the runs of a study were read, in the order of its mounts. */
export const packagedRuns = (db: Client, study: number) => many<PackagedRun>(db)`
  select r.id, r.import_id, r.reading, r.options, coalesce(r.result -> 'clock_offset_s', '{}') as clock_offset_s, r.typed, r.automatic, f.figures as program,
    coalesce((select jsonb_agg(jsonb_build_object('sha256', encode(x.sha256, 'hex'), 'comparable', x.comparable,
        'added_at', to_char(x.added_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"')) order by x.added_at, x.name)
      from run_results x where x.run_id = r.id), '[]') as results
  from runs r join placed_mounts p using (mount_id)
  left join lateral (select figures from run_results where run_id = r.id and comparable order by added_at desc limit 1) f on true
  where p.study_id = ${study} order by p.specimen_position, p.mount, r.number`;

/** Plans of the specimens of a study. */
export const specimenPlans = (db: Client, study: number) => many<StudyDocument['specimens'][number]>(db)`
  select id, material_id, cooler_id, plan from specimens where study_id = ${study} order by position, id`;

/** Records of the tries of a study. */
export const tryRecords = (db: Client, study: number) => many<StudyDocument['tries'][number]>(db)`
  select a.id, a.steps, a.work from mount_attempts a join placed_mounts p using (mount_id)
  where p.study_id = ${study} order by p.specimen_position, p.mount, a.number`;

/** Rigs that a study measures on, or is to. */
const rigsOf = (study: number) => sql`
  select rig_id from placed_mounts where study_id = ${study}
  union select rig_id from planned_mounts where study_id = ${study}
  union select (jsonb_array_elements(plan -> 'rigs'))::bigint from studies where id = ${study} and jsonb_typeof(plan -> 'rigs') = 'array'`;

/** Coolers that the specimens of a study are, or its rigs carry. */
const coolersOf = (study: number) => sql`
  select cooler_id from specimens where study_id = ${study} and cooler_id is not null
  union select (sheet ->> 'cooler_id')::bigint from rigs where id in (${rigsOf(study)}) and sheet ->> 'cooler_id' is not null`;

/** Rigs that a study measures on, or is to. */
export const packagedRigs = (db: Client, study: number) => many<StudyDocument['shelf']['rigs'][number]>(db)`
  select id, name, sheet, version, parts, teardown from rigs where id in (${rigsOf(study)}) order by id`;

/** Instruments that those rigs name. */
export const packagedInstruments = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from instruments
  where id in (select jsonb_array_elements(r.sheet -> 'instruments')::bigint from rigs r
    where r.id in (${rigsOf(study)}) and jsonb_typeof(r.sheet -> 'instruments') = 'array') order by id`;

/** Materials that the specimens of a study are, or that always lie on a part of its rigs. */
export const packagedMaterials = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from materials
  where id in (select material_id from specimens where study_id = ${study})
    or id in (select (e ->> 'material_id')::bigint from rigs r, jsonb_array_elements(r.parts) e where r.id in (${rigsOf(study)})) order by id`;

/** Coolers that the specimens of a study are, or its rigs carry. */
export const packagedCoolers = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from coolers where id in (${coolersOf(study)}) order by id`;

/** Fans of those coolers. */
export const packagedFans = (db: Client, study: number) => many<PackagedSheet>(db)`
  select id, name, sheet, version from fans
  where id in (select jsonb_array_elements(c.sheet -> 'fans')::bigint from coolers c
    where c.id in (${coolersOf(study)}) and jsonb_typeof(c.sheet -> 'fans') = 'array') order by id`;

/** Channels of the runs of a study whose readings are in the store, in their order; the rise is computed and no reading. */
export const channelRows = (db: Client, study: number) => many<{
  run_id: number;
  name: string;
  file: string;
  role: string;
  unit: string | null;
}>(db)`
  select c.run_id, c.name, c.file, c.role, c.unit from channels c join runs r on r.id = c.run_id join placed_mounts p using (mount_id)
  where p.study_id = ${study} and c.role <> 'rise' and not exists (select from run_samples s where s.run_id = c.run_id and s.state = 'dropped')
  order by p.specimen_position, p.mount, r.number, c.position`;

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
