import type { Client } from '#app/database/pool';
import { many, only } from '#app/database/query';

/** A sheet of a rig's as it was edited: the fields with their values before and after. */
export interface SheetChangeRow {
  section: 'rigs' | 'coolers' | 'instruments';
  sheet_id: number;
  name: string;
  at: Date;
  before: Record<string, unknown>;
  after: Record<string, unknown>;
}

/** Edits of a rig, of its coolers and of its instruments, the newest first. */
export const listRigChanges = (db: Client, rig: number, coolers: number[], instruments: number[]) =>
  many<SheetChangeRow>(db)`
    select c.section, c.sheet_id, c.at, c.before, c.after,
           coalesce(g.name, k.name, i.name, '') as name
    from sheet_changes c
    left join rigs g on c.section = 'rigs' and g.id = c.sheet_id
    left join coolers k on c.section = 'coolers' and k.id = c.sheet_id
    left join instruments i on c.section = 'instruments' and i.id = c.sheet_id
    where (c.section = 'rigs' and c.sheet_id = ${rig}) or (c.section = 'coolers' and c.sheet_id = any (${coolers}::bigint[]))
       or (c.section = 'instruments' and c.sheet_id = any (${instruments}::bigint[]))
    order by c.at desc limit 400`;

/** Instruments of a rig with when they were calibrated. */
export const listRigInstruments = (db: Client, rig: number) =>
  many<{ id: number; name: string; calibrated_on: string | null }>(db)`
    select i.id, i.name, i.sheet ->> 'calibrated_on' as calibrated_on
    from rigs g cross join lateral jsonb_array_elements(coalesce(g.sheet -> 'instruments', '[]')) e
    join instruments i on to_jsonb(i.id) = e where g.id = ${rig} order by i.name`;

/** What changes with every edit of a sheet. */
export const getSheetState = async (db: Client): Promise<string> =>
  (await only<{ state: string }>(db)`select concat_ws('.', count(*), max(id)) as state from sheet_changes`).state;
