import pg from 'pg';

/**
 * Addresses of the servers of a store, one for each of what DATABASE_URL names: as for PostgreSQL's own programs several hosts stand in one
 * address, divided by commas, each with its port.
 * @example serversOf('postgres://me@one:5432,two:5433/lab')
 */
export function serversOf(url: string): string[] {
  const [, before, hosts, after] = /^(\w+:\/\/(?:[^@/]*@)?)([^/?]*)(.*)$/.exec(url) ?? [];
  return hosts === undefined ? [url] : hosts.split(',').map((host) => `${before}${host}${after}`);
}

let at = 0;
let seeking: Promise<boolean> | null = null;

/** Address of the server that takes what is written, as far as is known. */
export function storeUrl(): string {
  const given = process.env.DATABASE_URL;
  if (!given) throw new Error('DATABASE_URL is not set; start the application with ./warm-gauge.');
  const servers = serversOf(given);
  return servers[at % servers.length];
}

/**
 * Looks which of several servers takes what is written: one that is no standby, and of several that say so the one that was made so last, for
 * an old one may come back without knowing that another took its place.
 * @returns true where it is another than before
 */
export function seekPrimary(): Promise<boolean> {
  seeking ??= seek().finally(() => {
    seeking = null;
  });
  return seeking;
}

async function seek(): Promise<boolean> {
  const servers = serversOf(process.env.DATABASE_URL ?? '');
  if (servers.length < 2) return false;
  const timelines = await Promise.all(servers.map(timelineOf));
  const newest = timelines.indexOf(Math.max(...timelines));
  if (timelines[newest] < 0 || newest === at) return false;
  at = newest;
  return true;
}

/** The timeline that a server writes: it rises each time a standby takes over; -1 where it is a standby or does not answer. */
async function timelineOf(url: string): Promise<number> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 2000, query_timeout: 2000 });
  client.on('error', () => {});
  try {
    await client.connect();
    const { rows } = await client.query<{ timeline: string | null }>(
      `select case when not pg_is_in_recovery() then substr(pg_walfile_name(pg_current_wal_insert_lsn()), 1, 8) end as timeline`,
    );
    return rows[0].timeline === null ? -1 : Number.parseInt(rows[0].timeline, 16);
  } catch {
    return -1;
  } finally {
    await client.end().catch(() => {});
  }
}
