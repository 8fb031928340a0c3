import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { startProgram } from '#app/database/programs';
import type { Backup } from './backupFile';
import { type StoreContents, storeContents } from './storeContents';

/** What lies in a store now, and who else is at it. */
export interface StoreNow {
  contents: StoreContents;
  /** version of its server */
  server: number;
  /** connections of other programs */
  others: number;
}

/** Looks at the store that a backup is to be restored into. */
export async function lookAtStore(databaseUrl: string): Promise<StoreNow> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows } = await client.query<{ server: number; others: number }>(
      `select current_setting('server_version_num')::int / 10000 as server,
        (select count(*)::int from pg_stat_activity
         where datname = current_database() and pid <> pg_backend_pid() and backend_type = 'client backend') as others`,
    );
    return { contents: await storeContents(client), ...rows[0] };
  } finally {
    await client.end();
  }
}

/**
 * Puts a backup in the place of all that lies in a store, in one transaction: where anything goes wrong, or a table does not have the rows that
 * the backup tells of, the store is as it was.
 * @throws Error with what PostgreSQL says
 */
export async function restoreBackup(databaseUrl: string, backup: Backup, server: number): Promise<void> {
  const reader = startProgram('pg_restore', ['--file=-', '--no-owner', '--no-privileges'], { server });
  const writer = startProgram('psql', ['--no-psqlrc', '--quiet', '--set=ON_ERROR_STOP=1', '--no-password', '--file=-', '--dbname'], {
    url: databaseUrl,
    server,
  });
  writer.child.stdout.resume();
  const store = writer.child.stdin;
  try {
    store.write('begin;\ndrop schema if exists public cascade;\ncreate schema public;\n');
    await Promise.all([
      pipeline(await backup.dump(), reader.child.stdin).catch(() => {}),
      pipeline(reader.child.stdout, store, { end: false }).catch(() => {}),
    ]);
    // what is read up to a break would look whole to the store: only a reader that is through says that it may stay
    const broke = await reader.told;
    if (broke === null) {
      store.write(sameRows(backup.about.contents));
      store.end('commit;\n');
    } else writer.child.kill();
    const refused = await writer.told;
    if (broke !== null || refused !== null) throw new Error(`The backup was not restored, and the store is as it was: ${refused ?? broke}`);
  } finally {
    reader.child.kill();
    writer.child.kill();
  }
}

/** Ends the transaction where a table has other rows than the backup tells of. */
const sameRows = ({ rows }: StoreContents): string =>
  Object.entries(rows)
    .map(
      ([table, count]) =>
        `do $$ begin if (select count(*) from public.${quoted(table)}) <> ${count} then raise exception '% has other rows than the backup tells of', ${literal(table)}; end if; end $$;\n`,
    )
    .join('');

const quoted = (name: string): string => pg.escapeIdentifier(name);
const literal = (text: string): string => pg.escapeLiteral(text);
