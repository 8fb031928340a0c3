import { runner } from 'node-pg-migrate';
import { keepDump, pendingMigrations, unknownMigrations } from './dump';

interface MigrateOptions {
  /** where the numbered .sql files lie */
  folder?: string;
  /** where a dump of the store is kept before it is changed; none is kept where this is missing */
  dumps?: string;
  say?: (sentence: string) => void;
}

/**
 * Brings the store to the newest schema; safe at every start and from several processes at once. A store that holds anything is dumped
 * before it is changed. One that a newer program made is left as it is.
 * @returns names of the migrations that were applied
 */
export async function migrate(
  databaseUrl: string,
  { folder = 'src/app/database/migrations', dumps, say = () => {} }: MigrateOptions = {},
): Promise<string[]> {
  const [newer] = await unknownMigrations(databaseUrl, folder);
  if (newer)
    throw new Error(
      `the store was brought to a newer version of Warm Gauge (${newer}). Nothing was changed. Start that version again, or use another folder or store.`,
    );
  const pending = dumps === undefined ? null : await pendingMigrations(databaseUrl, folder);
  if (dumps !== undefined && pending !== null && pending.length > 0)
    say(`The store is brought to this version; as it was it is kept in ${await keepDump(databaseUrl, dumps, pending[0])}`);
  const done = await runner({
    databaseUrl,
    dir: folder,
    direction: 'up',
    migrationsTable: 'migrations',
    advisoryLockMode: 'wait',
    log: () => {},
  });
  return done.map((m) => m.name);
}
