import type pg from 'pg';

export interface RowsRead {
  total: number;
  tables: Map<string, number>;
  /** statements that were sent to the store */
  queries: number;
}

/**
 * Rows that the store read of its tables for some work, by scans and by indexes. What other connections counted is written down when they
 * end, so the idle ones are ended before and after; the application opens new ones.
 */
export async function rowsRead(db: pg.Client, work: () => Promise<void>): Promise<RowsRead> {
  await endOthers(db);
  await db.query('create extension if not exists pg_stat_statements');
  await writeSomething(db);
  const before = await counted(db);
  await db.query('select pg_stat_statements_reset(0, (select oid from pg_database where datname = current_database()), 0)');
  await work();
  const queries = await queriesSent(db);
  await endOthers(db);
  const tables = new Map([...(await counted(db))].map(([table, rows]) => [table, rows - (before.get(table) ?? 0)]));
  return { total: [...tables.values()].reduce((a, b) => a + b, 0), tables, queries };
}

/** Statements since the count was begun, but for the looks of the live runs' supervisor, which come by the clock, and those of this count. */
async function queriesSent(db: pg.Client): Promise<number> {
  const { rows } = await db.query(`select coalesce(sum(calls), 0)::int as n from pg_stat_statements
    where dbid = (select oid from pg_database where datname = current_database()) and toplevel
      and query !~ '(pg_stat_|live_runs|settings|instruments set|^listen|advisory)'`);
  return rows[0].n;
}

async function counted(db: pg.Client): Promise<Map<string, number>> {
  await db.query('select pg_stat_clear_snapshot()');
  const { rows } = await db.query('select relname, (seq_tup_read + coalesce(idx_tup_fetch, 0))::bigint as rows from pg_stat_user_tables');
  return new Map(rows.map((r) => [r.relname, Number(r.rows)]));
}

async function endOthers(db: pg.Client): Promise<void> {
  const others = `from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and backend_type = 'client backend'`;
  for (let tries = 0; tries < 100; tries++) {
    const { rows } = await db.query(`select count(*) ${others}`);
    if (Number(rows[0].count) === 0) return;
    await db.query(`select pg_terminate_backend(pid) ${others} and state = 'idle'`);
    await new Promise((done) => setTimeout(done, 20));
  }
  throw new Error('Other connections to the store do not end.');
}

/** Moves the store on, so that pages are drawn anew: those that were drawn are shared only while nothing is written. */
export const writeSomething = (db: pg.Client) => db.query(`select pg_logical_emit_message(false, 'benchmark', 'moves on')`);
