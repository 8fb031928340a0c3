import { type Client, unlessUnwritten } from '#app/database/pool';
import { execute, many, type Statement, sql } from '#app/database/query';
import type { SectionKey } from '#features/shelf/model/sections';

/** Where a sheet was used: a study, the specimen it was there (none for a rig), and its mounts. */
export interface SheetUse {
  sheet_id: number;
  study_id: number;
  study: string;
  specimen: string | null;
  mounts: number;
  /** pieces of a material that its mounts took: one a part that it lies on; as many as its mounts for what is no material */
  pieces: number;
  first_at: Date | null;
  last_at: Date | null;
}

/** Pieces of a material that a mount takes: as many as parts of its rig that it lies on; what is tested lies on those that name none. */
const PIECES = (material: Statement) => sql`
  (select sum(coalesce((e ->> 'count')::int, 1)) from jsonb_array_elements(g.parts) e
   where (e ->> 'material_id')::bigint is not distinct from ${material})`;

/** First and last time of a mount's runs, and the newest of them. */
const RUNS = sql`
  left join lateral (
    select min(started_at) as first_at, max(started_at) as last_at, max(id) as last_run_id from runs where mount_id = m.id) r on true`;
const TIMES = sql`min(coalesce(r.first_at, m.created_at)) as first_at, max(coalesce(r.last_at, m.created_at)) as last_at`;

/**
 * What studies use of the shelf, told from their mounts: materials and coolers by the specimens that are them, materials by the rigs on whose
 * parts they always lie, rigs by the mounts on them.
 */
const OF_STUDIES = (ids: number[]) => sql`
  select sp.study_id, 'materials' as section, sp.material_id as sheet_id, sp.name as specimen, count(m.id)::int as mounts,
         coalesce(sum(case when m.id is not null then coalesce(${PIECES(sql`null`)}, 1) end), 0)::bigint as pieces, ${TIMES},
         0 as permanent, null::bigint as last_run_id
  from specimens sp left join mounts m on m.specimen_id = sp.id left join rigs g on g.id = m.rig_id ${RUNS}
  where sp.study_id = any (${ids}) and sp.material_id is not null group by sp.study_id, sp.material_id, sp.name
  union all
  select sp.study_id, 'materials', pm.id, null, count(m.id)::int, sum(${PIECES(sql`pm.id`)})::bigint, ${TIMES}, 0, null
  from specimens sp join mounts m on m.specimen_id = sp.id join rigs g on g.id = m.rig_id
  cross join lateral (select distinct (e ->> 'material_id')::bigint as id from jsonb_array_elements(g.parts) e) pm ${RUNS}
  where sp.study_id = any (${ids}) and pm.id is not null group by sp.study_id, pm.id
  union all
  select sp.study_id, 'coolers', sp.cooler_id, sp.name, count(m.id)::int, count(m.id), ${TIMES}, 0, null
  from specimens sp left join mounts m on m.specimen_id = sp.id ${RUNS}
  where sp.study_id = any (${ids}) and sp.cooler_id is not null group by sp.study_id, sp.cooler_id, sp.name
  union all
  select sp.study_id, 'rigs', m.rig_id, null, count(m.id)::int, count(m.id), ${TIMES},
         (count(m.id) filter (where ma.sheet -> 'permanent' = 'true'))::int, max(r.last_run_id)
  from specimens sp join mounts m on m.specimen_id = sp.id left join materials ma on ma.id = sp.material_id ${RUNS}
  where sp.study_id = any (${ids}) group by sp.study_id, m.rig_id`;

/** Studies whose uses are not written down as they are now, with the version that they are at. */
const staleStudies = (db: Client) =>
  many<{ study_id: number; version: number }>(db)`select study_id, version from study_versions where uses_version < version`;

/**
 * Writes down the uses of studies that changed since. What another transaction is at is left to it.
 * @returns studies that are still not written down: their uses are told from their mounts
 */
async function keepUses(db: Client): Promise<number[]> {
  const stale = await staleStudies(db);
  if (stale.length === 0) return [];
  const [ids, versions] = [stale.map((s) => s.study_id), stale.map((s) => s.version)];
  // one statement, and only for versions that were there before it: so the version is never newer than what is written down; a row that
  // another wrote down meanwhile is judged again when it is held, and left
  await execute(db)`
    with held as (
      select v.study_id, v.version from study_versions v
      join unnest(${ids}::bigint[], ${versions}::bigint[]) as s(study_id, version) using (study_id, version)
      where v.uses_version < v.version
      order by v.study_id for update of v skip locked),
    gone as (delete from kept_uses where study_id in (select study_id from held)),
    kept as (
      insert into kept_uses (study_id, section, sheet_id, specimen, mounts, pieces, first_at, last_at, permanent, last_run_id)
      select u.* from (${OF_STUDIES(ids)}) u where u.study_id in (select study_id from held))
    update study_versions v set uses_version = h.version from held h where v.study_id = h.study_id`.catch(unlessUnwritten);
  return (await staleStudies(db)).map((s) => s.study_id);
}

/** Uses as they are kept, and those of studies that are not kept as they are now. */
const OF_USES = (stale: number[]): Statement => {
  const kept = sql`select study_id, section, sheet_id, specimen, mounts, pieces, first_at, last_at, permanent, last_run_id from kept_uses`;
  return stale.length === 0 ? kept : sql`${kept} where study_id <> all (${stale}) union all ${OF_STUDIES(stale)}`;
};

/** Through which sheets a section is used: instruments and fans through the rigs and coolers that name them. */
const OF_SECTION = (section: SectionKey, stale: number[]): Statement => {
  if (section === 'instruments')
    return sql`
      select u.*, i.id::bigint as used_id from (${OF_USES(stale)}) u join rigs g on u.section = 'rigs' and g.id = u.sheet_id
      cross join lateral jsonb_array_elements_text(coalesce(g.sheet -> 'instruments', '[]')) i(id)`;
  if (section === 'fans')
    return sql`
      select u.*, f.id::bigint as used_id from (${OF_USES(stale)}) u join rigs g on u.section = 'rigs' and g.id = u.sheet_id
      join coolers c on c.id = (g.sheet ->> 'cooler_id')::bigint
      cross join lateral jsonb_array_elements_text(coalesce(c.sheet -> 'fans', '[]')) f(id)`;
  return sql`select u.*, u.sheet_id as used_id from (${OF_USES(stale)}) u where u.section = ${section}`;
};

/** Uses of the sheets of a section, or of some of them. */
export async function sheetUses(db: Client, section: SectionKey, ids: number[] | null = null): Promise<SheetUse[]> {
  if (ids?.length === 0) return [];
  const stale = await keepUses(db);
  const wanted = ids === null ? sql`true` : sql`u.used_id = any (${ids})`;
  return many<SheetUse>(db)`
    select u.used_id as sheet_id, u.study_id, st.title as study, u.specimen, sum(u.mounts)::int as mounts, sum(u.pieces)::bigint as pieces,
           min(u.first_at) as first_at, max(u.last_at) as last_at
    from (${OF_SECTION(section, stale)}) u join studies st on st.id = u.study_id where ${wanted}
    group by u.used_id, u.study_id, st.title, u.specimen order by sheet_id, study_id, specimen`;
}

/** The newest run on each rig, by rig. */
export async function listLastRuns(db: Client): Promise<Map<number, number>> {
  const stale = await keepUses(db);
  const rows = await many<{ rig_id: number; run_id: number }>(db)`
    select u.sheet_id as rig_id, max(u.last_run_id) as run_id from (${OF_USES(stale)}) u
    where u.section = 'rigs' and u.last_run_id is not null group by u.sheet_id`;
  return new Map(rows.map((r) => [r.rig_id, r.run_id]));
}

/** The studies in use that were last worked on: those of the newest runs. */
export async function listWorkedStudies(db: Client, most: number): Promise<number[]> {
  const stale = await keepUses(db);
  const rows = await many<{ study_id: number }>(db)`
    select u.study_id from (${OF_USES(stale)}) u join studies s on s.id = u.study_id
    where u.last_run_id is not null and s.archived_at is null
    group by u.study_id order by max(u.last_run_id) desc limit ${most}`;
  return rows.map((r) => r.study_id);
}

/** Mounts made on some rigs that used up a coupon: those of permanent materials. */
export async function listCouponsUsed(db: Client, rigs: number[]): Promise<Map<number, number>> {
  if (rigs.length === 0) return new Map();
  const stale = await keepUses(db);
  const rows = await many<{ rig_id: number; used: number }>(db)`
    select u.sheet_id as rig_id, sum(u.permanent)::int as used from (${OF_USES(stale)}) u
    where u.section = 'rigs' and u.sheet_id = any (${rigs}) group by u.sheet_id`;
  return new Map(rows.map((r) => [r.rig_id, r.used]));
}
