import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { freePort, startStore } from '../../scripts/store.mjs';
import { until } from './launched';

/** A store on two servers of this machine: what is acknowledged is on both. */
export interface Pair {
  /** both, as DATABASE_URL names them */
  url: string;
  /** the standby alone */
  standbyUrl: string;
  /** ends the first server as a power cut does, and makes the standby the one that is written */
  failOver: () => void;
  stop: () => void;
}

/** Starts a primary and a standby that streams from it; every commit waits until the standby shows it. */
export async function startPair(): Promise<Pair> {
  const primary = await startStore('-c wal_level=replica -c max_wal_senders=4');
  const folder = mkdtempSync('/tmp/warm-gauge-standby-');
  const data = path.join(folder, 'data');
  const port = await freePort();
  const primaryPort = new URL(primary.url).port;
  const asRoot = process.getuid?.() === 0;
  const call = (command: string, args: string[]) => {
    const [c, a] = asRoot ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, args];
    execFileSync(c, a, { cwd: '/tmp', stdio: ['ignore', 'ignore', 'inherit'] });
  };
  if (asRoot) execFileSync('chown', ['postgres:', folder]);
  call(`${primary.bin}/pg_basebackup`, [
    '-h',
    '127.0.0.1',
    '-p',
    primaryPort,
    '-U',
    'warm_gauge',
    '-D',
    data,
    '-R',
    '--checkpoint=fast',
    '--no-sync',
  ]);
  const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c hot_standby=on`;
  call(`${primary.bin}/pg_ctl`, ['-D', data, '-w', '-l', path.join(folder, 'log'), '-o', options, 'start']);
  const client = new pg.Client(primary.url);
  await client.connect();
  await until(
    async () => (await client.query(`select from pg_stat_replication where state = 'streaming'`)).rowCount === 1,
    'The standby to stream',
  );
  // only now: a commit would wait for a standby that is not there
  for (const setting of [`synchronous_standby_names = '*'`, `synchronous_commit = 'remote_apply'`])
    await client.query(`alter system set ${setting}`);
  await client.query('select pg_reload_conf()');
  await client.end();
  return {
    url: `postgres://warm_gauge@127.0.0.1:${primaryPort},127.0.0.1:${port}/postgres`,
    standbyUrl: `postgres://warm_gauge@127.0.0.1:${port}/postgres`,
    failOver() {
      primary.kill();
      call(`${primary.bin}/pg_ctl`, ['-D', data, '-w', 'promote']);
    },
    stop() {
      call(`${primary.bin}/pg_ctl`, ['-D', data, '-m', 'immediate', '-w', 'stop']);
      try {
        primary.stop();
      } catch {
        // it was killed
      }
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
