import pg from 'pg';

/** Counts and ids come as numbers: none of them nears 2^53. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
// the driver's list of types has none of arrays, whose numbers are these
const [TEXT_ARRAY, INT8_ARRAY] = [1009, 1016] as number[] as Parameters<typeof pg.types.setTypeParser>[0][];
const readTexts: (text: string) => string[] = pg.types.getTypeParser(TEXT_ARRAY);
pg.types.setTypeParser(INT8_ARRAY, (text) => readTexts(text).map(Number));

let pool: pg.Pool | null = null;
/** When a query was last answered, ms since 1970. */
let answeredAt = 0;

/** A reader waits so long for his turn. */
const MOST_WAIT_MS = 8000;

export type Client = pg.Pool | pg.ClientBase;

/** The process's connection pool to the store named by DATABASE_URL. */
export function database(): pg.Pool {
  if (!pool) {
    const connectionString = process.env.DATABASE_URL;
    if (!connectionString) throw new Error('DATABASE_URL is not set; start the application with ./warm-gauge.');
    pool = new pg.Pool({ connectionString, max: 10, connectionTimeoutMillis: MOST_WAIT_MS, idleTimeoutMillis: 30_000 });
    // an idle connection that breaks is replaced at the next query; without a listener it would end the process
    pool.on('error', () => {});
    pool.on('release', (error) => {
      if (!error) answeredAt = Date.now();
    });
    // the same for one that breaks while it is in use: its query says so
    pool.on('connect', (client) => client.on('error', () => {}));
  }
  return pool;
}

/** Ends the pool; a later query would make a new one. */
export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = null;
}

/** Runs work in one transaction; nothing of it stays where it throws. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await database().connect();
  let broken: Error | undefined;
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((e: Error) => {
      broken = e;
    });
    throw error;
  } finally {
    client.release(broken);
  }
}

const GONE = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
  '57P01',
  '57P02',
  '57P03',
  '08000',
  '08001',
  '08003',
  '08006',
  '53300',
]);

const isLongWait = (error: unknown): boolean => error instanceof Error && /timeout exceeded when trying to connect/i.test(error.message);

/** True where a turn did not come in time although the store answers: too many ask at once. */
export const isStoreBusy = (error: unknown): boolean => isLongWait(error) && Date.now() - answeredAt < 2 * MOST_WAIT_MS;

/** True where an error means that the store cannot be reached, as against a refused statement. */
export function isDatabaseGone(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  if (isLongWait(error)) return !isStoreBusy(error);
  const code = (error as NodeJS.ErrnoException).code ?? '';
  return GONE.has(code) || /connection terminated|not queryable/i.test(error.message);
}

/** True where the disk of the store, or of what comes in, has no room left. */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && ['53100', 'ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException).code ?? '');

/** Lets go of what could not be written down because the disk is full, where the answer does not rest on it. */
export const unlessFull = (error: unknown): null => {
  if (!isDiskFull(error)) throw error;
  return null;
};

/** Throws where the store does not answer. */
export async function askStore(): Promise<void> {
  await database().query('select 1');
}

/** How far the store has written: the same as before means that nothing was written since. */
async function askMarker(): Promise<string> {
  const { rows } = await database().query<{ at: string }>(
    'select current_database() || case when pg_is_in_recovery() then pg_last_wal_replay_lsn() else pg_current_wal_insert_lsn() end::text as at',
  );
  return rows[0].at;
}

let asking: Promise<string> | null = null;
let waiting: Promise<string> | null = null;

/** How far the store has written by now. Who asks while an answer is on its way waits for the next, all together. */
export function storeMarker(): Promise<string> {
  if (!asking) {
    asking = askMarker().finally(() => {
      asking = null;
    });
    return asking;
  }
  waiting ??= asking
    .catch(() => '')
    .then(() => {
      waiting = null;
      return storeMarker();
    });
  return waiting;
}
