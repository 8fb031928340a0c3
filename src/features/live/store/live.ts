import type { Client } from '#app/database/pool';
import type { Check } from '#core/live/preflight';
import type { ClosedCycle, LiveSettings, LiveState } from '#core/live/types';
import type { LiveSource } from '#features/shelf/model/channelMap';

/** What is told of a source by whoever reads it. */
export interface SourceState {
  connected: boolean;
  problem: string | null;
  /** time of its newest reading on the run's clock, s */
  newest_s: number | null;
  /** s that are added to its own times */
  clock_offset_s: number | null;
}

/** When a live run will be steady, on the run's clock, as it was told at a time. */
export interface StoredForecast {
  told_at_s: number;
  steady_s: number;
  low_s: number;
  high_s: number;
  /** where the rise ends, with its 95 % interval; null while that is wider than a fifth of the rise */
  end: { k: number; low_k: number; high_k: number } | null;
}

interface LiveRow {
  id: number;
  mount_id: number;
  rig_id: number;
  who: string;
  settings: LiveSettings;
  sources: LiveSource[];
  time_scale: number;
  started_at: Date;
  ended_at: Date | null;
  state: LiveState;
  forecast: StoredForecast | null;
  checks: Check[];
  health: Record<string, SourceState>;
  /** s added to the times of devices that push, by source */
  clocks: Record<string, number>;
}

/** A live run with the mount, specimen, study and rig it belongs to. */
export interface PlacedLive extends LiveRow {
  mount: number;
  rig: string;
  specimen_id: number;
  specimen: string;
  specimen_position: number;
  study_id: number;
  study: string;
}

const PLACED = `
  select l.*, m.number as mount, g.name as rig, sp.id as specimen_id, sp.name as specimen, sp.position as specimen_position,
         st.id as study_id, st.title as study
  from live_runs l join mounts m on m.id = l.mount_id join rigs g on g.id = l.rig_id
  join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id`;

export async function getLive(db: Client, id: number): Promise<PlacedLive | null> {
  const { rows } = await db.query<PlacedLive>(`${PLACED} where l.id = $1`, [id]);
  return rows[0] ?? null;
}

/** Live runs that go on, and the newest ended one of each rig. */
export async function listLive(db: Client): Promise<PlacedLive[]> {
  const { rows } = await db.query<PlacedLive>(
    `${PLACED} where l.ended_at is null or l.id in (select max(id) from live_runs group by rig_id) order by l.rig_id, l.id desc`,
  );
  return rows;
}

export async function listOpenLive(db: Client): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>('select id from live_runs where ended_at is null order by id');
  return rows.map((r) => r.id);
}

/** Begins a live run; null where the rig has one already. */
export async function insertLive(
  db: Client,
  l: Pick<LiveRow, 'mount_id' | 'rig_id' | 'who' | 'settings' | 'sources' | 'time_scale' | 'state'>,
): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into live_runs (mount_id, rig_id, who, settings, sources, time_scale, state) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (rig_id) where ended_at is null do nothing returning id`,
    [l.mount_id, l.rig_id, l.who, l.settings, JSON.stringify(l.sources), l.time_scale, l.state],
  );
  return rows[0]?.id ?? null;
}

/** Keeps where a live run stands; false where it has been ended or taken away meanwhile. */
export async function saveLive(db: Client, id: number, l: Pick<LiveRow, 'state' | 'forecast' | 'checks' | 'health'>): Promise<boolean> {
  const { rowCount } = await db.query(
    'update live_runs set state = $2, forecast = $3, checks = $4, health = $5 where id = $1 and ended_at is null',
    [id, l.state, l.forecast, JSON.stringify(l.checks), l.health],
  );
  return rowCount === 1;
}

export async function endLive(db: Client, id: number): Promise<void> {
  await db.query('update live_runs set ended_at = now() where id = $1 and ended_at is null', [id]);
}

/** Readings of one source with sequence numbers that follow each other. */
export interface Batch {
  source: string;
  seq_from: number;
  t: Float64Array;
  channels: { name: string; values: Float64Array }[];
}

/** Packs a batch: all times, then all readings of each channel. */
function packBatch({ t, channels }: Batch): Buffer {
  const all = new Float64Array(t.length * (1 + channels.length));
  all.set(t);
  channels.forEach((c, i) => {
    all.set(c.values, t.length * (i + 1));
  });
  return Buffer.from(all.buffer).swap64();
}

interface BatchRow {
  id: number;
  source: string;
  seq_from: number;
  seq_to: number;
  channels: string[];
  readings: Buffer;
}

function unpackBatch(row: BatchRow): Batch & { id: number } {
  const bytes = Uint8Array.prototype.slice.call(row.readings);
  Buffer.from(bytes.buffer).swap64();
  const all = new Float64Array(bytes.buffer);
  const n = row.seq_to - row.seq_from + 1;
  return {
    ...{ id: row.id, source: row.source, seq_from: row.seq_from, t: all.subarray(0, n) },
    channels: row.channels.map((name, i) => ({ name, values: all.subarray(n * (i + 1), n * (i + 2)) })),
  };
}

/** Keeps a batch, and tells every process of it when it is committed. */
export async function insertBatch(db: Client, liveId: number, batch: Batch): Promise<void> {
  const { rows } = await db.query<{ id: number }>(
    `insert into live_batches (live_id, source, seq_from, seq_to, t_from, t_to, channels, readings)
     values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [
      liveId,
      batch.source,
      batch.seq_from,
      batch.seq_from + batch.t.length - 1,
      Math.min(...batch.t),
      Math.max(...batch.t),
      batch.channels.map((c) => c.name),
      packBatch(batch),
    ],
  );
  await db.query(`select pg_notify('live', $1)`, [JSON.stringify({ live: liveId, batch: rows[0].id })]);
}

/** Holds a source's sequence until the transaction ends, so that two that send the same numbers follow each other. */
export async function lockSource(db: Client, liveId: number, source: string): Promise<void> {
  await db.query('select pg_advisory_xact_lock(hashtextextended($1, $2))', [source, liveId]);
}

/** Time of the newest reading of a source that is stored, s of the run's clock; null where there is none. */
export async function newestStored(db: Client, liveId: number, source: string): Promise<number | null> {
  const { rows } = await db.query<{ t: number | null }>(
    'select max(t_to)::float8 as t from live_batches where live_id = $1 and source = $2',
    [liveId, source],
  );
  return rows[0].t;
}

/** Batches of a source that hold any of the sequence numbers. */
export async function listOverlapping(db: Client, liveId: number, source: string, from: number, to: number): Promise<Batch[]> {
  const { rows } = await db.query<BatchRow>(
    'select id, source, seq_from, seq_to, channels, readings from live_batches where live_id = $1 and source = $2 and seq_from <= $4 and seq_to >= $3',
    [liveId, source, from, to],
  );
  return rows.map(unpackBatch);
}

export async function highestSeq(db: Client, liveId: number, source: string): Promise<number> {
  const { rows } = await db.query<{ seq: number | null }>(
    'select max(seq_to) as seq from live_batches where live_id = $1 and source = $2',
    [liveId, source],
  );
  return rows[0].seq ?? 0;
}

export async function getBatch(db: Client, id: number): Promise<Batch | null> {
  const { rows } = await db.query<BatchRow>('select id, source, seq_from, seq_to, channels, readings from live_batches where id = $1', [
    id,
  ]);
  return rows[0] ? unpackBatch(rows[0]) : null;
}

/** Batches of a live run with readings from a time on, in the order of their times. */
export async function listBatches(
  db: Client,
  liveId: number,
  from: number,
  to = Number.POSITIVE_INFINITY,
): Promise<(Batch & { id: number })[]> {
  const { rows } = await db.query<BatchRow>(
    `select id, source, seq_from, seq_to, channels, readings from live_batches
     where live_id = $1 and t_to >= $2 and t_from < $3 order by t_from, id`,
    [liveId, from, to],
  );
  return rows.map(unpackBatch);
}

export interface OrderRow {
  id: number;
  kind: string;
  about: Record<string, unknown>;
  who: string;
}

/** Keeps what a person told a live run, and wakes whoever follows it. */
export async function insertOrder(db: Client, liveId: number, kind: string, about: Record<string, unknown>, who: string): Promise<void> {
  await db.query('insert into live_orders (live_id, kind, about, who) values ($1, $2, $3, $4)', [liveId, kind, about, who]);
  await notifyLive(db, { live: liveId, order: true });
}

export async function listOrders(db: Client, liveId: number): Promise<OrderRow[]> {
  const { rows } = await db.query<OrderRow>(
    'select id, kind, about, who from live_orders where live_id = $1 and obeyed_at is null order by id',
    [liveId],
  );
  return rows;
}

export async function markObeyed(db: Client, id: number): Promise<void> {
  await db.query('update live_orders set obeyed_at = now() where id = $1', [id]);
}

export interface LiveNews {
  live: number;
  batch?: number;
  state?: boolean;
  order?: boolean;
}

export async function notifyLive(db: Client, news: LiveNews): Promise<void> {
  await db.query(`select pg_notify('live', $1)`, [JSON.stringify(news)]);
}

export interface AlarmRow {
  id: number;
  live_id: number;
  code: string;
  message: string;
  at_s: number;
  raised_at: Date;
  ended_at: Date | null;
  acknowledged_at: Date | null;
  acknowledged_by: string;
}

/** Raises what is not raised yet, words the lasting ones anew, and ends those that passed. True for each that is new. */
export async function syncAlarms(db: Client, liveId: number, at_s: number, alarms: { code: string; message: string }[]): Promise<string[]> {
  const { rows } = await db.query<{ code: string; fresh: boolean }>(
    `with now_on as (select code, message from jsonb_to_recordset($3::jsonb) as a(code text, message text)),
          gone as (update live_alarms set ended_at = now() where live_id = $1 and ended_at is null and code not in (select code from now_on))
     insert into live_alarms (live_id, code, message, at_s) select $1, code, message, $2 from now_on
     on conflict (live_id, code) where ended_at is null do update set message = excluded.message
     returning code, xmax = 0 as fresh`,
    [liveId, at_s, JSON.stringify(alarms.map(({ code, message }) => ({ code, message })))],
  );
  return rows.filter((r) => r.fresh).map((r) => r.code);
}

/** Alarms of a live run that last or were not seen yet, the newest first; of all that go on where none is named. */
export async function listAlarms(db: Client, liveId: number | null): Promise<AlarmRow[]> {
  const { rows } = await db.query<AlarmRow>(
    `select a.* from live_alarms a join live_runs l on l.id = a.live_id
     where ($1::bigint is null and l.ended_at is null or a.live_id = $1) and (a.ended_at is null or a.acknowledged_at is null)
     order by a.ended_at is null desc, a.id desc limit 50`,
    [liveId],
  );
  return rows;
}

export async function acknowledgeAlarms(db: Client, liveId: number, who: string): Promise<void> {
  await db.query('update live_alarms set acknowledged_at = now(), acknowledged_by = $2 where live_id = $1 and acknowledged_at is null', [
    liveId,
    who,
  ]);
}

export interface RefusalRow {
  source: string;
  code: string;
  message: string;
  count: number;
  last_at: Date;
}

export async function countRefusal(db: Client, liveId: number, source: string, code: string, message: string, count = 1): Promise<void> {
  await db.query(
    `insert into live_refusals (live_id, source, code, message, count) values ($1, $2, $3, $4, $5)
     on conflict (live_id, source, code) do update set count = live_refusals.count + excluded.count, message = excluded.message, last_at = now()`,
    [liveId, source, code, message, count],
  );
}

export async function listRefusals(db: Client, liveId: number): Promise<RefusalRow[]> {
  const { rows } = await db.query<RefusalRow>(
    'select source, code, message, count, last_at from live_refusals where live_id = $1 order by last_at desc',
    [liveId],
  );
  return rows;
}

export interface CycleRow {
  cycle: number;
  import_id: string;
  from_s: number;
  to_s: number;
  reason: string | null;
  run_id: number | null;
  /** number of that run on its mount */
  run_number: number | null;
  problem: string | null;
  rise_k: number | null;
  valid: boolean | null;
}

/** Keeps that a cycle closed; one that is known stays as it is. */
export async function insertCycle(db: Client, liveId: number, c: ClosedCycle): Promise<void> {
  await db.query('insert into live_cycles (live_id, cycle, from_s, to_s, reason) values ($1, $2, $3, $4, $5) on conflict do nothing', [
    liveId,
    c.cycle,
    c.from_s,
    c.to_s,
    c.reason,
  ]);
}

export async function listCycles(db: Client, liveId: number): Promise<CycleRow[]> {
  const { rows } = await db.query<CycleRow>(
    `select c.cycle, c.import_id, c.from_s, c.to_s, c.reason, c.run_id, c.problem, r.number as run_number, r.rise_k, r.valid
     from live_cycles c left join runs r on r.id = c.run_id where c.live_id = $1 order by c.cycle`,
    [liveId],
  );
  return rows;
}

export async function finishCycle(db: Client, liveId: number, cycle: number, runId: number | null, problem: string | null): Promise<void> {
  await db.query('update live_cycles set run_id = $3, problem = $4 where live_id = $1 and cycle = $2', [liveId, cycle, runId, problem]);
}

/** Keeps what is added to a device's times, so that every process adds the same. */
export async function saveClockOffset(db: Client, liveId: number, source: string, offset: number): Promise<void> {
  await db.query(`update live_runs set clocks = clocks || jsonb_build_object($2::text, $3::double precision) where id = $1`, [
    liveId,
    source,
    offset,
  ]);
}
