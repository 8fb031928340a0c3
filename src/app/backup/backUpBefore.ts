import path from 'node:path';
import { beforeName } from './keptBackups';
import { makeBackup } from './makeBackup';

/**
 * Keeps the store as it is before a migration changes it.
 * @param say told where it is kept
 * @returns what `migrate` asks for
 */
export const backUpBefore =
  (databaseUrl: string, folder: string, say: (sentence: string) => void) =>
  async (migration: string): Promise<void> => {
    const file = path.join(folder, beforeName(migration, new Date()));
    try {
      await makeBackup(databaseUrl, file);
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error);
      throw new Error(
        `the store must be changed for this version, and no backup of it could be made before that (${why}). Nothing was changed. Make room in ${folder} or install the client of the server’s PostgreSQL version (postgresql-client), and start again.`,
      );
    }
    say(`The store is brought to this version; as it was it is kept in ${file}`);
  };
