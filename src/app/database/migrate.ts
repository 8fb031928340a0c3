import { runner } from 'node-pg-migrate';
import { MIGRATIONS, pendingMigrations, unknownMigrations } from './migrationNames';

interface MigrateOptions {
  /** where the numbered .sql files lie */
  folder?: string;
  /** keeps a store that holds anything, before it is changed by a migration; where this fails nothing is changed */
  before?: (migration: string) => Promise<void>;
}

/**
 * Brings the store to the newest schema; safe at every start and from several processes at once. One that a newer program made is left as it is.
 * @returns names of the migrations that were applied
 */
export async function migrate(databaseUrl: string, { folder = MIGRATIONS, before }: MigrateOptions = {}): Promise<string[]> {
  const [newer] = await unknownMigrations(databaseUrl, folder);
  if (newer)
    throw new Error(
      `the store was brought to a newer version of Warm Gauge (${newer}). Nothing was changed. Start that version again, or use another folder or store.`,
    );
  const [next] = (before && (await pendingMigrations(databaseUrl, folder))) ?? [];
  if (before && next) await before(next);
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
