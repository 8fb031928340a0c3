import type { Client } from '#app/database/pool';
import { execute, first, many, only } from '#app/database/query';

/** How the samples of a run are kept: as they were stored, packed, or only in its log. */
export interface SamplesState {
  state: 'whole' | 'packed' | 'dropped';
  since: Date;
}

/** How the samples of a run are kept; null where they are as they were stored. */
export const getSamples = (db: Client, runId: number) =>
  first<SamplesState>(db)`select state, since from run_samples where run_id = ${runId}`;

/** Notes how the samples of a run are kept from now on. */
export const setSamples = (db: Client, runId: number, state: SamplesState['state']) =>
  execute(db)`insert into run_samples (run_id, state) values (${runId}, ${state})
    on conflict (run_id) do update set state = excluded.state, since = now()`;

/**
 * Runs that were stored, or whose samples were read again, more days ago than this and whose samples are kept otherwise; the oldest first.
 * Runs without a log have no samples that could be read again, and keep theirs.
 * @param states how they are kept before
 */
export const listAged = async (db: Client, days: number, states: SamplesState['state'][]) =>
  (
    await many<{ id: number }>(db)`
      select r.id from all_runs r left join run_samples s on s.run_id = r.id
      where coalesce(s.state, 'whole') = any(${states})
        and case when s.state = 'whole' then s.since else r.created_at end < now() - make_interval(days => ${days})
        and exists (select from run_files f where f.run_id = r.id)
      order by r.created_at, r.id`
  ).map((r) => r.id);

/** True where no other process is at the samples of this run; holds until the transaction ends. */
export const lockSamples = async (db: Client, runId: number): Promise<boolean> =>
  (await only<{ got: boolean }>(db)`select pg_try_advisory_xact_lock(6174002, ${runId}::int) as got`).got;

/** A stretch of samples that is not packed: of a channel, or of a time axis of the run. */
export interface PlainChunk {
  of: 'channel' | 'axis';
  /** number of the channel, or of the axis within the run */
  id: number;
  chunk: number;
  bytes: Buffer;
}

/** Some stretches of a run that are not packed yet. */
export const listPlain = (db: Client, runId: number, most: number) => many<PlainChunk>(db)`
  (select 'channel' as of, v.channel_id as id, v.chunk, v.readings as bytes from channels c join trace_chunks v on v.channel_id = c.id
   where c.run_id = ${runId} and not v.packed and v.readings is not null order by v.channel_id, v.chunk limit ${most})
  union all
  (select 'axis', axis::bigint, chunk, t from time_chunks where run_id = ${runId} and not packed and t is not null order by axis, chunk limit ${most})`;

/** Puts packed bytes in the place of those of a stretch. */
export const storePacked = (db: Client, runId: number, { of, id, chunk }: PlainChunk, bytes: Buffer) =>
  of === 'channel'
    ? execute(db)`update trace_chunks set readings = ${bytes}, packed = true where channel_id = ${id} and chunk = ${chunk}`
    : execute(db)`update time_chunks set t = ${bytes}, packed = true where run_id = ${runId} and axis = ${id} and chunk = ${chunk}`;

/** Drops the samples of a run; its blocks stay. */
export async function dropSamples(db: Client, runId: number): Promise<void> {
  await execute(
    db,
  )`update trace_chunks set readings = null, packed = false where channel_id in (select id from channels where run_id = ${runId})`;
  await execute(db)`update time_chunks set t = null, packed = false where run_id = ${runId}`;
}

/** Removes the trace of a run, so that it can be stored anew. */
export async function deleteTrace(db: Client, runId: number): Promise<void> {
  await execute(db)`delete from channels where run_id = ${runId}`;
  await execute(db)`delete from time_chunks where run_id = ${runId}`;
}

/** How many runs keep their samples packed, and in their logs alone. */
export const countKept = (db: Client) => only<{ packed: number; dropped: number }>(db)`
  select count(*) filter (where state = 'packed')::bigint as packed, count(*) filter (where state = 'dropped')::bigint as dropped from run_samples`;
