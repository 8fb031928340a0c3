import type { Client } from '#app/database/pool';
import { execute, first, many, only, type Statement, sql, touches } from '#app/database/query';
import type { SectionKey, SheetValues, StoredSheet } from '#features/shelf/model/sections';

/** The section is the name of its table; the type allows no other word, and this list no other at run time. */
const TABLES: Record<SectionKey, Statement> = {
  materials: sql`materials`,
  coolers: sql`coolers`,
  fans: sql`fans`,
  rigs: sql`rigs`,
  instruments: sql`instruments`,
};

const COLUMNS = sql`id, name, sheet, version, archived_at is not null as archived`;

/** The first sheets of a section by name, and one more where there are more. */
export const listFirstSheets = (db: Client, section: SectionKey, most: number) =>
  many<StoredSheet>(db)`select ${COLUMNS} from ${TABLES[section]} order by name limit ${most + 1}`;

/** All sheets of a section by name. */
export const listSheets = (db: Client, section: SectionKey) =>
  many<StoredSheet>(db)`select ${COLUMNS} from ${TABLES[section]} order by name`;

/** Materials in use by their names, with their kinds: what can be chosen for a study. */
export const listMaterialNames = (db: Client) =>
  many<{ id: number; name: string; kind: string }>(db)`
    select id, name, coalesce(sheet ->> 'kind', 'paste') as kind from materials where archived_at is null order by name`;

/** A material as a layer: its conductivity in W/(m·K), and its thickness or bond line in mm where its sheet tells one. */
export interface Conductor {
  name: string;
  k: number;
  thickness_mm: number | null;
}

/** Materials in use whose conductivity is known, by name. */
export const listConductors = (db: Client) =>
  many<Conductor>(db)`
    select name, (sheet ->> 'conductivity_w_per_mk')::float8 as k,
      coalesce((sheet ->> 'thickness_mm')::float8, (sheet ->> 'bond_line_um')::float8 / 1000) as thickness_mm
    from materials where archived_at is null and (sheet ->> 'conductivity_w_per_mk')::float8 > 0 order by name`;

/** A sheet by its number; null where there is none. */
export const getSheet = (db: Client, section: SectionKey, id: number) =>
  first<StoredSheet>(db)`select ${COLUMNS} from ${TABLES[section]} where id = ${id}`;

/** A sheet in use by its name, however its letters are written; null where there is none. */
export const findSheet = (db: Client, section: SectionKey, name: string) =>
  first<StoredSheet>(db)`
    select ${COLUMNS} from ${TABLES[section]} where lower(name) = lower(${name}) and archived_at is null order by id limit 1`;

/** @returns null where the name is taken */
export const insertSheet = async (db: Client, section: SectionKey, name: string, sheet: SheetValues): Promise<number | null> =>
  (
    await first<{ id: number }>(db)`
      insert into ${TABLES[section]} (name, sheet) values (${name}, ${sheet}) on conflict (name) do nothing returning id`
  )?.id ?? null;

/** Puts a sheet on the shelf under a number that was reserved for it. */
export const insertNumberedSheet = (db: Client, section: SectionKey, s: Omit<StoredSheet, 'archived'>) => execute(db)`
  insert into ${TABLES[section]} (id, name, sheet, version) overriding system value values (${s.id}, ${s.name}, ${s.sheet}, ${s.version})`;

/**
 * Saves a sheet that was read at a version.
 * @returns false where somebody else saved it since
 * @throws a unique violation (23505) where the name is taken
 */
export const updateSheet = (db: Client, section: SectionKey, id: number, version: number, name: string, sheet: SheetValues) =>
  touches(db)`
    update ${TABLES[section]} set name = ${name}, sheet = ${sheet}, version = version + 1 where id = ${id} and version = ${version}`;

/** Notes where an instrument is reached now; its version stays, for nobody edited it. */
export const setAddress = (db: Client, instrument: string, address: string) =>
  touches(db)`update instruments set sheet = jsonb_set(sheet, '{address}', to_jsonb(${address}::text)) where name = ${instrument}`;

/** Archives a sheet or brings it back; false where there is none. */
export const setArchived = (db: Client, section: SectionKey, id: number, archived: boolean) =>
  touches(db)`
    update ${TABLES[section]} set archived_at = case when ${archived} then coalesce(archived_at, now()) end where id = ${id}`;

/** Deletes a sheet; false where there is none. */
export const deleteSheet = (db: Client, section: SectionKey, id: number) => touches(db)`delete from ${TABLES[section]} where id = ${id}`;

/** Deletes a sheet and gives its row as it was; null where there is none. */
export const takeSheet = async (db: Client, section: SectionKey, id: number) =>
  (
    await first<{ row: { id: number; name: string } }>(db)`
      delete from ${TABLES[section]} t where id = ${id} returning to_jsonb(t) as row`
  )?.row ?? null;

/** Puts a sheet back as it was; under another name where its own was taken meanwhile. */
export async function putSheetBack(db: Client, section: SectionKey, row: { id: number; name: string }): Promise<void> {
  const [table] = [TABLES[section]];
  const isTaken = (await first(db)`select id from ${table} where name = ${row.name}`) !== null;
  const named = isTaken ? { ...row, name: `${row.name.slice(0, 55)} (restored ${row.id})` } : row;
  await execute(db)`insert into ${table} overriding system value select * from jsonb_populate_record(null::${table}, ${named})`;
}

/** Specimens that are a sheet and go by its name take its new one, where no other of their study has it. */
export const carryName = (db: Client, section: SectionKey, id: number, from: string, to: string) => {
  const column = section === 'materials' ? sql`s.material_id` : section === 'coolers' ? sql`s.cooler_id` : null;
  return column === null
    ? Promise.resolve()
    : execute(db)`
        update specimens s set name = ${to}
        where s.name = ${from} and ${column} = ${id}
          and not exists (select from specimens o where o.study_id = s.study_id and o.name = ${to})`;
};

/** True where another sheet or a plan names this one, so that it may be archived but not deleted. */
export const isNamed = async (db: Client, section: SectionKey, id: number): Promise<boolean> =>
  (
    await only<{ named: boolean }>(db)`select case ${section}::text
        when 'materials' then exists (select from all_specimens where material_id = ${id})
                      or exists (select from rigs, jsonb_array_elements(parts) e where (e ->> 'material_id')::bigint = ${id})
        when 'coolers' then exists (select from all_specimens where cooler_id = ${id}) or exists (select from rigs where (sheet ->>
          'cooler_id')::bigint = ${id})
        when 'fans' then exists (select from coolers where sheet -> 'fans' @> to_jsonb(${id}::bigint))
        when 'rigs' then exists (select from all_mounts where rig_id = ${id}) or exists (select from all_planned_mounts where rig_id = ${id})
                      or exists (select from photographs where rig_id = ${id})
                      or exists (select from all_studies where plan -> 'rigs' @> to_jsonb(${id}::bigint))
        else exists (select from rigs where sheet -> 'instruments' @> to_jsonb(${id}::bigint))
      end as named`
  ).named;
