import type { Client } from '#app/database/pool';
import { execute, first, many, only, sql, touches } from '#app/database/query';
import type { Check } from '#core/live/preflight';
import type { ClosedCycle, LiveSettings, LiveState } from '#core/live/types';
import type { PlacedMount } from '#features/mount/store/placedMount';
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
export type PlacedLive = LiveRow & PlacedMount;

const PLACED = sql`select l.*, p.* from live_runs l join placed_mounts p using (mount_id, rig_id)`;

/** A live run by its number; null where there is none. */
export const getLive = (db: Client, id: number) => first<PlacedLive>(db)`${PLACED} where l.id = ${id}`;

/** Live runs that go on, and the newest ended one of each rig. */
export const listLive = (db: Client) =>
  many<PlacedLive>(db)`
    ${PLACED} where l.ended_at is null or l.id in (select max(id) from live_runs group by rig_id) order by l.rig_id, l.id desc`;

/** Numbers of the live runs that go on. */
export const listOpenLive = async (db: Client) =>
  (await many<{ id: number }>(db)`select id from live_runs where ended_at is null order by id`).map((r) => r.id);

/** Begins a live run; null where the rig has one already. */
export const insertLive = async (
  db: Client,
  l: Pick<LiveRow, 'mount_id' | 'rig_id' | 'who' | 'settings' | 'sources' | 'time_scale' | 'state'>,
): Promise<number | null> =>
  (
    await first<{ id: number }>(db)`
      insert into live_runs (mount_id, rig_id, who, settings, sources, time_scale, state) values (${l.mount_id}, ${l.rig_id}, ${l.who},
         ${l.settings}, ${JSON.stringify(l.sources)}, ${l.time_scale}, ${l.state})
      on conflict (rig_id) where ended_at is null do nothing returning id`
  )?.id ?? null;

/** Keeps where a live run stands; false where it has been ended or taken away meanwhile. */
export const saveLive = (db: Client, id: number, l: Pick<LiveRow, 'state' | 'forecast' | 'checks' | 'health'>) =>
  touches(db)`
    update live_runs set state = ${l.state}, forecast = ${l.forecast}, checks = ${JSON.stringify(l.checks)}, health = ${l.health} where id
    = ${id} and ended_at is null`;

/** Ends a live run; one that is ended stays as it is. */
export const endLive = (db: Client, id: number) => execute(db)`update live_runs set ended_at = now() where id = ${id} and ended_at is null`;

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
  const rows = await many<{ id: number }>(db)`
    insert into live_batches (live_id, source, seq_from, seq_to, t_from, t_to, channels, readings)
    values (${liveId}, ${batch.source}, ${batch.seq_from}, ${batch.seq_from + batch.t.length - 1}, ${Math.min(...batch.t)},
      ${Math.max(...batch.t)}, ${batch.channels.map((c) => c.name)}, ${packBatch(batch)}) returning id`;
  await execute(db)`select pg_notify('live', ${JSON.stringify({ live: liveId, batch: rows[0].id })})`;
}

/** Holds a source's sequence until the transaction ends, so that two that send the same numbers follow each other. */
export const lockSource = (db: Client, liveId: number, source: string) =>
  execute(db)`select pg_advisory_xact_lock(hashtextextended(${source}, ${liveId}))`;

/** Time of the newest reading of a source that is stored, s of the run's clock; null where there is none. */
export const newestStored = async (db: Client, liveId: number, source: string): Promise<number | null> =>
  (await only<{ t: number | null }>(db)`select max(t_to)::float8 as t from live_batches where live_id = ${liveId} and source = ${source}`)
    .t;

/** Batches of a source that hold any of the sequence numbers. */
export const listOverlapping = async (db: Client, liveId: number, source: string, from: number, to: number): Promise<Batch[]> =>
  (
    await many<BatchRow>(db)`
      select id, source, seq_from, seq_to, channels, readings from live_batches where live_id = ${liveId} and source = ${source} and
      seq_from <= ${to} and seq_to >= ${from}`
  ).map(unpackBatch);

/** Highest sequence number of a source that is stored; 0 where there is none. */
export async function highestSeq(db: Client, liveId: number, source: string): Promise<number> {
  const rows = await many<{ seq: number | null }>(db)`
    select max(seq_to) as seq from live_batches where live_id = ${liveId} and source = ${source}`;
  return rows[0].seq ?? 0;
}

/** A batch by its number; null where there is none. */
export async function getBatch(db: Client, id: number): Promise<Batch | null> {
  const rows = await many<BatchRow>(db)`select id, source, seq_from, seq_to, channels, readings from live_batches where id = ${id}`;
  return rows[0] ? unpackBatch(rows[0]) : null;
}

/** Batches of a live run with readings from a time on, in the order of their times. */
export const listBatches = async (
  db: Client,
  liveId: number,
  from: number,
  to = Number.POSITIVE_INFINITY,
): Promise<(Batch & { id: number })[]> =>
  (
    await many<BatchRow>(db)`select id, source, seq_from, seq_to, channels, readings from live_batches
      where live_id = ${liveId} and t_to >= ${from} and t_from < ${to} order by t_from, id`
  ).map(unpackBatch);

export interface OrderRow {
  id: number;
  kind: string;
  about: Record<string, unknown>;
  who: string;
}

/** Keeps what a person told a live run, and wakes whoever follows it. */
export async function insertOrder(db: Client, liveId: number, kind: string, about: Record<string, unknown>, who: string): Promise<void> {
  await execute(db)`insert into live_orders (live_id, kind, about, who) values (${liveId}, ${kind}, ${about}, ${who})`;
  await notifyLive(db, { live: liveId, order: true });
}

/** What a person told a live run and it has not obeyed yet, the oldest first. */
export const listOrders = (db: Client, liveId: number) =>
  many<OrderRow>(db)`select id, kind, about, who from live_orders where live_id = ${liveId} and obeyed_at is null order by id`;

/** Notes that an order was obeyed. */
export const markObeyed = (db: Client, id: number) => execute(db)`update live_orders set obeyed_at = now() where id = ${id}`;

export interface LiveNews {
  live: number;
  batch?: number;
  state?: boolean;
  order?: boolean;
}

/** Tells every process what is new of a live run. */
export const notifyLive = (db: Client, news: LiveNews) => execute(db)`select pg_notify('live', ${JSON.stringify(news)})`;

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
  const rows = await many<{ code: string; fresh: boolean }>(db)`
    with now_on as (select code, message from
     jsonb_to_recordset(${JSON.stringify(alarms.map(({ code, message }) => ({ code, message })))}::jsonb) as a(code text, message text)),
         gone as (update live_alarms set ended_at = now() where live_id = ${liveId} and ended_at is null and code not in (select code
           from now_on))
    insert into live_alarms (live_id, code, message, at_s) select ${liveId}, code, message, ${at_s} from now_on
    on conflict (live_id, code) where ended_at is null do update set message = excluded.message
    returning code, xmax = 0 as fresh`;
  return rows.filter((r) => r.fresh).map((r) => r.code);
}

/** Alarms of a live run that last or were not seen yet, the newest first; of all that go on where none is named. */
export const listAlarms = (db: Client, liveId: number | null) => many<AlarmRow>(db)`
  select a.* from live_alarms a join live_runs l on l.id = a.live_id
  where (${liveId}::bigint is null and l.ended_at is null or a.live_id = ${liveId}) and (a.ended_at is null or a.acknowledged_at is
    null)
  order by a.ended_at is null desc, a.id desc limit 50`;

/** Notes who saw the alarms of a live run that nobody had seen. */
export const acknowledgeAlarms = (db: Client, liveId: number, who: string) =>
  execute(db)`
    update live_alarms set acknowledged_at = now(), acknowledged_by = ${who} where live_id = ${liveId} and acknowledged_at is null`;

export interface RefusalRow {
  source: string;
  code: string;
  message: string;
  count: number;
  last_at: Date;
}

/** Counts readings of a source that were refused, by the reason. */
export const countRefusal = (db: Client, liveId: number, source: string, code: string, message: string, count = 1) => execute(db)`
  insert into live_refusals (live_id, source, code, message, count) values (${liveId}, ${source}, ${code}, ${message}, ${count})
  on conflict (live_id, source, code) do update set count = live_refusals.count + excluded.count, message = excluded.message, last_at =
    now()`;

/** What was refused of a live run, the newest first. */
export const listRefusals = (db: Client, liveId: number) =>
  many<RefusalRow>(db)`select source, code, message, count, last_at from live_refusals where live_id = ${liveId} order by last_at desc`;

export interface CycleRow extends ClosedCycle {
  import_id: string;
  run_id: number | null;
  /** number of that run on its mount */
  run_number: number | null;
  problem: string | null;
  valid: boolean | null;
}

/** Keeps that a cycle closed; one that is known stays as it is. */
export const insertCycle = (db: Client, liveId: number, c: ClosedCycle) =>
  execute(db)`
    insert into live_cycles (live_id, cycle, from_s, to_s, reason) values (${liveId}, ${c.cycle}, ${c.from_s}, ${c.to_s}, ${c.reason}) on
    conflict do nothing`;

/** The closed cycles of a live run with the runs they became, in their order. */
export const listCycles = (db: Client, liveId: number) => many<CycleRow>(db)`
  select c.cycle, c.import_id, c.from_s, c.to_s, c.reason, c.run_id, c.problem, r.number as run_number, r.rise_k, r.valid
  from live_cycles c left join runs r on r.id = c.run_id where c.live_id = ${liveId} order by c.cycle`;

/** Notes the run that a cycle became, or why it became none. */
export const finishCycle = (db: Client, liveId: number, cycle: number, runId: number | null, problem: string | null) =>
  execute(db)`update live_cycles set run_id = ${runId}, problem = ${problem} where live_id = ${liveId} and cycle = ${cycle}`;

/** Keeps what is added to a device's times, so that every process adds the same. */
export const saveClockOffset = (db: Client, liveId: number, source: string, offset: number) =>
  execute(db)`
    update live_runs set clocks = clocks || jsonb_build_object(${source}::text, ${offset}::double precision) where id = ${liveId}`;
