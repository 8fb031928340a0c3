import { readdirSync } from 'node:fs';
import pg from 'pg';

/** Where the numbered .sql files lie. */
export const MIGRATIONS = 'src/app/database/migrations';

/** Migrations that lie in the folder and are not applied; null where the store is new and holds nothing. */
export async function pendingMigrations(databaseUrl: string, folder = MIGRATIONS): Promise<string[] | null> {
  const applied = await appliedMigrations(databaseUrl);
  return applied.length === 0 ? null : migrationsOf(folder).filter((name) => !applied.includes(name));
}

/** Migrations of a store that this program does not know: a newer one made or changed it. */
export const unknownMigrations = async (databaseUrl: string, folder = MIGRATIONS): Promise<string[]> =>
  unknownAmong(await appliedMigrations(databaseUrl), folder);

/** Those of some migrations that this program does not know. */
export function unknownAmong(names: string[], folder = MIGRATIONS): string[] {
  const known = migrationsOf(folder);
  return names.filter((name) => !known.includes(name));
}

const migrationsOf = (folder: string): string[] =>
  readdirSync(folder)
    .filter((f) => f.endsWith('.sql'))
    .map((f) => f.slice(0, -4))
    .sort();

async function appliedMigrations(databaseUrl: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows: tables } = await client.query<{ there: boolean }>(`select to_regclass('migrations') is not null as there`);
    if (!tables[0].there) return [];
    const { rows } = await client.query<{ name: string }>('select name from migrations order by id');
    return rows.map((r) => r.name);
  } finally {
    await client.end();
  }
}
