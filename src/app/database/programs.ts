import { type ChildProcessByStdio, spawn } from 'node:child_process';
import { accessSync, constants as modes, readdirSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import path from 'node:path';
import type { Readable, Writable } from 'node:stream';

/** Where Debian keeps the programs of each PostgreSQL it has. */
const SERVERS = '/usr/lib/postgresql';

type Program = 'pg_dump' | 'pg_restore' | 'psql';

/** One of PostgreSQL's own programs while it works on a store. */
export interface StoreProgram {
  child: ChildProcessByStdio<Writable, Readable, Readable>;
  /** null once it did its work, else its last words */
  told: Promise<string | null>;
}

/**
 * Starts one of PostgreSQL's programs: that of the server's own version where it is installed, else the newest.
 * @param url of the store; its password goes by the environment, as arguments are seen by everybody on the machine
 * @param server version of the store's server, such as 15
 */
export function startProgram(program: Program, args: string[], { url, server }: { url?: string; server: number }): StoreProgram {
  const env = { ...process.env };
  const address = url === undefined ? null : new URL(url);
  if (address?.password) {
    env.PGPASSWORD = decodeURIComponent(address.password);
    address.password = '';
  }
  const child = spawn(programPath(program, server), [...args, ...(address ? [address.href] : [])], {
    env,
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  // a live run and the pages go before it
  if (child.pid !== undefined && program === 'pg_dump') setPriority(child.pid, constants.priority.PRIORITY_BELOW_NORMAL);
  // one that ends early does not read what is still written to it; its own words say why
  child.stdin.on('error', () => {});
  let said = '';
  child.stderr.on('data', (chunk) => {
    said = (said + chunk).slice(-2000);
  });
  const told = new Promise<string | null>((done) => {
    child.on('error', (error) => done(error.message));
    child.on('close', (code) => done(code === 0 ? null : lastWords(said) || `${program} ended with ${code}`));
  });
  return { child, told };
}

/** The last line that says what went wrong, without what follows it as a hint. */
function lastWords(said: string): string {
  const lines = said.trim().split('\n');
  return (lines.filter((line) => /(error|fatal):/i.test(line)).at(-1) ?? lines.at(-1) ?? '').trim();
}

function programPath(program: Program, server: number): string {
  const versions = ((): string[] => {
    try {
      return readdirSync(SERVERS);
    } catch {
      return [];
    }
  })();
  return (
    versions
      .sort((a, b) => Number(Number(b) === server) - Number(Number(a) === server) || Number(b) - Number(a))
      .map((version) => path.join(SERVERS, version, 'bin', program))
      .find(isProgram) ?? program
  );
}

function isProgram(file: string): boolean {
  try {
    accessSync(file, modes.X_OK);
    return true;
  } catch {
    return false;
  }
}
