import type { Client } from '#app/database/pool';
import type { Finding } from '#core/compare/types';
import type { FanFigures, Performance, ReducedSensor, Reduction, StartState, TimeTo } from '#core/signal/reduce/types';
import { calendarDay } from '#core/units/calendarDay';

/** What of a reading is kept beside a judgement. */
export interface ReadingFigures {
  window: { start_s: number; end_s: number } | null;
  rise_k: number | null;
  se_k: number | null;
  valid: boolean;
  censored: boolean;
}

export type StoredResult = Omit<Reduction, 'findings'>;

interface RunRow {
  id: number;
  mount_id: number;
  number: number;
  started_at: Date | null;
  started_zoned: boolean;
  load: string | null;
  reading: unknown;
  options: unknown;
  result: StoredResult;
  rise_k: number | null;
  se_k: number | null;
  r_k_per_w: number | null;
  valid: boolean;
  r_valid: boolean;
  censored: boolean;
  created_at: Date;
  judged: 'open' | 'accepted' | 'excluded';
  /** why it is excluded; a mount's own reason stands apart */
  run_excluded_reason: string | null;
  /** the automatic reading, where the window was set by hand */
  automatic: ReadingFigures | null;
  /** what was typed, where it was read from a display */
  typed: TypedWords | null;
}

/** What was read from a display, as it was typed. */
interface TypedWords {
  texts: Record<string, string | undefined> | object;
  throttled: string;
}

/** A run with the mount, specimen and study it belongs to. */
export interface PlacedRun extends RunRow {
  mount: number;
  excluded_reason: string | null;
  rig: string;
  specimen_id: number;
  specimen: string;
  specimen_position: number;
  kind: string;
  study_id: number;
  study: string;
  files: string[];
}

const PLACED = `
  select r.*, r.excluded_reason as run_excluded_reason, m.number as mount, m.excluded_reason, g.name as rig,
         sp.id as specimen_id, sp.name as specimen, sp.position as specimen_position, sp.kind,
         st.id as study_id, st.title as study,
         array(select f.name from run_files f where f.run_id = r.id order by f.position) as files
  from runs r
  join mounts m on m.id = r.mount_id
  join rigs g on g.id = m.rig_id
  join specimens sp on sp.id = m.specimen_id
  join studies st on st.id = sp.study_id`;

export async function getRun(db: Client, id: number): Promise<PlacedRun | null> {
  const { rows } = await db.query<PlacedRun>(`${PLACED} where r.id = $1`, [id]);
  return rows[0] ?? null;
}

/** Holds an import's id until the transaction ends, so that two of the same id follow each other. */
export async function lockImport(db: Client, importId: string): Promise<void> {
  await db.query('select pg_advisory_xact_lock(hashtextextended($1, 0))', [importId]);
}

export async function getRunByImport(db: Client, importId: string): Promise<PlacedRun | null> {
  const { rows } = await db.query<PlacedRun>(`${PLACED} where r.import_id = $1`, [importId]);
  return rows[0] ?? null;
}

export async function listRuns(db: Client, studyId: number): Promise<PlacedRun[]> {
  const { rows } = await db.query<PlacedRun>(`${PLACED} where st.id = $1 order by sp.position, m.number, r.number`, [studyId]);
  return rows;
}

/** The run that already rests on a file, if any. */
export async function findRunByFile(db: Client, sha256: Buffer): Promise<PlacedRun | null> {
  const { rows } = await db.query<PlacedRun>(`${PLACED} where r.id = (select run_id from run_files where sha256 = $1 and position = 0)`, [
    sha256,
  ]);
  return rows[0] ?? null;
}

/** Start state of the first run of every mount, by mount. */
export async function listFirstStarts(db: Client): Promise<Map<number, StartState>> {
  const { rows } = await db.query<{ mount_id: number; start: StartState }>(
    `select mount_id, result -> 'start_state' as start from runs where number = 1`,
  );
  return new Map(rows.map((r) => [r.mount_id, r.start]));
}

/** Levels at which the reference specimen of a study was run under one load. */
export interface ReferenceLevels {
  study_id: number;
  load: string | null;
  power_w: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
}

/** Power, fan and clock at which the valid runs of each study's reference specimen were made, load by load: loads are never averaged. */
export async function listReferenceLevels(db: Client, studyId?: number): Promise<ReferenceLevels[]> {
  const level = (name: string) => `percentile_cont(0.5) within group (order by (r.result ->> '${name}')::double precision)`;
  const { rows } = await db.query<ReferenceLevels>(
    `select st.id as study_id, r.load, ${level('power_w')} as power_w, ${level('fan_rpm')} as fan_rpm, ${level('clock_mhz')} as clock_mhz
     from studies st join mounts m on m.specimen_id = st.reference_id join runs r on r.mount_id = m.id
     where r.valid and r.judged <> 'excluded' and m.excluded_reason is null and ($1::bigint is null or st.id = $1)
     group by st.id, r.load`,
    [studyId ?? null],
  );
  return rows;
}

/** What a comparison needs of a run: where it stands, whether it counts, and its figures. */
export interface RunValueRow {
  study_id: number;
  specimen: string;
  mount: number;
  mount_id: number;
  rig: string;
  run: number;
  run_id: number;
  /** bench day, as 2026-06-04: by the log's clock, or where that names a zone by this machine's; null where the log does not tell it */
  day: string | null;
  /** when it began, seconds since 1970 */
  at_s: number | null;
  /** false where its clock named no zone: its times are those of the clock at the bench */
  at_zoned: boolean;
  load: string | null;
  rise_k: number | null;
  r_k_per_w: number | null;
  valid: boolean;
  r_valid: boolean;
  censored: boolean;
  excluded_reason: string | null;
  run_excluded_reason: string | null;
  idle_rise_k: number | null;
  spread_k: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
  noise_db: number | null;
  power_w: number | null;
  throttled_share: number | null;
  exhaust_rise_k: number | null;
  performance: Partial<Performance> | null;
  times_to: TimeTo[] | null;
  sensors: ReducedSensor[] | null;
  fan: FanFigures | null;
  /** findings that wait for a person */
  decision: string[] | null;
  /** of the program's own results files that are comparable, the newest */
  program: Partial<Performance> | null;
}

/** What a comparison needs of every run, of one study or of all. */
export async function listRunValues(db: Client, studyId?: number): Promise<RunValueRow[]> {
  const { rows } = await db.query<Omit<RunValueRow, 'day'>>(
    `select sp.study_id, sp.name as specimen, m.number as mount, m.id as mount_id, g.name as rig, r.number as run, r.id as run_id,
            extract(epoch from r.started_at)::float8 as at_s, r.started_zoned as at_zoned, r.load,
            r.rise_k, r.r_k_per_w, r.valid, r.r_valid, r.censored, m.excluded_reason, r.excluded_reason as run_excluded_reason, x.*, p.figures as program
     from runs r join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id join rigs g on g.id = m.rig_id
     cross join lateral jsonb_to_record(r.result) as x(idle_rise_k float8, spread_k float8, fan_rpm float8, clock_mhz float8, noise_db float8,
       power_w float8, throttled_share float8, exhaust_rise_k float8, performance jsonb, times_to jsonb, sensors jsonb, fan jsonb, decision jsonb)
     left join lateral (select figures from run_results where run_id = r.id and comparable order by added_at desc limit 1) p on true
     where $1::bigint is null or sp.study_id = $1
     order by sp.study_id, sp.position, m.number, r.number`,
    [studyId ?? null],
  );
  return rows.map((r) => ({ ...r, day: r.at_s === null ? null : calendarDay(r.at_s, r.at_zoned) }));
}

/** A run with the files it was read from, as what reads them anew needs it. */
interface LoggedRunRow {
  run_id: number;
  study: string;
  specimen: string;
  mount: number;
  run: number;
  reading: unknown;
  files: string[];
  period_s: number | null;
}

/** Runs with logs, those with the most readings a second first, then the newest; up to 300. */
export async function listLoggedRuns(db: Client): Promise<LoggedRunRow[]> {
  const { rows } = await db.query<LoggedRunRow>(
    `select r.id as run_id, st.title as study, sp.name as specimen, m.number as mount, r.number as run, r.reading,
            (r.result ->> 'period_s')::float8 as period_s, array(select f.name from run_files f where f.run_id = r.id order by f.position) as files
     from runs r join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id
     where exists (select from run_files f where f.run_id = r.id)
     order by round((r.result ->> 'period_s')::numeric, 1), r.started_at desc nulls last, r.id desc limit 300`,
  );
  return rows;
}

export async function hasRuns(db: Client, studyId: number): Promise<boolean> {
  const { rowCount } = await db.query(
    'select from runs r join mounts m on m.id = r.mount_id join specimens s on s.id = m.specimen_id where s.study_id = $1 limit 1',
    [studyId],
  );
  return rowCount === 1;
}

/** Says under which of its study's loads a run was made. */
export async function setLoad(db: Client, runId: number, load: string | null): Promise<void> {
  await db.query('update runs set load = $2 where id = $1', [runId, load]);
}

/** Numbers a run that is about to be stored: its trace comes before it. */
export async function reserveRun(db: Client): Promise<number> {
  const { rows } = await db.query<{ id: number }>(`select nextval(pg_get_serial_sequence('runs', 'id'))::bigint as id`);
  return rows[0].id;
}

interface NewRun {
  id: number;
  import_id: string;
  mount_id: number;
  started_at: Date | null;
  started_zoned: boolean;
  load: string | null;
  reading: unknown;
  options: unknown;
  result: StoredResult;
}

export async function insertRun(db: Client, run: NewRun): Promise<{ id: number; number: number }> {
  const { result: r } = run;
  await db.query('select from mounts where id = $1 for update', [run.mount_id]);
  const { rows } = await db.query<{ id: number; number: number }>(
    `insert into runs (id, import_id, mount_id, number, started_at, started_zoned, reading, options, result, rise_k, se_k, r_k_per_w, valid, r_valid, censored, load)
     overriding system value
     select $14, $1, $2, coalesce(max(number) + 1, 1), $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $15 from runs where mount_id = $2
     returning id, number`,
    [
      run.import_id,
      run.mount_id,
      run.started_at,
      run.started_zoned,
      run.reading,
      run.options,
      r,
      r.rise_k,
      r.se_k,
      r.r_k_per_w,
      r.valid,
      r.r_valid,
      r.censored,
      run.id,
      run.load,
    ],
  );
  return rows[0];
}

/** Keeps what was typed for a run, as it was typed. */
export async function setTyped(db: Client, runId: number, typed: TypedWords): Promise<void> {
  await db.query('update runs set typed = $2 where id = $1', [runId, typed]);
}

export async function insertFindings(db: Client, runId: number, findings: Finding[]): Promise<void> {
  if (findings.length === 0) return;
  await db.query(
    `insert into findings (run_id, code, severity, message, numbers)
     select $1, f.code, f.severity, f.message, f.numbers
     from jsonb_to_recordset($2::jsonb) as f(code text, severity text, message text, numbers jsonb)`,
    [runId, JSON.stringify(findings)],
  );
}

export async function listFindings(db: Client, runId: number): Promise<Finding[]> {
  const { rows } = await db.query<Finding>('select code, severity, message, numbers from findings where run_id = $1 order by id', [runId]);
  return rows;
}

/** A run with findings that ask for a look: the gravest in full, the others by code. */
export interface WaitingRun {
  run_id: number;
  run: number;
  mount: number;
  specimen: string;
  specimen_position: number;
  study: string;
  codes: string[];
  message: string;
  /** a finding of it needs a decision, and it stays out of means until then */
  decide: boolean;
}

/** Runs with findings that ask for a look: those that need a decision first, then the gravest and newest. */
export async function listWaitingRuns(db: Client, most: number): Promise<{ runs: WaitingRun[]; total: number }> {
  const { rows } = await db.query<WaitingRun & { total: number }>(
    `select r.id as run_id, r.number as run, m.number as mount, sp.name as specimen, sp.position as specimen_position, st.title as study,
            f.codes, f.message, f.decide, count(*) over () as total
     from runs r join mounts m on m.id = r.mount_id
     join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id
     cross join lateral (
       select array_agg(code order by severity = 'decide' desc, severity = 'reject' desc, id) as codes,
              (array_agg(message order by severity = 'decide' desc, severity = 'reject' desc, id))[1] as message,
              bool_or(severity = 'reject') as grave, bool_or(severity = 'decide') as decide
       from findings where run_id = r.id and severity in ('warn', 'decide', 'reject')
     ) f
     where f.codes is not null and m.excluded_reason is null and r.judged <> 'excluded' and (f.decide or r.judged = 'open')
     order by f.decide desc, f.grave desc, r.id desc limit $1`,
    [most],
  );
  return { runs: rows, total: rows[0]?.total ?? 0 };
}

/** Findings of a study's runs that a report lists, in the order of the runs. */
export async function listStudyFindings(
  db: Client,
  studyId: number,
): Promise<{ specimen: string; mount: number; run: number; code: string; severity: string; message: string }[]> {
  const { rows } = await db.query(
    `select sp.name as specimen, m.number as mount, r.number as run, f.code, f.severity, f.message
     from findings f join runs r on r.id = f.run_id join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id
     where sp.study_id = $1 order by sp.position, m.number, r.number, f.id`,
    [studyId],
  );
  return rows;
}

/** What a person left out of a study: whole mounts, and single runs, each with its reason. */
export async function listLeftOut(
  db: Client,
  studyId: number,
): Promise<{ specimen: string; mount: number; run: number | null; reason: string; who: string; at: Date | null }[]> {
  const { rows } = await db.query(
    `select sp.name as specimen, m.number as mount, null::int as run, m.excluded_reason as reason, m.excluded_by as who, m.excluded_at as at, sp.position
     from mounts m join specimens sp on sp.id = m.specimen_id where sp.study_id = $1 and m.excluded_reason is not null
     union all
     select sp.name, m.number, r.number, r.excluded_reason, coalesce(j.who, ''), j.at, sp.position
     from runs r join mounts m on m.id = r.mount_id join specimens sp on sp.id = m.specimen_id
     left join lateral (select who, at from changes where subject = 'run' and subject_id = r.id and action = 'exclude' order by id desc limit 1) j on true
     where sp.study_id = $1 and r.excluded_reason is not null
     order by 7, 2, 3 nulls first`,
    [studyId],
  );
  return rows.map(({ specimen, mount, run, reason, who, at }) => ({ specimen, mount, run, reason, who, at }));
}
