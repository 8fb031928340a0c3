import type { Client } from '#app/database/pool';
import { execute, first, many, touches } from '#app/database/query';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { TeardownStep } from '#features/shelf/model/teardown';
import { listLastRuns } from './uses';

interface RigRow {
  id: number;
  name: string;
  heat_source: string;
  throttle_limit_c: number | null;
  archived: boolean;
}

/** All rigs with their numbers. */
export const listRigs = (db: Client) =>
  many<RigRow>(db)`select id, name, heat_source, throttle_limit_c, archived_at is not null as archived from rigs order by id`;

/** @returns null where the name is taken */
export const insertRig = async (db: Client, name: string, limit: number | null, heatSource = ''): Promise<number | null> =>
  (
    await first<{ id: number }>(db)`insert into rigs (name, sheet)
      values (${name}, jsonb_strip_nulls(jsonb_build_object('throttle_limit_c', ${limit}::double precision, 'heat_source',
        nullif(${heatSource}, ''))))
      on conflict (name) do nothing returning id`
  )?.id ?? null;

interface TeardownRow {
  id: number;
  name: string;
  teardown: TeardownStep[];
  teardown_version: number;
}

/** How a rig is taken apart; null where there is no such rig. */
export const getTeardown = (db: Client, id: number) =>
  first<TeardownRow>(db)`select id, name, teardown, teardown_version from rigs where id = ${id}`;

/** Take-apart lists of the rigs that have one. */
export const listTeardowns = async (db: Client): Promise<Map<number, TeardownStep[]>> =>
  new Map(
    (await many<{ id: number; teardown: TeardownStep[] }>(db)`select id, teardown from rigs where teardown <> '[]'`).map((r) => [
      r.id,
      r.teardown,
    ]),
  );

/** Stores a take-apart list over the version it was changed from; false where that is not the newest. */
export const updateTeardown = (db: Client, id: number, base: number, steps: TeardownStep[]) =>
  touches(db)`
    update rigs set teardown = ${JSON.stringify(steps)}, teardown_version = teardown_version + 1 where id = ${id} and teardown_version =
    ${base}`;

/** Parts of a rig, under the version of its sheet; null where there is no such rig. */
export const getRigParts = (db: Client, id: number) =>
  first<{ id: number; name: string; version: number; parts: RigPart[] }>(db)`select id, name, version, parts from rigs where id = ${id}`;

/** Parts of all rigs that have any. */
export const listRigParts = async (db: Client): Promise<Map<number, RigPart[]>> =>
  new Map((await many<{ id: number; parts: RigPart[] }>(db)`select id, parts from rigs where parts <> '[]'`).map((r) => [r.id, r.parts]));

/** Stores the parts over the version they were changed from; false where that is not the newest. */
export const updateRigParts = (db: Client, id: number, base: number, parts: RigPart[]) =>
  touches(db)`update rigs set parts = ${JSON.stringify(parts)}, version = version + 1 where id = ${id} and version = ${base}`;

/** Gives a rig its parts and its take-apart list at once, as they came from elsewhere. */
export const setBuild = (db: Client, id: number, parts: RigPart[], teardown: TeardownStep[]) => execute(db)`
  update rigs set parts = ${JSON.stringify(parts)}, teardown = ${JSON.stringify(teardown)} where id = ${id}`;

/** Gives a rig the parts and the take-apart list of another. */
export const copyBuild = (db: Client, from: number, to: number) => execute(db)`
  update rigs r set parts = o.parts, teardown = o.teardown from rigs o where r.id = ${to} and o.id = ${from}`;

export interface BenchRow {
  rig_id: number;
  rig: string;
  throttle_limit_c: number | null;
  heat_source: string;
  mount_id: number | null;
  mount: number | null;
  specimen: string | null;
  specimen_position: number | null;
  study_id: number | null;
  study: string | null;
  runs: number | null;
  last_run_id: number | null;
  /** another whenever anything of that run was written */
  last_run_state: string | null;
  last_run: number | null;
  last_rise_k: number | null;
  last_valid: boolean | null;
  last_censored: boolean | null;
  last_at: Date | null;
  last_zoned: boolean | null;
}

/** Rigs with the mount last worked on and its newest run, by their numbers. */
export async function benchRows(db: Client, most: number): Promise<BenchRow[]> {
  const last = await listLastRuns(db);
  return many<BenchRow>(db)`
    select g.id as rig_id, g.name as rig, g.throttle_limit_c, g.heat_source,
           m.id as mount_id, m.number as mount, sp.name as specimen, sp.position as specimen_position,
           st.id as study_id, st.title as study,
           (select count(*) from runs where mount_id = m.id) as runs,
           r.id as last_run_id, (select xmin::text from all_runs where id = r.id) as last_run_state, r.number as last_run, r.rise_k as last_rise_k, r.valid as last_valid, r.censored as last_censored,
           coalesce(r.started_at, r.created_at) as last_at, r.started_at is null or r.started_zoned as last_zoned
    from rigs g
    left join unnest(${[...last.keys()]}::bigint[], ${[...last.values()]}::bigint[]) as l(rig_id, run_id) on l.rig_id = g.id
    left join runs r on r.id = l.run_id
    left join mounts m on m.id = r.mount_id
    left join specimens sp on sp.id = m.specimen_id
    left join studies st on st.id = sp.study_id
    order by g.id limit ${most}`;
}
