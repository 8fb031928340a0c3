import { AsyncLocalStorage } from 'node:async_hooks';
import pg from 'pg';
import { seekPrimary, storeUrl } from './servers';

/** Counts and ids come as numbers: none of them nears 2^53. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
// the driver's list of types has none of arrays, whose numbers are these
const [TEXT_ARRAY, INT8_ARRAY] = [1009, 1016] as number[] as Parameters<typeof pg.types.setTypeParser>[0][];
const readTexts: (text: string) => string[] = pg.types.getTypeParser(TEXT_ARRAY);
pg.types.setTypeParser(INT8_ARRAY, (text) => readTexts(text).map(Number));

let pool: pg.Pool | null = null;
/** Connections to a standby, where readers are served by one. */
let readers: pg.Pool | null = null;
/** Who only reads, and from where. */
const reading = new AsyncLocalStorage<pg.Pool>();
/** When a query was last answered, ms since 1970. */
let answeredAt = 0;

/** A reader waits so long for his turn. */
const MOST_WAIT_MS = 8000;

export type Client = pg.Pool | pg.ClientBase;

/** The process's connection pool to the store named by DATABASE_URL; for who only reads that of the standby. */
export function database(): pg.Pool {
  const own = reading.getStore();
  if (own) return own;
  pool ??= openPool(storeUrl());
  return pool;
}

function openPool(connectionString: string, application_name?: string): pg.Pool {
  const opened = new pg.Pool({
    ...{ connectionString, application_name, max: 10, connectionTimeoutMillis: MOST_WAIT_MS, idleTimeoutMillis: 30_000 },
  });
  // an idle connection that breaks is replaced at the next query; without a listener it would end the process
  opened.on('error', () => {});
  opened.on('release', (error) => {
    if (!error) answeredAt = Date.now();
  });
  // the same for one that breaks while it is in use: its query says so
  opened.on('connect', (client) => client.on('error', () => {}));
  return opened;
}

/** Ends the pools; a later query would make new ones. */
export async function closeDatabase(): Promise<void> {
  await Promise.all([pool?.end(), readers?.end()]);
  pool = null;
  readers = null;
}

/**
 * Where the store has several servers, looks which of them takes what is written, and goes on with that; to be called where the one that did
 * does not answer.
 */
export async function followStore(): Promise<void> {
  if (!(await seekPrimary())) return;
  const before = pool;
  pool = null;
  void before?.end().catch(() => {});
}

/** How far this process knows the store to be written; readers are not shown less. */
let writtenTo: string | null = null;

/** Notes that something was written, so that who reads from a standby next is shown it. */
export async function noteWritten(): Promise<void> {
  // what was written stays written, whether or not it can be asked how far that is
  if (process.env.DATABASE_READ_URL) writtenTo = await markerOf(database()).catch(() => writtenTo);
}

/**
 * Reads from the standby that DATABASE_READ_URL names: nothing may be written by the work. Where there is none, where it does not answer, or
 * where it is not as far as what this process wrote, the store itself is read.
 */
export async function fromStandby<T>(work: () => Promise<T>): Promise<T> {
  const url = process.env.DATABASE_READ_URL;
  if (!url) return work();
  readers ??= openPool(url, 'warm gauge readers');
  const from = readers;
  const reached = await markerOf(from).catch(() => null);
  if (reached === null || (writtenTo !== null && isBefore(reached, writtenTo))) return work();
  return reading.run(from, work);
}

/** Whether a position of the write-ahead log, as PostgreSQL writes it, comes before another. */
function isBefore(a: string, b: string): boolean {
  const [x, y] = [a, b].map((p) => p.split('/').map((part) => Number.parseInt(part, 16)));
  return x[0] === y[0] ? x[1] < y[1] : x[0] < y[0];
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
  // a server that has become a standby
  '25006',
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
  return GONE.has(code) || isConnectionBroken(error);
}

/** True where a connection that was had is lost, be the store there or not. */
export const isConnectionBroken = (error: unknown): boolean =>
  error instanceof Error &&
  (['57P01', '57P02', 'ECONNRESET', 'EPIPE'].includes((error as NodeJS.ErrnoException).code ?? '') ||
    /connection terminated|not queryable/i.test(error.message));

/** True where the disk of the store, or of what comes in, has no room left. */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof Error && ['53100', 'ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException).code ?? '');

/** Lets go of what could not be written down, because the disk is full or a standby is read, where the answer does not rest on it. */
export const unlessUnwritten = (error: unknown): null => {
  if (!isDiskFull(error) && (error as { code?: string }).code !== '25006') throw error;
  return null;
};

/** Throws where the store does not answer. */
export async function askStore(): Promise<void> {
  await database().query('select 1');
}

/** How far a server has written, as PostgreSQL writes such a position. */
async function markerOf(from: pg.Pool): Promise<string> {
  const { rows } = await from.query<{ at: string }>(
    'select case when pg_is_in_recovery() then pg_last_wal_replay_lsn() else pg_current_wal_insert_lsn() end::text as at',
  );
  return rows[0].at;
}

/** For each pool the answer that is on its way, and the next, for which all wait who asked meanwhile. */
const asked = new WeakMap<pg.Pool, { asking: Promise<string>; next: Promise<string> | null }>();

/**
 * How far what is read has been written by now: the same as before means that nothing was written since. Who asks while an answer is on its
 * way waits for the next, all together.
 */
export function storeMarker(): Promise<string> {
  const from = database();
  const known = asked.get(from);
  if (!known) {
    const asking = markerOf(from)
      .then((at) => `${from === readers ? 'standby' : 'store'} ${at}`)
      .finally(() => asked.delete(from));
    asked.set(from, { asking, next: null });
    return asking;
  }
  known.next ??= known.asking.catch(() => '').then(storeMarker);
  return known.next;
}
