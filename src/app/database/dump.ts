import { spawn } from 'node:child_process';
import { accessSync, constants, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';

/** Where Debian keeps the programs of each PostgreSQL it has. */
const SERVERS = '/usr/lib/postgresql';

/** Migrations that lie in the folder and are not applied; null where the store is new and holds nothing. */
export async function pendingMigrations(databaseUrl: string, folder: string): Promise<string[] | null> {
  const applied = await appliedMigrations(databaseUrl);
  return applied.length === 0 ? null : migrationsOf(folder).filter((name) => !applied.includes(name));
}

/** Migrations of a store that this program does not know: a newer one made or changed it. */
export async function unknownMigrations(databaseUrl: string, folder: string): Promise<string[]> {
  const known = migrationsOf(folder);
  return (await appliedMigrations(databaseUrl)).filter((name) => !known.includes(name));
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

/**
 * Keeps a dump of the store as it is, in PostgreSQL's custom format; pg_restore reads it.
 * @param before name of the migration that is about to change the store
 * @returns path of the dump
 * @throws where pg_dump is missing, is older than the server, or cannot write
 */
export async function keepDump(databaseUrl: string, folder: string, before: string): Promise<string> {
  const refuse = (why: string) =>
    new Error(
      `the store must be changed for this version, and no dump of it could be kept before that (${why}). Nothing was changed. Make room in ${folder} or install the client of the server’s PostgreSQL version (postgresql-client), and start again.`,
    );
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
  } catch (error) {
    throw refuse(error instanceof Error ? error.message : String(error));
  }
  const file = path.join(folder, `before-${before}-${new Date().toISOString().replace(/[:.]/g, '-')}.dump`);
  // under its name only when it is whole
  const part = `${file}.part`;
  // the password goes by the environment: arguments are seen by everybody on the machine
  const url = new URL(databaseUrl);
  const password = decodeURIComponent(url.password);
  url.password = '';
  const told = await run(dumpProgram(), ['--format=custom', '--no-owner', '--no-password', `--file=${part}`, url.href], password);
  if (told !== null) {
    rmSync(part, { force: true });
    throw refuse(told);
  }
  renameSync(part, file);
  return file;
}

/** The newest pg_dump of the machine: it reads every older server. */
function dumpProgram(): string {
  const folders = ((): string[] => {
    try {
      return readdirSync(SERVERS);
    } catch {
      return [];
    }
  })();
  const programs = folders.sort((a, b) => Number(b) - Number(a)).map((v) => path.join(SERVERS, v, 'bin', 'pg_dump'));
  return programs.find(isProgram) ?? 'pg_dump';
}

function isProgram(file: string): boolean {
  try {
    accessSync(file, constants.X_OK);
    return true;
  } catch {
    return false;
  }
}

/** Runs a program; null where it did its work, else its last words. */
const run = (program: string, args: string[], password: string): Promise<string | null> =>
  new Promise((done) => {
    const env = password === '' ? process.env : { ...process.env, PGPASSWORD: password };
    const child = spawn(program, args, { env, stdio: ['ignore', 'ignore', 'pipe'] });
    let said = '';
    child.stderr.on('data', (chunk) => {
      said = (said + chunk).slice(-400);
    });
    child.on('error', (error) => done(error.message));
    child.on('close', (code) => done(code === 0 ? null : said.trim().split('\n').at(-1) || `pg_dump ended with ${code}`));
  });
