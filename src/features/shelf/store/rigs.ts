import type { Client } from '#app/database/pool';
import type { TeardownStep } from '#features/shelf/model/teardown';

interface RigRow {
  id: number;
  name: string;
  heat_source: string;
  throttle_limit_c: number | null;
  archived: boolean;
}

export async function listRigs(db: Client): Promise<RigRow[]> {
  const { rows } = await db.query<RigRow>(
    'select id, name, heat_source, throttle_limit_c, archived_at is not null as archived from rigs order by id',
  );
  return rows;
}

/** @returns null where the name is taken */
export async function insertRig(db: Client, name: string, limit: number | null, heatSource = ''): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into rigs (name, sheet)
     values ($1, jsonb_strip_nulls(jsonb_build_object('throttle_limit_c', $2::double precision, 'heat_source', nullif($3, ''))))
     on conflict (name) do nothing returning id`,
    [name, limit, heatSource],
  );
  return rows[0]?.id ?? null;
}

interface TeardownRow {
  id: number;
  name: string;
  teardown: TeardownStep[];
  teardown_version: number;
}

export async function getTeardown(db: Client, id: number): Promise<TeardownRow | null> {
  const { rows } = await db.query<TeardownRow>('select id, name, teardown, teardown_version from rigs where id = $1', [id]);
  return rows[0] ?? null;
}

/** Take-apart lists of the rigs that have one. */
export async function listTeardowns(db: Client): Promise<Map<number, TeardownStep[]>> {
  const { rows } = await db.query<{ id: number; teardown: TeardownStep[] }>("select id, teardown from rigs where teardown <> '[]'");
  return new Map(rows.map((r) => [r.id, r.teardown]));
}

/** Stores a take-apart list over the version it was changed from; false where that is not the newest. */
export async function updateTeardown(db: Client, id: number, base: number, steps: TeardownStep[]): Promise<boolean> {
  const { rowCount } = await db.query(
    'update rigs set teardown = $3, teardown_version = teardown_version + 1 where id = $1 and teardown_version = $2',
    [id, base, JSON.stringify(steps)],
  );
  return rowCount === 1;
}

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
  last_run: number | null;
  last_rise_k: number | null;
  last_valid: boolean | null;
  last_censored: boolean | null;
  last_at: Date | null;
  last_zoned: boolean | null;
}

/** Each rig with the mount last worked on and its newest run. */
export async function benchRows(db: Client): Promise<BenchRow[]> {
  const { rows } = await db.query<BenchRow>(
    `select g.id as rig_id, g.name as rig, g.throttle_limit_c, g.heat_source,
            m.id as mount_id, m.number as mount, sp.name as specimen, sp.position as specimen_position,
            st.id as study_id, st.title as study,
            (select count(*) from runs where mount_id = m.id) as runs,
            r.id as last_run_id, r.number as last_run, r.rise_k as last_rise_k, r.valid as last_valid, r.censored as last_censored,
            coalesce(r.started_at, r.created_at) as last_at, r.started_at is null or r.started_zoned as last_zoned
     from rigs g
     left join lateral (
       select r.* from runs r join mounts m2 on m2.id = r.mount_id
       where m2.rig_id = g.id order by r.id desc limit 1
     ) r on true
     left join mounts m on m.id = r.mount_id
     left join specimens sp on sp.id = m.specimen_id
     left join studies st on st.id = sp.study_id
     order by g.id`,
  );
  return rows;
}
