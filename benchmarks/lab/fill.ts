import type pg from 'pg';

/** How large a lab is made of the demo that lies in the store. */
export interface LabSize {
  /** copies of every study */
  copies: number;
  /** further copies of the study with the most mounts */
  more: number;
  /** copies of every material that the studies take turns with */
  materials: number;
  /** copies of every rig that the studies take turns with */
  rigs: number;
}

/** 260 studies, 8,900 mounts, 24,000 runs, 400 materials. */
export const FIVE_YEARS: LabSize = { copies: 5, more: 212, materials: 50, rigs: 4 };
/** Small enough for every test run: twenty times the studies of the demo. */
export const TWENTY_DEMOS: LabSize = { copies: 19, more: 0, materials: 12, rigs: 3 };

/** Between the ids of one copy and the next; more than any table of the demo holds. */
const STRIDE = 100_000;
/** A study is this long after the next: the copies are the lab's past. */
const DAYS_EACH = 9;

/**
 * Fills a store that holds the demo with copies of its studies, their ids and times moved: what a lab holds after years. Values differ a
 * little from copy to copy. Of logs only the names are copied, of traces and
 * photographs nothing; places that list what is measured do not read them.
 */
export async function fillLab(db: pg.Client, size: LabSize): Promise<void> {
  const largest = await largestStudy(db);
  await db.query('begin');
  // checks and references of what is copied held in the demo
  await db.query('set local session_replication_role = replica');
  const tables = await columnsOf(db);
  const copy = async (table: string, by: string, times: number, set: Record<string, string>, where = 'true', id = 'id') => {
    const columns = tables.get(table);
    if (!columns) throw new Error(`There is no table ${table} to copy.`);
    const values = columns.map((c) => set[c] ?? `t.${c}`);
    await db.query(`insert into ${table} (${columns.join(', ')}) overriding system value
      select ${values.join(', ')} from ${table} t cross join generate_series(1, ${times}) as ${by} where t.${id} < ${STRIDE} and ${where}`);
  };
  const moved = (column: string) => `t.${column} + k * ${STRIDE}`;
  const earlier = (column: string) => `t.${column} - k * interval '${DAYS_EACH} days'`;
  const turn = (column: string, of: number) => `t.${column} + (k % ${of + 1}) * ${STRIDE}`;

  await copy('materials', 'k', size.materials, { id: moved('id'), name: `t.name || ' lot ' || k` });
  await copy('rigs', 'k', size.rigs, { id: moved('id'), name: `t.name || ' ' || k` });
  const rigs = `case when t.plan ? 'rigs' then jsonb_set(t.plan, '{rigs}', (select jsonb_agg(r::bigint + (k % ${size.rigs + 1}) * ${STRIDE})
    from jsonb_array_elements_text(t.plan -> 'rigs') r)) else t.plan end`;
  const times = size.copies + size.more;
  const of = (study: string) => `t.binned is null and (k <= ${size.copies} or ${study} = ${largest})`;
  const inStudy = (column: string, table: string) => of(`(select study_id from ${table} where id = t.${column})`);
  const inMount = (column: string) =>
    of(`(select s.study_id from all_specimens s join all_mounts m on m.specimen_id = s.id where m.id = t.${column})`);
  const inRun = (column: string) => inMount(`${column}`).replace(`t.${column})`, `(select mount_id from all_runs where id = t.${column}))`);
  await copy(
    ...(['all_studies', 'k', times] as const),
    { id: moved('id'), title: `t.title || ' ' || k`, reference_id: moved('reference_id'), created_at: earlier('created_at'), plan: rigs },
    of('t.id'),
  );
  await copy(
    ...(['all_specimens', 'k', times] as const),
    { id: moved('id'), study_id: moved('study_id'), material_id: turn('material_id', size.materials) },
    of('t.study_id'),
  );
  await copy(
    ...(['all_planned_mounts', 'k', times] as const),
    { id: moved('id'), study_id: moved('study_id'), specimen_id: moved('specimen_id'), rig_id: turn('rig_id', size.rigs) },
    of('t.study_id'),
  );
  await copy(
    ...(['all_mounts', 'k', times] as const),
    { id: moved('id'), specimen_id: moved('specimen_id'), rig_id: turn('rig_id', size.rigs), created_at: earlier('created_at') },
    inStudy('specimen_id', 'all_specimens'),
  );
  await copy(
    ...(['all_mount_attempts', 'k', times] as const),
    { id: moved('id'), mount_id: moved('mount_id'), begun_at: earlier('begun_at'), ended_at: earlier('ended_at') },
    inMount('mount_id'),
  );
  await copy(
    ...(['all_runs', 'k', times] as const),
    {
      ...{ id: moved('id'), mount_id: moved('mount_id'), import_id: 'gen_random_uuid()', started_at: earlier('started_at') },
      rise_k: `t.rise_k + 0.2 * sin(k * 1.7 + t.mount_id)`,
    },
    inMount('mount_id'),
  );
  await copy('findings', 'k', times, { id: moved('id'), run_id: moved('run_id') }, inRun('run_id').replace('t.binned is null and ', ''));
  await copy(
    ...(['run_files', 'k', times] as const),
    { run_id: moved('run_id'), sha256: 'sha256(t.sha256 || int4send(k))' },
    inRun('run_id').replace('t.binned is null and ', ''),
    'run_id',
  );
  await db.query('insert into study_versions (study_id) select id from all_studies on conflict do nothing');
  await db.query('commit');
  await db.query('analyze');
}

async function largestStudy(db: pg.Client): Promise<number> {
  const { rows } = await db.query('select study_id from placed_mounts group by study_id order by count(*) desc limit 1');
  if (!rows[0]) throw new Error('The store holds no demo to make a lab of.');
  return Number(rows[0].study_id);
}

/** Columns of every table that are written: not those the store computes. */
async function columnsOf(db: pg.Client): Promise<Map<string, string[]>> {
  const { rows } = await db.query<{ table_name: string; columns: string[] }>(`
    select table_name, array_agg(column_name::text order by ordinal_position) as columns from information_schema.columns
    where table_schema = 'public' and is_generated = 'NEVER' group by table_name`);
  return new Map(rows.map((r) => [r.table_name, r.columns]));
}
