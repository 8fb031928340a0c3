import type { Client } from '#app/database/pool';
import { execute, first, many, only, sql, touches } from '#app/database/query';
import type { Finding } from '#core/compare/types';
import type { FanFigures, Performance, ReducedSensor, Reduction, StartState, TimeTo } from '#core/signal/reduce/types';
import type { TriedStep } from '#core/stability/ladder';
import { calendarDay } from '#core/units/calendarDay';
import type { PlacedMount } from '#features/mount/store/placedMount';
import type { RigPart } from '#features/shelf/model/rigParts';

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
  /** by the calendar of the lab that measured it, where that is another; null: by this machine's */
  bench_day: string | null;
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

/** What was read from a display, as it was typed: the domain's TypedValues. */
interface TypedWords {
  texts: object;
  throttled?: string;
  parts?: { name: string; text?: string }[];
  events?: { event: string; time?: string; reached: boolean }[];
  note?: string;
}

/** A run with the mount, specimen and study it belongs to. */
export interface PlacedRun extends RunRow, PlacedMount {
  files: string[];
}

const PLACED = sql`
  select r.*, to_char(r.bench_day, 'YYYY-MM-DD') as bench_day, r.excluded_reason as run_excluded_reason, p.*,
         array(select f.name from run_files f where f.run_id = r.id order by f.position) as files
  from runs r join placed_mounts p using (mount_id)`;

/** A run with its place; null where there is none. */
export const getRun = (db: Client, id: number) => first<PlacedRun>(db)`${PLACED} where r.id = ${id}`;

/** Holds an import's id until the transaction ends, so that two of the same id follow each other. */
export const lockImport = (db: Client, importId: string) => execute(db)`select pg_advisory_xact_lock(hashtextextended(${importId}, 0))`;

/** The run that an import became; null where it became none. */
export const getRunByImport = (db: Client, importId: string) => first<PlacedRun>(db)`${PLACED} where r.import_id = ${importId}`;

/** The runs of a study by specimen, mount and number. */
export const listRuns = (db: Client, studyId: number) =>
  many<PlacedRun>(db)`${PLACED} where p.study_id = ${studyId} order by p.specimen_position, p.mount, r.number`;

/** The runs of a mount, in their order. */
export const listMountRuns = (db: Client, mountId: number) =>
  many<PlacedRun>(db)`${PLACED} where p.mount_id = ${mountId} order by r.number`;

/** The run that already rests on a file, if any. */
export const findRunByFile = (db: Client, sha256: Buffer) =>
  first<PlacedRun>(db)`${PLACED} where r.id = (select run_id from run_files where sha256 = ${sha256} and position = 0)`;

/** Start state of the first run of every mount of a study, by mount. */
export const listFirstStarts = async (db: Client, studyId: number): Promise<Map<number, StartState>> =>
  new Map(
    (
      await many<{ mount_id: number; start: StartState }>(db)`
        select distinct on (mount_id) mount_id, result -> 'start_state' as start
        from runs join mounts m on m.id = mount_id join specimens s on s.id = m.specimen_id
        where s.study_id = ${studyId} order by mount_id, runs.number`
    ).map((r) => [r.mount_id, r.start]),
  );

/** Levels at which the reference specimen of a study was run under one load. */
export interface ReferenceLevels {
  study_id: number;
  load: string | null;
  power_w: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
}

/** Power, fan and clock at which the valid runs of a study's reference specimen were made, load by load: loads are never averaged. */
export async function listReferenceLevels(db: Client, studyId: number): Promise<ReferenceLevels[]> {
  const level = (name: string) => sql`percentile_cont(0.5) within group (order by (r.result ->> ${name}::text)::double precision)`;
  return many<ReferenceLevels>(db)`
    select st.id as study_id, r.load,
           ${level('power_w')} as power_w, ${level('fan_rpm')} as fan_rpm, ${level('clock_mhz')} as clock_mhz
    from studies st join mounts m on m.specimen_id = st.reference_id join runs r on r.mount_id = m.id
    where st.id = ${studyId} and r.valid and r.judged <> 'excluded' and m.excluded_reason is null
    group by st.id, r.load`;
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
  excluded_reason: string | null;
  run_excluded_reason: string | null;
  rise_k: number | null;
  r_k_per_w: number | null;
  valid: boolean;
  r_valid: boolean;
  censored: boolean;
  idle_rise_k: number | null;
  spread_k: number | null;
  hottest_rise_k: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
  noise_db: number | null;
  fan_pct: number | null;
  voltage_v: number | null;
  power_w: number | null;
  throttled_share: number | null;
  exhaust_rise_k: number | null;
  fan: FanFigures | null;
  performance: Partial<Performance> | null;
  times_to: TimeTo[] | null;
  sensors: ReducedSensor[] | null;
  /** other parts that were read */
  parts: ReducedSensor[] | null;
  /** parts of its rig */
  rig_parts: RigPart[];
  /** of a stability ladder */
  ladder: TriedStep[] | null;
  /** findings that wait for a person */
  decision: string[] | null;
  /** of the program's own results files that are comparable, the newest */
  program: Partial<Performance> | null;
}

/** What a comparison needs of every run of a study. */
export const listRunValues = async (db: Client, studyId: number): Promise<RunValueRow[]> =>
  (
    await many<Omit<RunValueRow, 'day'> & { bench_day: string | null }>(db)`
      select p.study_id, p.specimen, p.mount, p.mount_id, p.rig, r.number as run, r.id as run_id,
             extract(epoch from r.started_at)::float8 as at_s, r.started_zoned as at_zoned, r.load,
             to_char(r.bench_day, 'YYYY-MM-DD') as bench_day, r.rise_k, r.r_k_per_w, r.valid, r.r_valid, r.censored, p.excluded_reason, r.excluded_reason as run_excluded_reason, x.*,
             f.figures as program, g.parts as rig_parts
      from runs r join placed_mounts p using (mount_id) join rigs g on g.id = p.rig_id
      cross join lateral jsonb_to_record(r.result) as x(
        idle_rise_k float8, spread_k float8, hottest_rise_k float8, fan_rpm float8, clock_mhz float8, noise_db float8, fan_pct float8, voltage_v float8, power_w float8, throttled_share float8,
        exhaust_rise_k float8, performance jsonb, times_to jsonb, sensors jsonb, fan jsonb, decision jsonb, ladder jsonb, parts jsonb)
      left join lateral (select figures from run_results where run_id = r.id and comparable order by added_at desc limit 1) f on true
      where p.study_id = ${studyId}
      order by p.study_id, p.specimen_position, p.mount, r.number`
  ).map(({ bench_day, ...r }) => ({ ...r, day: bench_day ?? (r.at_s === null ? null : calendarDay(r.at_s, r.at_zoned)) }));

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
export const listLoggedRuns = (db: Client) => many<LoggedRunRow>(db)`
  select r.id as run_id, p.study, p.specimen, p.mount, r.number as run, r.reading, r.period_s,
         array(select f.name from run_files f where f.run_id = r.id order by f.position) as files
  from runs r join placed_mounts p using (mount_id)
  where exists (select from run_files f where f.run_id = r.id)
  order by round(r.period_s::numeric, 1), r.started_at desc nulls last, r.id desc limit 300`;

/** True where a study has a run. */
export const hasRuns = (db: Client, studyId: number) =>
  touches(db)`select from runs join placed_mounts using (mount_id) where study_id = ${studyId} limit 1`;

/** Says under which of its study's loads a run was made. */
export const setLoad = (db: Client, runId: number, load: string | null) => execute(db)`update runs set load = ${load} where id = ${runId}`;

/** Puts a run on another mount, as the last there. */
export async function placeRun(db: Client, id: number, mountId: number, load: string | null): Promise<void> {
  await execute(db)`select from mounts where id = ${mountId} for update`;
  await execute(db)`
    update runs set mount_id = ${mountId}, load = ${load},
      number = (select coalesce(max(number) + 1, 1) from runs where mount_id = ${mountId}) where id = ${id}`;
}

/** Numbers a run that is about to be stored: its trace comes before it. */
export const reserveRun = async (db: Client) =>
  (await only<{ id: number }>(db)`select nextval(pg_get_serial_sequence('all_runs', 'id'))::bigint as id`).id;

interface NewRun extends Pick<RunRow, 'id' | 'mount_id' | 'started_at' | 'started_zoned' | 'load' | 'reading' | 'options' | 'result'> {
  import_id: string;
}

/** Stores a run as the next of its mount; gives its number. */
export async function insertRun(db: Client, run: NewRun): Promise<{ id: number; number: number }> {
  const { result: r } = run;
  await execute(db)`select from mounts where id = ${run.mount_id} for update`;
  return only<{ id: number; number: number }>(db)`
    insert into runs (id, import_id, mount_id, number, started_at, started_zoned, reading, options, result, rise_k, se_k, r_k_per_w,
     valid, r_valid, censored, load)
    overriding system value
    select ${run.id}, ${run.import_id}, ${run.mount_id}, coalesce(max(number) + 1, 1), ${run.started_at}, ${run.started_zoned},
      ${run.reading}, ${run.options}, ${r}, ${r.rise_k}, ${r.se_k}, ${r.r_k_per_w}, ${r.valid}, ${r.r_valid}, ${r.censored}, ${run.load}
      from runs where mount_id = ${run.mount_id}
    returning id, number`;
}

/** Keeps what was typed for a run, as it was typed. */
export const setTyped = (db: Client, runId: number, typed: TypedWords) => execute(db)`update runs set typed = ${typed} where id = ${runId}`;

/** Says when a run began. */
export const setStarted = (db: Client, runId: number, at: Date) =>
  execute(db)`update runs set started_at = ${at}, started_zoned = true where id = ${runId}`;

/** Stores what the checks found of a run. */
export async function insertFindings(db: Client, runId: number, findings: Finding[]): Promise<void> {
  if (findings.length === 0) return;
  await execute(db)`insert into findings (run_id, code, severity, message, numbers)
    select ${runId}, f.code, f.severity, f.message, f.numbers
    from jsonb_to_recordset(${JSON.stringify(findings)}::jsonb) as f(code text, severity text, message text, numbers jsonb)`;
}

/** What the checks found of a run, in their order. */
export const listFindings = (db: Client, runId: number) =>
  many<Finding>(db)`select code, severity, message, numbers from findings where run_id = ${runId} order by id`;

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

/** Of runs that wait, as many are counted; of more it is only known that there are. */
export const MOST_WAITING = 200;

/** Runs of mounts that count, whose findings ask for a look; the condition is that of the index runs_waiting. */
const WAITING = sql`
  from runs r
  where r.waits > 0 and r.judged <> 'excluded' and (r.waits = 3 or r.judged = 'open')
    -- a mount at a time: for a join all mounts would be read
    and (select m.excluded_reason is null from mounts m where m.id = r.mount_id)`;

/**
 * Runs with findings that ask for a look: those that need a decision first, then the gravest and newest.
 * @returns with how many there are, up to MOST_WAITING
 */
export async function listWaitingRuns(db: Client, most: number): Promise<{ runs: WaitingRun[]; total: number }> {
  const runs = await many<WaitingRun>(db)`
    select r.id as run_id, r.number as run, p.mount, p.specimen, p.specimen_position, p.study, f.codes, f.message, r.waits = 3 as decide
    from (select r.id, r.number, r.mount_id, r.waits ${WAITING} order by r.waits desc, r.id desc limit ${most}) r
    join placed_mounts p using (mount_id)
    cross join lateral (
      select array_agg(code order by severity = 'decide' desc, severity = 'reject' desc, id) as codes,
             (array_agg(message order by severity = 'decide' desc, severity = 'reject' desc, id))[1] as message
      from findings where run_id = r.id and severity in ('warn', 'decide', 'reject')
    ) f
    order by r.waits desc, r.id desc`;
  if (runs.length < most) return { runs, total: runs.length };
  const { n } = await only<{ n: number }>(db)`select count(*) as n from (select 1 ${WAITING} limit ${MOST_WAITING}) w`;
  return { runs, total: n };
}

interface StudyFindingRow {
  specimen: string;
  mount: number;
  run: number;
  code: string;
  severity: string;
  message: string;
}

/** Findings of a study's runs that a report lists, in the order of the runs. */
export const listStudyFindings = (db: Client, studyId: number) => many<StudyFindingRow>(db)`
  select p.specimen, p.mount, r.number as run, f.code, f.severity, f.message
  from findings f join runs r on r.id = f.run_id join placed_mounts p using (mount_id)
  where p.study_id = ${studyId} order by p.specimen_position, p.mount, r.number, f.id`;

interface LeftOutRow {
  specimen: string;
  mount: number;
  run: number | null;
  reason: string;
  who: string;
  at: Date | null;
}

/** What a person left out of a study: whole mounts, and single runs, each with its reason. */
export const listLeftOut = (db: Client, studyId: number) => many<LeftOutRow>(db)`
  select specimen, mount, run, reason, who, at from (
    select p.specimen, p.mount, null::int as run, p.excluded_reason as reason, m.excluded_by as who, m.excluded_at as at,
           p.specimen_position
    from mounts m join placed_mounts p on p.mount_id = m.id where p.study_id = ${studyId} and p.excluded_reason is not null
    union all
    select p.specimen, p.mount, r.number, r.excluded_reason, coalesce(j.who, ''), j.at, p.specimen_position
    from runs r join placed_mounts p using (mount_id)
    left join lateral (
      select who, at from changes where subject = 'run' and subject_id = r.id and action = 'exclude' order by id desc limit 1) j on true
    where p.study_id = ${studyId} and r.excluded_reason is not null
  ) o order by specimen_position, mount, run nulls first`;
