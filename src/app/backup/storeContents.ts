import type pg from 'pg';
import { list, plural } from '#core/text/words';

/** What a store holds: rows of each of its tables, and when its newest run was stored. */
export interface StoreContents {
  rows: Record<string, number>;
  newest_run: string | null;
}

/** Things a person knows, by the table that holds them. */
const THINGS: [table: string, one: string, many?: string][] = [
  ['studies', 'study', 'studies'],
  ['mounts', 'mount'],
  ['runs', 'run'],
  ['log_files', 'log file'],
  ['photographs', 'photograph'],
  ['reports', 'published report'],
  ['materials', 'material'],
  ['rigs', 'rig'],
  ['instruments', 'instrument'],
];

/** Counts every table of the store; a store that was never used has none. */
export async function storeContents(client: pg.ClientBase): Promise<StoreContents> {
  const { rows: tables } = await client.query<{ name: string }>(
    `select tablename as name from pg_tables where schemaname = 'public' order by tablename`,
  );
  if (tables.length === 0) return { rows: {}, newest_run: null };
  const { rows } = await client.query<{ name: string; count: number }>(
    tables.map(({ name }) => `select '${name}' as name, count(*) as count from public.${JSON.stringify(name)}`).join(' union all '),
  );
  const counted = Object.fromEntries(rows.map(({ name, count }) => [name, Number(count)]));
  const runs = ['all_runs', 'runs'].find((name) => name in counted);
  const newest = runs ? (await client.query<{ at: Date | null }>(`select max(created_at) as at from public.${runs}`)).rows[0].at : null;
  return { rows: counted, newest_run: newest?.toISOString() ?? null };
}

const countOf = ({ rows }: StoreContents, table: string): number => rows[`all_${table}`] ?? rows[table] ?? 0;

/** Whether nothing of a person's lies in the store. */
export const isEmpty = (contents: StoreContents): boolean => THINGS.every(([table]) => countOf(contents, table) === 0);

/** What a store holds, in words; things in the bin count. */
export function contentsWords(contents: StoreContents): string {
  if (isEmpty(contents)) return 'nothing yet';
  const things = THINGS.map(([table, one, many]) => [countOf(contents, table), one, many] as const);
  return list(things.filter(([count]) => count > 0).map((thing) => plural(...thing)));
}
