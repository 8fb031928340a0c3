import { AsyncLocalStorage } from 'node:async_hooks';
import pg from 'pg';
import { isConnectionBroken } from './pool';

/** The store's server may have gone and come back under all connections there are: a pause lets the pool see that, longer each time. */
const MOST_TRIES = 5;
const PAUSE_MS = 20;

/** Who reads, and whether he has left. */
const readers = new AsyncLocalStorage<AbortSignal>();

/**
 * Does what somebody asked for and only reads: where he leaves, the query that is under way for him is ended, and none is begun.
 * @param left aborted when he leaves
 */
export const whileAsked = <T>(left: AbortSignal, work: () => Promise<T>): Promise<T> => readers.run(left, work);

/** True where an error is that who asked has left. */
export const hasLeft = (error: unknown): boolean =>
  readers.getStore()?.aborted === true &&
  error instanceof Error &&
  (error.name === 'AbortError' || (error as { code?: string }).code === '57014');

/** A query for whoever asks; it ends with him, and is asked again where its connection breaks. */
export async function queryForReader<Row extends pg.QueryResultRow>(
  db: pg.Pool | pg.ClientBase,
  text: string,
  values: unknown[],
): Promise<pg.QueryResult<Row>> {
  const left = readers.getStore();
  // what runs in a transaction is not cut in pieces
  if (!left || !(db instanceof pg.Pool)) return db.query<Row>(text, values);
  left.throwIfAborted();
  for (let tries = 1; ; tries++) {
    try {
      return await queryUntil<Row>(left, db, text, values);
    } catch (error) {
      // a connection that broke while nobody used it; what only reads is asked again on another
      if (tries === MOST_TRIES || !isConnectionBroken(error)) throw error;
      await new Promise((next) => setTimeout(next, tries * PAUSE_MS));
    }
  }
}

async function queryUntil<Row extends pg.QueryResultRow>(
  left: AbortSignal,
  db: pg.Pool,
  text: string,
  values: unknown[],
): Promise<pg.QueryResult<Row>> {
  const client = await db.connect();
  let ending: Promise<void> | null = null;
  const end = () => {
    ending = cancelQuery(client, db.options.connectionString);
  };
  try {
    left.throwIfAborted();
    left.addEventListener('abort', end, { once: true });
    return await client.query<Row>(text, values);
  } finally {
    left.removeEventListener('abort', end);
    // the end comes before another uses the connection: late, it would end a query of his
    await ending;
    client.release();
  }
}

/** Has the server end the query that a connection to it waits for. */
async function cancelQuery(client: pg.PoolClient, connectionString: string | undefined): Promise<void> {
  const { processID } = client as unknown as { processID: number };
  const other = new pg.Client({ connectionString, connectionTimeoutMillis: 2000, query_timeout: 2000 });
  other.on('error', () => {});
  try {
    await other.connect();
    await other.query('select pg_cancel_backend($1)', [processID]);
  } catch {
    // it ends by itself then
  } finally {
    await other.end().catch(() => {});
  }
}
