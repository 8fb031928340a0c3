import type { Client } from '#app/database/pool';
import { many, only, type Statement, sql } from '#app/database/query';

/** A thing of the store that is not as it should be. */
export interface Disagreement {
  /** what it is, in words */
  thing: string;
  /** what is wrong with it */
  wrong: string;
}

/** Something that all rows of the store have to hold, with the query of those that do not. */
export interface StoreRule {
  name: string;
  broken: Statement;
}

/** What the store has to hold throughout; what its constraints refuse of themselves is not asked again. */
export const STORE_RULES: StoreRule[] = [
  {
    name: 'photographs',
    broken: sql`
      select 'Photograph ' || id || coalesce(' of mount ' || mount_id, ' of rig ' || rig_id) as thing,
        'its bytes are not those that were stored' as wrong
      from photographs where sha256(jpeg) <> sha256 or sha256(view_jpeg) <> view_sha256`,
  },
  {
    name: 'sound clips',
    broken: sql`
      select 'Clip ' || id || ', ' || name as thing, 'its bytes are not those that were stored' as wrong
      from sound_clips where sha256(bytes) <> sha256`,
  },
  {
    name: 'reports',
    broken: sql`
      select 'Report ' || address as thing, 'its text does not have the checksum it was published with' as wrong
      from reports where encode(sha256(convert_to(content, 'UTF8')), 'hex') <> sha256`,
  },
  {
    name: 'runs and their files',
    broken: sql`
      select 'Run ' || r.id as thing, 'it was neither typed nor has it a file' as wrong
      from all_runs r where r.typed is null and not exists (select from run_files f where f.run_id = r.id)`,
  },
  {
    name: 'figures of runs',
    broken: sql`
      select 'Run ' || id as thing, 'its figures in the table (' || concat_ws(', ', rise_k, se_k, r_k_per_w, valid) || ') are not those of its reading ('
        || concat_ws(', ', result ->> 'rise_k', result ->> 'se_k', result ->> 'r_k_per_w', result ->> 'valid') || ')' as wrong
      from all_runs
      where (rise_k, se_k, r_k_per_w, valid) is distinct from
        ((result ->> 'rise_k')::float8, (result ->> 'se_k')::float8, (result ->> 'r_k_per_w')::float8, (result ->> 'valid')::boolean)`,
  },
  {
    name: 'traces',
    broken: sql`
      select 'Run ' || c.run_id as thing, 'the trace of ' || c.name || ' has a gap: ' || count(*) || ' pieces, the last is number ' || max(t.chunk) + 1
        as wrong
      from channels c join trace_chunks t on t.channel_id = c.id group by c.id having count(*) <> max(t.chunk) + 1
      union all
      select 'Run ' || run_id, 'the times of axis ' || axis || ' have a gap: ' || count(*) || ' pieces, the last is number ' || max(chunk) + 1
      from time_chunks group by run_id, axis having count(*) <> max(chunk) + 1`,
  },
  {
    name: 'findings that wait',
    broken: sql`
      select 'Run ' || r.id as thing, 'what it waits for is ' || r.waits || ', its findings say ' || f.waits as wrong
      from all_runs r join lateral (
        select coalesce(max(case severity when 'decide' then 3 when 'reject' then 2 when 'warn' then 1 else 0 end), 0) as waits
        from findings where run_id = r.id) f on f.waits <> r.waits`,
  },
];

/** What breaks a rule, the first thousand. */
export const listBroken = (db: Client, { broken: OF_RULE }: StoreRule) => many<Disagreement>(db)`${OF_RULE} limit 1000`;

/** Every kept file, by number. */
export const listKeptFiles = (db: Client) =>
  many<{ position: number; name: string; file_id: number; sha256: Buffer; size: number }>(db)`
    select 0 as position, name, id as file_id, sha256, 0::bigint as size from log_files order by id`;

/** Every run, in the bin too. */
export const listRunNumbers = (db: Client) => many<{ id: number }>(db)`select id from runs order by id`;

/** Whether the store sums its own pages, so that a disk that forgets is noticed. */
export const hasPageChecksums = async (db: Client) =>
  (await only<{ on: boolean }>(db)`select current_setting('data_checksums')::boolean as on`).on;
