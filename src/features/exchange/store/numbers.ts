import type { Client } from '#app/database/pool';
import { execute, many, type Statement, sql, touches } from '#app/database/query';

/** Things of a package that are known by a number of the whole lab, with their tables. */
const TABLES = {
  all_studies: sql`all_studies`,
  all_specimens: sql`all_specimens`,
  all_mounts: sql`all_mounts`,
  all_mount_attempts: sql`all_mount_attempts`,
  all_planned_mounts: sql`all_planned_mounts`,
  mount_openings: sql`mount_openings`,
  mount_faults: sql`mount_faults`,
  all_runs: sql`all_runs`,
  all_run_notes: sql`all_run_notes`,
  recommendations: sql`recommendations`,
  reports: sql`reports`,
  photographs: sql`photographs`,
  sound_clips: sql`sound_clips`,
  changes: sql`changes`,
  materials: sql`materials`,
  coolers: sql`coolers`,
  fans: sql`fans`,
  rigs: sql`rigs`,
  instruments: sql`instruments`,
} satisfies Record<string, Statement>;
export type NumberedTable = keyof typeof TABLES;

/** Names in the journal of what it is about. */
const SUBJECTS: Partial<Record<NumberedTable, string>> = { all_runs: 'run', all_mounts: 'mount', reports: 'report' };

/** Numbers above this are not taken over: they would use up what is left for others. */
const MOST_OWN = 1e9;

/** What things of a package are called here, by their number there. */
export type Numbers = ReadonlyMap<number, number>;

/**
 * Numbers for things of a package that are about to be stored: their own where all of them are free here, so that addresses stay as they are,
 * else the next ones. Nobody else is given them.
 */
export async function reserveNumbers(db: Client, table: NumberedTable, ids: number[]): Promise<Numbers> {
  if (ids.length === 0) return new Map();
  const most = ids.reduce((a, b) => Math.max(a, b));
  if (most <= MOST_OWN) {
    await execute(db)`
      select setval(s, ${most}) from (select pg_get_serial_sequence(${table}, 'id')::regclass as s) q
      where coalesce(pg_sequence_last_value(s), 0) < ${most}`;
    const isTaken =
      (await touches(db)`select from ${TABLES[table]} where id = any(${ids}) limit 1`) ||
      // the journal remembers what was deleted for good, and has to stay right
      (await touches(db)`select from changes where subject = ${SUBJECTS[table] ?? ''} and subject_id = any(${ids}) limit 1`);
    if (!isTaken) return new Map(ids.map((id) => [id, id]));
  }
  const fresh = await many<{ id: number }>(db)`
    select nextval(pg_get_serial_sequence(${table}, 'id'))::bigint as id from generate_series(1, ${ids.length})`;
  return new Map(ids.map((id, i) => [id, fresh[i].id]));
}
