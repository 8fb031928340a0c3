import type { Client } from '#app/database/pool';

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

const COLUMNS = 'id, name, headers, reading, sensor, used, changed_at';

export async function listLayouts(db: Client): Promise<LayoutRow[]> {
  const { rows } = await db.query<LayoutRow>(`select ${COLUMNS} from layouts order by lower(name)`);
  return rows;
}

/** Keeps how files with these headers are read; what was kept for them before is replaced. */
export async function saveLayout(db: Client, { name, headers, reading, sensor }: NewLayout): Promise<LayoutRow> {
  const { rows } = await db.query<LayoutRow>(
    `insert into layouts (name, headers, headers_hash, reading, sensor) values ($1, $2, sha256(convert_to($2::jsonb::text, 'UTF8')), $3, $4)
     on conflict (headers_hash) do update set name = excluded.name, reading = excluded.reading, sensor = excluded.sensor, changed_at = now()
     returning ${COLUMNS}`,
    [name, JSON.stringify(headers), JSON.stringify(reading), sensor],
  );
  return rows[0];
}

/** @returns false where the layout is not there any more */
export async function changeLayout(db: Client, id: number, { name, reading, sensor }: Omit<NewLayout, 'headers'>): Promise<boolean> {
  const { rowCount } = await db.query('update layouts set name = $2, reading = $3, sensor = $4, changed_at = now() where id = $1', [
    id,
    name,
    JSON.stringify(reading),
    sensor,
  ]);
  return rowCount === 1;
}

export async function deleteLayout(db: Client, id: number): Promise<LayoutRow | null> {
  const { rows } = await db.query<LayoutRow>(`delete from layouts where id = $1 returning ${COLUMNS}`, [id]);
  return rows[0] ?? null;
}

export async function countUse(db: Client, id: number): Promise<void> {
  await db.query('update layouts set used = used + 1 where id = $1', [id]);
}

/** Name of a layout that has this name already and other headers. */
export async function isNameTaken(db: Client, name: string, headers: string[]): Promise<boolean> {
  const { rows } = await db.query(`select 1 from layouts where name = $1 and headers_hash <> sha256(convert_to($2::jsonb::text, 'UTF8'))`, [
    name,
    JSON.stringify(headers),
  ]);
  return rows.length > 0;
}
