import { runner } from 'node-pg-migrate';

/**
 * Brings the store to the newest schema; safe at every start and from several processes at once.
 * @param folder where the numbered .sql files lie
 * @returns names of the migrations that were applied
 */
export async function migrate(databaseUrl: string, folder = 'src/app/database/migrations'): Promise<string[]> {
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
