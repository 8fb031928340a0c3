import type { Client } from '#app/database/pool';
import { execute, first, many, only, sql, touches } from '#app/database/query';

export interface LayoutRow {
  id: number;
  name: string;
  headers: string[];
  reading: Record<string, unknown>;
  sensor: string | null;
  used: number;
  changed_at: Date;
}

interface NewLayout {
  name: string;
  headers: string[];
  reading: unknown;
  sensor: string | null;
}

const COLUMNS = sql`id, name, headers, reading, sensor, used, changed_at`;

/** All log formats by name. */
export const listLayouts = (db: Client) => many<LayoutRow>(db)`select ${COLUMNS} from layouts order by lower(name)`;

/** Keeps how files with these headers are read; what was kept for them before is replaced. */
export const saveLayout = (db: Client, { name, reading, sensor, ...layout }: NewLayout) => {
  const headers = JSON.stringify(layout.headers);
  return only<LayoutRow>(db)`
    insert into layouts (name, headers, headers_hash, reading, sensor)
    values (${name}, ${headers}, sha256(convert_to(${headers}::jsonb::text, 'UTF8')), ${JSON.stringify(reading)}, ${sensor})
    on conflict (headers_hash) do update set name = excluded.name, reading = excluded.reading, sensor = excluded.sensor, changed_at = now()
    returning ${COLUMNS}`;
};

/** A log format, held until the transaction ends; null where it is not there any more. */
export const lockLayout = (db: Client, id: number) => first<LayoutRow>(db)`select ${COLUMNS} from layouts where id = ${id} for update`;

/** @returns false where the layout is not there any more */
export const changeLayout = (db: Client, id: number, { name, reading, sensor }: Omit<NewLayout, 'headers'>) =>
  touches(db)`
    update layouts set name = ${name}, reading = ${JSON.stringify(reading)}, sensor = ${sensor}, changed_at = now() where id = ${id}`;

/** Deletes a layout; gives what it was, or null where there was none. */
export const deleteLayout = (db: Client, id: number) => first<LayoutRow>(db)`delete from layouts where id = ${id} returning ${COLUMNS}`;

/** Counts that a file was read by a layout. */
export const countUse = (db: Client, id: number) => execute(db)`update layouts set used = used + 1 where id = ${id}`;

/** True where a layout with other headers has this name. */
export const isNameTaken = (db: Client, name: string, headers: string[]) => touches(db)`
  select from layouts
  where name = ${name} and headers_hash <> sha256(convert_to(${JSON.stringify(headers)}::jsonb::text, 'UTF8'))`;
