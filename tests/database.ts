import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll } from 'vitest';
import { migrate } from '#app/database/migrate';
import { closeDatabase } from '#app/database/pool';
import { closeWorkers } from '#app/jobs';

const base = process.env.TEST_DATABASE_URL;

interface TestDatabase {
  url: string;
  drop: () => Promise<void>;
}

/**
 * A database of its own in the throw-away server that the test command starts, with nothing in it.
 * @param template database it is a copy of; nobody may be connected to that
 */
export async function emptyDatabase(template?: string): Promise<TestDatabase> {
  if (!base) throw new Error('TEST_DATABASE_URL is not set; run the tests with ./warm-gauge test.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  await administer(template ? `create database ${name} template ${template}` : `create database ${name}`);
  return { url: base.replace(/\/[^/]*$/, `/${name}`), drop: () => administer(`drop database ${name} with (force)`) };
}

/** A migrated database of its own for one test file. */
export async function freshDatabase(template?: string): Promise<TestDatabase> {
  const made = await emptyDatabase(template);
  await migrate(made.url);
  return made;
}

/** Gives every test of a file one fresh database, as the one the application uses. */
export function onFreshDatabase(): { url: () => string } {
  let fresh: TestDatabase;
  beforeAll(async () => {
    fresh = await freshDatabase();
    process.env.DATABASE_URL = fresh.url;
  });
  afterAll(async () => {
    await closeWorkers();
    await closeDatabase();
    await fresh.drop();
  });
  return { url: () => fresh.url };
}

/** Runs one statement on the server's own database. */
export async function administer(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: base });
  await client.connect();
  await client.query(sql);
  await client.end();
}
