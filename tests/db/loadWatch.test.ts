import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '#app/database/migrate';
import { closeDatabase, database } from '#app/database/pool';
import type { LiveView } from '#features/live/server/liveView';
import { NORTH_BENCH } from '#simulator/rigs';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { freePort, startStore } from '../../scripts/store.mjs';
import { stockLive, until } from '../liveBench.ts';

const SPEED = 20;
const folder = mkdtempSync('/tmp/warm-gauge-watch-');
let store: Awaited<ReturnType<typeof startStore>>;
let bench: RunningBench;
let app: { child: ChildProcess; port: number; said: () => string } | null = null;

async function startApp(): Promise<void> {
  const port = await freePort();
  let text = '';
  const child = spawn('node', ['build/serve.mjs'], {
    env: {
      ...process.env,
      DATABASE_URL: store.url,
      WARM_GAUGE_WATCH: folder,
      HOST: '127.0.0.1',
      PORT: String(port),
      NODE_ENV: 'production',
    },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  child.stderr?.on('data', (d) => {
    text += d;
  });
  app = { child, port, said: () => text };
  await until(async () => (await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null))?.ok, 'the application');
}

const post = (path: string, body: unknown) =>
  fetch(`http://127.0.0.1:${app?.port}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
const viewOf = async (id: number): Promise<LiveView | null> => {
  const answer = await fetch(`http://127.0.0.1:${app?.port}/api/live/${id}`, { signal: AbortSignal.timeout(4000) }).catch(() => null);
  return answer?.ok ? answer.json() : null;
};

/** A run of its own under load: of cycles, or an attended test whose load does not end by itself. */
async function underLoad(kind: 'run' | 'limit_test' = 'run'): Promise<number> {
  const stock = await stockLive(bench, { speed: SPEED, push: '' });
  const { id } = (await (
    await post('/api/live', { mount_id: stock.mount, kind, ...(kind === 'run' ? { cycles: 3 } : { stop_c: 120 }) })
  ).json()) as {
    id: number;
  };
  await until(async () => ((await viewOf(id))?.checks.length ?? 0) > 0, 'the checks');
  await post(`/api/live/${id}/orders`, { kind: 'begin', reason: 'test' });
  await until(async () => (await viewOf(id))?.state.stage === 'settling', 'settling');
  expect(bench.bench.isLoaded).toBe(true);
  return id;
}

/** Seconds until the load is off. */
async function offAfter(most_s: number): Promise<number> {
  const from = Date.now();
  await until(async () => !bench.bench.isLoaded, 'the load to be off', 1000 * most_s);
  return (Date.now() - from) / 1000;
}

const gone = (child: ChildProcess) => new Promise((done) => child.once('exit', done));
async function signal(name: NodeJS.Signals): Promise<void> {
  const { child } = app as NonNullable<typeof app>;
  const ended = gone(child);
  child.kill(name);
  if (name !== 'SIGSTOP') await ended;
}

/** The run says why its load is off, switches nothing on, and goes on by a person's word alone. */
async function heldAndResumed(id: number, why: RegExp): Promise<void> {
  const held = await until(async () => {
    const v = await viewOf(id);
    return v?.state.held ? v : null;
  }, 'the run to be held');
  expect(held.state.held).toMatch(why);
  await until(async () => (await viewOf(id))?.alarms.some((a) => a.code === 'held'), 'the alarm');
  await new Promise((done) => setTimeout(done, 4000));
  expect(bench.bench.isLoaded).toBe(false);
  await post(`/api/live/${id}/orders`, { kind: 'resume' });
  await until(async () => bench.bench.isLoaded, 'the load after a person said so');
  await post(`/api/live/${id}/orders`, { kind: 'stop', reason: 'test' });
  await until(async () => (await viewOf(id))?.over, 'the end of the run');
  await until(async () => !bench.bench.isLoaded, 'the load to be off');
}

beforeAll(async () => {
  store = await startStore('-c fsync=off');
  process.env.DATABASE_URL = store.url;
  await migrate(store.url);
  bench = await startBench({ rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 5, port: null, speed: SPEED });
  await startApp();
});

afterAll(async () => {
  app?.child.kill('SIGKILL');
  await bench?.stop();
  await closeDatabase();
  try {
    store?.stop();
  } catch {
    // a test that failed left it killed
  }
  rmSync(folder, { recursive: true, force: true });
});

describe('a load that nobody watches is switched off', () => {
  it('after kill -9 of the application, within 5 s', async () => {
    const id = await underLoad();
    await signal('SIGKILL');
    expect(await offAfter(8)).toBeLessThan(5);
    await startApp();
    await heldAndResumed(id, /nobody watched it: the application ended/);
  });

  it('when the application is stopped', async () => {
    const id = await underLoad();
    await signal('SIGTERM');
    expect(await offAfter(5)).toBeLessThan(5);
    expect(app?.said()).toMatch(/switched off because the application was stopped/);
    await startApp();
    await heldAndResumed(id, /the application was stopped/);
  });

  it('when the application is stuck for 20 s, and it does not go on by itself afterwards', async () => {
    const id = await underLoad();
    await signal('SIGSTOP');
    const after = await offAfter(30);
    expect(after).toBeGreaterThan(15);
    expect(after).toBeLessThan(24);
    app?.child.kill('SIGCONT');
    await heldAndResumed(id, /did not follow the run for 20 s/);
  });

  it('when the store stays away, and not where it is back within 30 s; the application goes on', async () => {
    const id = await underLoad('limit_test');
    const before = (await viewOf(id)) as LiveView;
    store.kill();
    await new Promise((done) => setTimeout(done, 8000));
    expect(bench.bench.isLoaded).toBe(true);
    store.start();
    const back = await until(async () => {
      const v = await viewOf(id);
      return v && v.state.t > before.state.t + 12 * SPEED ? v : null;
    }, 'the run to go on');
    expect(back.state.held ?? null).toBeNull();
    expect(bench.bench.isLoaded).toBe(true);
    // what was read meanwhile is there: no gap as long as the store was away
    const { rows } = await database().query<{ gap: number }>(
      `select max(t_from - before) as gap from (select t_from, lag(t_to) over (partition by source order by t_from) as before from live_batches where live_id = $1) x`,
      [id],
    );
    expect(Number(rows[0].gap)).toBeLessThan(3 * SPEED);
    store.kill();
    const after = await offAfter(45);
    expect(after).toBeGreaterThan(25);
    expect(after).toBeLessThan(36);
    store.start();
    const held = await until(async () => ((await viewOf(id))?.state.held ? viewOf(id) : null), 'the run to be held');
    expect(held?.state.held).toMatch(/the store could not be reached for over 30 s/);
    await post(`/api/live/${id}/orders`, { kind: 'stop', reason: 'test' });
    await until(async () => (await viewOf(id))?.over, 'the end of the run');
  });
});
