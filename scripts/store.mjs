// A throw-away PostgreSQL server, for tests and measurements.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';

const asRoot = process.getuid?.() === 0;

function postgresBin() {
  const versions = readdirSync('/usr/lib/postgresql').sort((a, b) => Number(b) - Number(a));
  return `/usr/lib/postgresql/${versions[0]}/bin`;
}

/**
 * A store in a temporary folder that loses everything at the end; as root it runs as the user postgres.
 * @param {string} settings more options of the server, such as "-c fsync=off"
 */
export async function startStore(settings = '') {
  const folder = mkdtempSync('/tmp/warm-gauge-test-');
  const bin = postgresBin();
  const as = (command, args) => (asRoot ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, args]);
  const call = (command, args) => {
    const [c, a] = as(command, args);
    execFileSync(c, a, { cwd: '/tmp', stdio: ['ignore', 'ignore', 'inherit'] });
  };
  if (asRoot) execFileSync('chown', ['postgres:', folder]);
  const data = path.join(folder, 'data');
  call(`${bin}/initdb`, ['-D', data, '--username=warm_gauge', '--auth=trust', '--locale=C.UTF-8', '--encoding=UTF8', '--no-sync']);
  const port = await freePort();
  // counts what is asked, for the lab of five years
  const counting = '-c shared_preload_libraries=pg_stat_statements';
  const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c random_page_cost=1.1 ${counting} ${settings}`;
  call(`${bin}/pg_ctl`, ['-D', data, '-w', '-l', path.join(folder, 'log'), '-o', options, 'start']);
  return {
    bin,
    url: `postgres://warm_gauge@127.0.0.1:${port}/postgres`,
    /** ends the server as a power cut does: every process of it at once */
    kill() {
      const pid = readFileSync(path.join(data, 'postmaster.pid'), 'utf8').split('\n')[0];
      const children = execFileSync('ps', ['-o', 'pid=', '--ppid', pid], { encoding: 'utf8' }).trim().split(/\s+/);
      for (const p of [pid, ...children]) {
        try {
          process.kill(Number(p), 'SIGKILL');
        } catch {
          // it is gone already
        }
      }
    },
    start() {
      for (let tries = 0; ; tries++) {
        try {
          call(`${bin}/pg_ctl`, ['-D', data, '-w', '-l', path.join(folder, 'log'), '-o', options, 'start']);
          return;
        } catch (error) {
          if (tries === 10) throw error;
          execFileSync('sleep', ['1']);
        }
      }
    },
    stop() {
      try {
        call(`${bin}/pg_ctl`, ['-D', data, '-m', 'immediate', '-w', 'stop']);
      } finally {
        rmSync(folder, { recursive: true, force: true });
      }
    },
  };
}

/** @returns {Promise<number>} */
export function freePort() {
  return new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}
