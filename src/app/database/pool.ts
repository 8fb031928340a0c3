import pg from 'pg';

/** Counts and ids come as numbers: none of them nears 2^53. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
// the driver's list of types has none of arrays, whose numbers are these
const [TEXT_ARRAY, INT8_ARRAY] = [1009, 1016] as number[] as Parameters<typeof pg.types.setTypeParser>[0][];
const readTexts: (text: string) => string[] = pg.types.getTypeParser(TEXT_ARRAY);
pg.types.setTypeParser(INT8_ARRAY, (text) => readTexts(text).map(Number));

let pool: pg.Pool | null = null;

export type Client = pg.Pool | pg.ClientBase;

/** The process's connection pool to the store named by DATABASE_URL. */
export function database(): pg.Pool {
  if (!pool) {
    const connectionString = process.env.DATABASE_URL;
    if (!connectionString) throw new Error('DATABASE_URL is not set; start the application with ./warm-gauge.');
    pool = new pg.Pool({ connectionString, max: 10, connectionTimeoutMillis: 4000, idleTimeoutMillis: 30_000 });
    // an idle connection that breaks is replaced at the next query; without a listener it would end the process
    pool.on('error', () => {});
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

/** True where an error means that the store cannot be reached, as against a refused statement. */
export function isDatabaseGone(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const code = (error as NodeJS.ErrnoException).code ?? '';
  return GONE.has(code) || /connection terminated|timeout exceeded when trying to connect|not queryable/i.test(error.message);
}

/** Throws where the store does not answer. */
export async function askStore(): Promise<void> {
  await database().query('select 1');
}
