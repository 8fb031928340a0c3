/**
 * Fault runs: npm run faults [NAME …] [--times N]. Each fault is caused while readings are pushed and logs are imported, five times; then what
 * was acknowledged is held against what is stored. The application must have been built; the table is written into docs/faults.md where all
 * were run.
 */
import { execFileSync } from 'node:child_process';
import { closeSync, existsSync, mkdtempSync, openSync, rmSync, statfsSync, writeFileSync, writeSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { migrate } from '#app/database/migrate';
import { startStore } from '../scripts/store.mjs';
import { type BuiltApp, median, startBuiltApp } from './builtApp';
import { isAlive, kill, Launched, until } from './faults/launched';
import { startPair } from './faults/pair';
import { type Count, contentsOf, Work } from './faults/work';
import { writeTable } from './tables';

/** What came of one fault: what was acknowledged and what of it is stored, and after how long work went on, ms. */
interface Outcome {
  count: Count | null;
  back_ms: number;
}

const FAULTS: Record<string, { name: string; cause: () => Promise<Outcome> }> = {
  app: { name: 'kill -9 of the application', cause: () => whileWorking((l) => kill(l.app)) },
  store: { name: 'kill -9 of the store', cause: () => whileWorking((l) => kill(l.store)) },
  launcher: {
    name: 'kill -9 of the launcher; started again',
    cause: () =>
      whileWorking(async (l) => {
        const rest = [...l.app, l.store[0]];
        kill(l.launcher);
        await until(() => rest.every((pid) => !isAlive(pid)), 'The application and the store to end');
        await l.start();
      }),
  },
  power: {
    name: 'kill -9 of everything at once, with a stale lock file of another process; started again',
    cause: () =>
      whileWorking(async (l) => {
        kill([...l.launcher, ...l.app, ...l.store]);
        writeFileSync(path.join(l.data, 'postgres', 'postmaster.pid'), `${process.pid}\n${path.join(l.data, 'postgres')}\n`);
        await l.start();
      }),
  },
  two: { name: 'kill -9 of the one of two applications that follows the live run', cause: oneOfTwo },
  failover: { name: 'kill -9 of the primary of two servers; the standby takes over', cause: failover },
  disk: { name: 'full disk, until there is room again', cause: fullDisk },
  migration: { name: 'kill -9 in the middle of an upgrade; started again', cause: interruptedMigration },
};

/** What a store holds after an upgrade that nothing interrupted. */
let upgraded: string | null = null;

const args = process.argv.slice(2);
const at = args.indexOf('--times');
const times = at < 0 ? 5 : Number(args.splice(at, 2)[1]);
const unknown = args.filter((a) => !(a in FAULTS));
if (unknown.length > 0 || !(times >= 1)) {
  console.error(`There is no fault ${unknown.join(', ')}; there are ${Object.keys(FAULTS).join(', ')}.`);
  process.exit(2);
}
if (!existsSync('build/built')) throw new Error('There is no build to try; run "npm run build" first.');
const lines: string[] = [];
let lost = 0;
for (const key of args.length > 0 ? args : Object.keys(FAULTS)) {
  const { name, cause } = FAULTS[key];
  const outcomes: Outcome[] = [];
  for (let i = 0; i < times; i++) {
    outcomes.push(await cause());
    console.log(`${name}, ${i + 1} of ${times}:`, JSON.stringify(outcomes.at(-1)));
  }
  const counted = outcomes.flatMap((o) => o.count ?? []);
  const sum = (of: keyof Count) => counted.reduce((total, c) => total + c[of], 0);
  lost += sum('readings') - sum('readings_stored') + sum('runs') - sum('runs_stored');
  const figures = counted.length > 0 ? [sum('readings'), sum('readings_stored'), sum('runs'), sum('runs_stored')] : ['', '', '', ''];
  const backs = outcomes.map((o) => o.back_ms / 1000);
  lines.push(`| ${name} | ${times} | ${figures.join(' | ')} | ${median(backs).toFixed(1)} | ${Math.max(...backs).toFixed(1)} |`);
}
const table = [
  '| Fault | times | readings acknowledged | of these stored | runs acknowledged | of these stored | back after / s | at worst / s |',
  '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
  ...lines,
].join('\n');
console.log(table);
if (args.length === 0) writeTable('docs/faults.md', 'faults', table);
if (lost > 0) {
  console.error(`${lost} acknowledged readings or runs are lost.`);
  process.exitCode = 1;
}

/** Causes a fault in the middle of work on an application as a person starts it; back is when something is acknowledged again. */
async function whileWorking(fault: (launched: Launched) => void | Promise<void>): Promise<Outcome> {
  const data = mkdtempSync('/tmp/warm-gauge-fault-');
  execFileSync('chmod', ['755', data]);
  const launched = await Launched.start(data);
  try {
    const work = await Work.begin([launched.url], launched.databaseUrl);
    await until(() => work.isUnderWay, 'Work to get going');
    const began = performance.now();
    await fault(launched);
    const before = work.count;
    await until(() => work.count > before + 40, 'Work to go on');
    const back_ms = performance.now() - began;
    await new Promise((done) => setTimeout(done, 1000));
    return { count: await work.end(launched.databaseUrl), back_ms };
  } finally {
    await launched.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

/** Two applications on one store, one of which dies. */
async function oneOfTwo(): Promise<Outcome> {
  const store = await startStore();
  const apps: BuiltApp[] = [];
  try {
    apps.push(await startBuiltApp(store.url), await startBuiltApp(store.url));
    const work = await Work.begin(
      apps.map((a) => a.url),
      store.url,
    );
    await until(() => work.isUnderWay, 'Work to get going');
    const began = performance.now();
    apps[0].stop();
    const [before, followed] = [work.count, await work.followedTo()];
    await until(() => work.count > before + 40, 'Work to go on');
    // back is when the other follows the live run
    await until(async () => (await work.followedTo()) > followed + 1, 'The other to follow the live run');
    const back_ms = performance.now() - began;
    await new Promise((done) => setTimeout(done, 1000));
    return { count: await work.end(store.url), back_ms };
  } finally {
    for (const app of apps) app.stop();
    store.stop();
  }
}

/** A store on two servers whose first dies; readers are served by the second before, and all by it afterwards. */
async function failover(): Promise<Outcome> {
  const pair = await startPair();
  let app: BuiltApp | null = null;
  try {
    app = await startBuiltApp(pair.url, [], { DATABASE_READ_URL: pair.standbyUrl });
    const { url } = app;
    const work = await Work.begin([url], pair.url.replace(/,[^/]*/, ''));
    await until(() => work.isUnderWay, 'Work to get going');
    const readers = await connectionsOf(pair.standbyUrl);
    if ((await fetch(`${url}/studies`)).status !== 200 || (await connectionsOf(pair.standbyUrl)) <= readers)
      throw new Error('The readers were not served by the standby.');
    const began = performance.now();
    pair.failOver();
    const before = work.count;
    await until(() => work.count > before + 40, 'Work to go on');
    const back_ms = performance.now() - began;
    await until(async () => (await fetch(`${url}/studies`)).status === 200, 'Pages to be served');
    return { count: await work.end(pair.standbyUrl), back_ms };
  } finally {
    app?.stop();
    pair.stop();
  }
}

/** Connections of readers that a server has. */
async function connectionsOf(url: string): Promise<number> {
  const client = new pg.Client(url);
  await client.connect();
  const { rowCount } = await client.query(`select from pg_stat_activity where application_name = 'warm gauge readers'`);
  await client.end();
  return rowCount ?? 0;
}

/** The disk of the store has no room left, and has it again. */
async function fullDisk(): Promise<Outcome> {
  const data = mkdtempSync('/tmp/warm-gauge-fault-');
  execFileSync('chmod', ['755', data]);
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=400m,mode=755', 'tmpfs', data], { stdio: 'ignore' });
  } catch {
    throw new Error('A disk that can be filled needs the right to mount one; run this as root.');
  }
  const launched = await Launched.start(data);
  const ballast = path.join(data, 'ballast');
  try {
    const work = await Work.begin([launched.url], launched.databaseUrl);
    await until(() => work.isUnderWay, 'Work to get going');
    fill(ballast, data);
    // the work itself takes what is left
    const held = () => work.count;
    for (let last = -1; last !== held(); ) {
      last = held();
      await new Promise((done) => setTimeout(done, 4000));
    }
    const answer = await fetch(`${launched.url}/api/health`).catch(() => null);
    console.log(`  while it was full: ${answer?.status} ${(await answer?.text())?.slice(0, 160)}`);
    const began = performance.now();
    rmSync(ballast);
    const before = work.count;
    await until(() => work.count > before + 40, 'Work to go on');
    const back_ms = performance.now() - began;
    return { count: await work.end(launched.databaseUrl), back_ms };
  } finally {
    await launched.stop();
    execFileSync('umount', ['-l', data]);
    rmSync(data, { recursive: true, force: true });
  }
}

/** Writes a file until a megabyte is left. */
function fill(file: string, folder: string): void {
  const fd = openSync(file, 'w');
  const piece = Buffer.alloc(1024 * 1024);
  const free = () => statfsSync(folder).bavail * statfsSync(folder).bsize;
  while (free() > 2 * piece.length) writeSync(fd, piece);
  closeSync(fd);
}

/** An upgrade from an old store that dies on its way; the next start has to bring it to its end, with all that was there. */
async function interruptedMigration(): Promise<Outcome> {
  const store = await startStore();
  try {
    const restore = () =>
      execFileSync(`${store.bin}/pg_restore`, ['--no-owner', '-d', store.url, 'tests/reference/store-0016.dump'], { stdio: 'ignore' });
    restore();
    if (upgraded === null) {
      const whole = await startStore();
      execFileSync(`${whole.bin}/pg_restore`, ['--no-owner', '-d', whole.url, 'tests/reference/store-0016.dump'], { stdio: 'ignore' });
      await migrate(whole.url);
      upgraded = await contentsOf(whole.url);
      whole.stop();
    }
    const { spawn } = await import('node:child_process');
    const child = spawn('node', ['build/serve.mjs'], {
      env: {
        ...process.env,
        DATABASE_URL: store.url,
        PORT: '4399',
        HOST: '127.0.0.1',
        NODE_ENV: 'production',
        WARM_GAUGE_BACKUPS: '/tmp/warm-gauge-fault-backups',
      },
      stdio: 'ignore',
    });
    const gone = new Promise((done) => child.once('exit', done));
    await new Promise((done) => setTimeout(done, 900 + 900 * Math.random()));
    const began = performance.now();
    child.kill('SIGKILL');
    await gone;
    console.log(`  killed at: ${await contentsOf(store.url).catch((e: Error) => e.message)}`);
    const app = await startBuiltApp(store.url);
    const back_ms = performance.now() - began;
    app.stop();
    const now = await contentsOf(store.url);
    if (now !== upgraded) throw new Error(`The upgraded store holds ${now} instead of ${upgraded}.`);
    return { count: null, back_ms };
  } finally {
    store.stop();
    rmSync('/tmp/warm-gauge-fault-backups', { recursive: true, force: true });
  }
}
