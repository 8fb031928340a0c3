import type { Client } from '#app/database/pool';
import type { SectionKey, SheetValues, StoredSheet } from '#features/shelf/model/sections';

/** The section is the name of its table; the type allows no other word, and this list no other at run time. */
const TABLES: Record<SectionKey, string> = {
  materials: 'materials',
  coolers: 'coolers',
  fans: 'fans',
  rigs: 'rigs',
  instruments: 'instruments',
};

const COLUMNS = 'id, name, sheet, version, archived_at is not null as archived';

export async function listSheets(db: Client, section: SectionKey): Promise<StoredSheet[]> {
  const { rows } = await db.query<StoredSheet>(`select ${COLUMNS} from ${TABLES[section]} order by name`);
  return rows;
}

export async function getSheet(db: Client, section: SectionKey, id: number): Promise<StoredSheet | null> {
  const { rows } = await db.query<StoredSheet>(`select ${COLUMNS} from ${TABLES[section]} where id = $1`, [id]);
  return rows[0] ?? null;
}

/** @returns null where the name is taken */
export async function insertSheet(db: Client, section: SectionKey, name: string, sheet: SheetValues): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into ${TABLES[section]} (name, sheet) values ($1, $2) on conflict (name) do nothing returning id`,
    [name, sheet],
  );
  return rows[0]?.id ?? null;
}

/**
 * Saves a sheet that was read at a version.
 * @returns false where somebody else saved it since
 * @throws a unique violation (23505) where the name is taken
 */
export async function updateSheet(
  db: Client,
  section: SectionKey,
  id: number,
  version: number,
  name: string,
  sheet: SheetValues,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update ${TABLES[section]} set name = $3, sheet = $4, version = version + 1 where id = $1 and version = $2`,
    [id, version, name, sheet],
  );
  return rowCount === 1;
}

/** Notes where an instrument is reached now; its version stays, for nobody edited it. */
export async function setAddress(db: Client, instrument: string, address: string): Promise<boolean> {
  const { rowCount } = await db.query(`update instruments set sheet = jsonb_set(sheet, '{address}', to_jsonb($2::text)) where name = $1`, [
    instrument,
    address,
  ]);
  return rowCount === 1;
}

export async function setArchived(db: Client, section: SectionKey, id: number, archived: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    `update ${TABLES[section]} set archived_at = case when $2 then coalesce(archived_at, now()) end where id = $1`,
    [id, archived],
  );
  return rowCount === 1;
}

export async function deleteSheet(db: Client, section: SectionKey, id: number): Promise<boolean> {
  const { rowCount } = await db.query(`delete from ${TABLES[section]} where id = $1`, [id]);
  return rowCount === 1;
}

/** Where a sheet was used: a study, the specimen it was there (none for a rig), and its mounts. */
export interface SheetUse {
  sheet_id: number;
  study_id: number;
  study: string;
  specimen: string | null;
  mounts: number;
  first_at: Date | null;
  last_at: Date | null;
}

/** Uses of the sheets of a section, or of one of them. Instruments and fans are used through the rigs and coolers that name them. */
export async function sheetUses(db: Client, section: SectionKey, id: number | null = null): Promise<SheetUse[]> {
  const { rows } = await db.query<SheetUse>(`${USES[section]} order by sheet_id, study_id, specimen`, [id]);
  return rows;
}

const OF_SPECIMEN = (column: string) => `
  select sp.${column} as sheet_id, st.id as study_id, st.title as study, sp.name as specimen,
         count(distinct m.id) as mounts, min(coalesce(r.started_at, m.created_at)) as first_at, max(coalesce(r.started_at, m.created_at)) as last_at
  from specimens sp join studies st on st.id = sp.study_id
  left join mounts m on m.specimen_id = sp.id left join runs r on r.mount_id = m.id
  where sp.${column} is not null and ($1::bigint is null or sp.${column} = $1)
  group by sp.${column}, st.id, sp.name`;

const OF_RIGS = (from: string, sheetId: string) => `
  select ${sheetId} as sheet_id, st.id as study_id, st.title as study, null::text as specimen,
         count(distinct m.id) as mounts, min(coalesce(r.started_at, m.created_at)) as first_at, max(coalesce(r.started_at, m.created_at)) as last_at
  from ${from} join mounts m on m.rig_id = g.id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id
  left join runs r on r.mount_id = m.id
  where $1::bigint is null or ${sheetId} = $1
  group by ${sheetId}, st.id`;

const USES: Record<SectionKey, string> = {
  materials: OF_SPECIMEN('material_id'),
  coolers: OF_SPECIMEN('cooler_id'),
  rigs: OF_RIGS('rigs g', 'g.id'),
  instruments: OF_RIGS(
    `rigs g cross join lateral jsonb_array_elements_text(coalesce(g.sheet -> 'instruments', '[]')) i(id)`,
    'i.id::bigint',
  ),
  fans: OF_RIGS(
    `rigs g join coolers c on c.id = (g.sheet ->> 'cooler_id')::bigint cross join lateral jsonb_array_elements_text(coalesce(c.sheet -> 'fans', '[]')) f(id)`,
    'f.id::bigint',
  ),
};

/** True where another sheet or a plan names this one, so that it may be archived but not deleted. */
export async function isNamed(db: Client, section: SectionKey, id: number): Promise<boolean> {
  const { rows } = await db.query<{ named: boolean }>(
    `select case $1::text
       when 'materials' then exists (select from specimens where material_id = $2)
       when 'coolers' then exists (select from specimens where cooler_id = $2) or exists (select from rigs where (sheet ->> 'cooler_id')::bigint = $2)
       when 'fans' then exists (select from coolers where sheet -> 'fans' @> to_jsonb($2::bigint))
       when 'rigs' then exists (select from mounts where rig_id = $2) or exists (select from planned_mounts where rig_id = $2)
                     or exists (select from studies where plan -> 'rigs' @> to_jsonb($2::bigint))
       else exists (select from rigs where sheet -> 'instruments' @> to_jsonb($2::bigint))
     end as named`,
    [section, id],
  );
  return rows[0].named;
}
