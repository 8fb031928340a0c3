import type { Client } from '#app/database/pool';
import { execute, first, many } from '#app/database/query';
import type { PackageRow } from '#features/exchange/model/packageTable';
import type { StudyDocument } from '#features/exchange/model/studyDocument';

// What a package brings is written as it was: with its own moments, persons and numbers. Each list goes in at once; the store's rules hold.

const rowsOf = (rows: object[]): string => JSON.stringify(rows);

/** The study itself; its reference follows when its specimens are there. */
export const insertPackagedStudy = (db: Client, s: StudyDocument['study']) => execute(db)`
  insert into studies (id, title, question, margin_k, confidence, scatter, reduction, plan, created_at, archived_at, plan_version, plan_stamps)
  overriding system value values (${s.id}, ${s.title}, ${s.question}, ${s.margin_k}, ${s.confidence}, ${s.scatter}, ${s.reduction}, ${s.plan},
    ${s.created_at}, ${s.archived_at}, ${s.plan_version}, ${s.plan_stamps})`;

/** Says which specimen the others are compared with. */
export const setReference = (db: Client, studyId: number, specimenId: number) =>
  execute(db)`update studies set reference_id = ${specimenId} where id = ${studyId}`;

/** Specimens of a study. */
export const insertPackagedSpecimens = (db: Client, studyId: number, rows: PackageRow[]) => execute(db)`
  insert into specimens (id, study_id, name, kind, position, material_id, cooler_id, plan) overriding system value
  select id, ${studyId}, name, kind, position, material_id, cooler_id, plan from jsonb_to_recordset(${rowsOf(rows)}::jsonb)
    as x(id bigint, name text, kind text, position integer, material_id bigint, cooler_id bigint, plan jsonb)`;

/** Mounts of a study. */
export const insertPackagedMounts = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into mounts (id, specimen_id, rig_id, number, note, excluded_reason, created_at, excluded_by, excluded_at, failed_cause)
  overriding system value
  select id, specimen_id, rig_id, number, coalesce(note, ''), excluded_reason, created_at, coalesce(excluded_by, ''), excluded_at, failed_cause
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, specimen_id bigint, rig_id bigint, number integer, note text,
    excluded_reason text, created_at timestamptz, excluded_by text, excluded_at timestamptz, failed_cause text)`;

/** Tries to make the mounts, with the records of their steps. */
export const insertPackagedTries = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into mount_attempts (id, mount_id, number, begun_at, ended_at, outcome, reason, who, steps, work, cause) overriding system value
  select id, mount_id, number, begun_at, ended_at, outcome, coalesce(reason, ''), coalesce(who, ''), steps,
    array(select jsonb_array_elements_text(work)), cause
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, mount_id bigint, number integer, begun_at timestamptz,
    ended_at timestamptz, outcome text, reason text, who text, steps jsonb, work jsonb, cause text)`;

/** Mounts as they were planned. */
export const insertPackagedSchedule = (db: Client, studyId: number, rows: PackageRow[]) => execute(db)`
  insert into planned_mounts (id, study_id, specimen_id, rig_id, number, day, position, extra, state, reason) overriding system value
  select id, ${studyId}, specimen_id, rig_id, number, day, position, extra, state, coalesce(reason, '')
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, specimen_id bigint, rig_id bigint, number integer, day integer,
    position integer, extra boolean, state text, reason text)`;

/** What was found when mounts were opened. */
export const insertPackagedOpenings = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into mount_openings (id, mount_id, found, note, who, opened_at) overriding system value
  select id, mount_id, string_to_array(found, ' '), coalesce(note, ''), coalesce(who, ''), opened_at
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, mount_id bigint, found text, note text, who text, opened_at timestamptz)`;

/** Faults that came later. */
export const insertPackagedFaults = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into mount_faults (id, mount_id, kind, note, who, reported_at, inspected_at, moved_at) overriding system value
  select id, mount_id, kind, note, coalesce(who, ''), reported_at, inspected_at, moved_at
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, mount_id bigint, kind text, note text, who text, reported_at timestamptz,
    inspected_at timestamptz, moved_at timestamptz)`;

/** A run as it is about to be stored: what its files give, and what persons said of it. */
export interface PackagedRunRow {
  id: number;
  import_id: string;
  mount_id: number;
  number: number;
  started_at: string | null;
  started_zoned: boolean;
  bench_day: string | null;
  load: string | null;
  created_at: string;
  judged: string;
  excluded_reason: string | null;
  reading: object;
  options: object;
  result: object & {
    rise_k: number | null;
    se_k: number | null;
    r_k_per_w: number | null;
    valid: boolean;
    r_valid: boolean;
    censored: boolean;
  };
  automatic: object | null;
  typed: object | null;
}

/** A run; its files and findings follow. */
export const insertPackagedRun = (db: Client, r: PackagedRunRow) => execute(db)`
  insert into runs (id, import_id, mount_id, number, started_at, started_zoned, bench_day, load, created_at, judged, excluded_reason, reading,
    options, result, automatic, typed, rise_k, se_k, r_k_per_w, valid, r_valid, censored)
  overriding system value values (${r.id}, ${r.import_id}, ${r.mount_id}, ${r.number}, ${r.started_at}, ${r.started_zoned},
    ${r.bench_day}::text::date, ${r.load}, ${r.created_at}, ${r.judged}, ${r.excluded_reason}, ${r.reading}, ${r.options}, ${r.result},
    ${r.automatic}, ${r.typed}, ${r.result.rise_k}, ${r.result.se_k}, ${r.result.r_k_per_w}, ${r.result.valid}, ${r.result.r_valid},
    ${r.result.censored})`;

/** Says whether results of a program may be compared, and when they were added. */
export const tellResults = (db: Client, runId: number, sha256: Buffer, comparable: boolean, addedAt: string) =>
  execute(db)`update run_results set comparable = ${comparable}, added_at = ${addedAt} where run_id = ${runId} and sha256 = ${sha256}`;

/** Notes on the time of runs. */
export const insertPackagedNotes = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into run_notes (id, run_id, at_s, text, who, created_at) overriding system value
  select id, run_id, at_s, text, coalesce(who, ''), created_at
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, run_id bigint, at_s float8, text text, who text, created_at timestamptz)`;

/** Recommendations to readers. */
export const insertPackagedRecommendations = (db: Client, studyId: number, rows: PackageRow[]) => execute(db)`
  insert into recommendations (id, study_id, position, reader, words, rests_on, saved_at) overriding system value
  select id, ${studyId}, position, reader, words, coalesce(rests_on, '[]')::jsonb, saved_at
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb)
    as x(id bigint, position integer, reader text, words text, rests_on text, saved_at timestamptz)`;

/** A photograph with its bytes, and its print where it is one. */
export const insertPackagedPhotograph = (
  db: Client,
  p: PackageRow,
  picture: { jpeg: Buffer; view: Buffer | null; reading: object | null; figures: object | null },
) => execute(db)`
  insert into photographs (id, mount_id, rig_id, taken_at, who, caption, jpeg, width, height, face, reading, figures, view_jpeg)
  overriding system value values (${p.id}, ${p.mount_id}, ${p.rig_id}, ${p.taken_at}, ${p.who ?? ''}, ${p.caption ?? ''}, ${picture.jpeg},
    ${p.width}, ${p.height}, ${p.face}, ${picture.reading}, ${picture.figures}, ${picture.view})`;

/** A sound clip with its bytes. */
export const insertPackagedClip = (db: Client, c: PackageRow, bytes: Buffer) => execute(db)`
  insert into sound_clips (id, specimen_id, name, kind, rpm, level_db, note, bytes, added_at)
  overriding system value values (${c.id}, ${c.specimen_id}, ${c.name}, ${c.kind}, ${c.rpm}, ${c.level_db}, ${c.note ?? ''}, ${bytes},
    ${c.added_at})`;

/** A published version of the report, byte for byte. */
export const insertPackagedReport = (db: Client, studyId: number, r: PackageRow, content: string) => execute(db)`
  insert into reports (id, study_id, number, address, content, sha256, changes, who, author, frozen_at, withdrawn_at, withdrawn_by,
    withdrawn_reason)
  overriding system value values (${r.id}, ${studyId}, ${r.number}, ${r.address}, ${content}, ${r.sha256},
    coalesce(${r.changes}::text, '[]')::jsonb, ${r.who ?? ''}, ${r.author ?? ''}, ${r.frozen_at}, ${r.withdrawn_at}, ${r.withdrawn_by ?? ''},
    ${r.withdrawn_reason ?? ''})`;

/** Which of some addresses of reports are taken. */
export const takenAddresses = async (db: Client, addresses: string[]): Promise<string[]> =>
  (await many<{ address: string }>(db)`select address from reports where address = any(${addresses})`).map((r) => r.address);

/** What persons decided, in its order. */
export const insertPackagedDecisions = (db: Client, rows: PackageRow[]) => execute(db)`
  insert into changes (id, at, who, subject, subject_id, action, reason, before, after, undoes) overriding system value
  select id, at, coalesce(who, ''), subject, subject_id, action, coalesce(reason, ''), before::jsonb, after::jsonb, undoes
  from jsonb_to_recordset(${rowsOf(rows)}::jsonb) as x(id bigint, at timestamptz, who text, subject text, subject_id bigint, action text,
    reason text, before text, after text, undoes bigint) order by id`;

/** Numbers of mounts at which the verdicts had been seen. */
export const insertPackagedLooks = (db: Client, studyId: number, mounts: number[]) =>
  execute(db)`insert into verdicts_shown (study_id, mounts) select ${studyId}, unnest(${mounts}::int[]) on conflict do nothing`;

/** The first log of a package that is stored already, by its hash; null where none is. */
export const findKnownLog = async (db: Client, hashes: string[]): Promise<Buffer | null> =>
  (
    await first<{ sha256: Buffer }>(db)`
      select sha256 from run_files where position = 0 and encode(sha256, 'hex') = any(${hashes}) limit 1`
  )?.sha256 ?? null;

/** A run that is stored already under one of some imports; null where none is. */
export const findKnownImport = (db: Client, imports: string[]) =>
  first<{ id: number; binned: number | null }>(db)`select id, binned from all_runs where import_id::text = any(${imports}) limit 1`;
