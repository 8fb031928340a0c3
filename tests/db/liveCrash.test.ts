import { type ChildProcess, spawn } from 'node:child_process';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '#app/database/migrate';
import { closeDatabase, database } from '#app/database/pool';
import type { LiveView } from '#features/live/server/liveView';
import { listBatches } from '#features/live/store/live';
import { listFindings } from '#features/run/store/runs';
import { NORTH_BENCH } from '#simulator/rigs';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { freePort, startStore } from '../../scripts/store.mjs';
import { stockLive, until } from '../liveBench.ts';

const SPEED = 20;
let store: Awaited<ReturnType<typeof startStore>>;
let bench: RunningBench;
const apps = new Map<number, ChildProcess>();

async function startApp(port: number): Promise<void> {
  const child = spawn('node', ['build/serve.mjs'], {
    env: { ...process.env, DATABASE_URL: store.url, HOST: '127.0.0.1', PORT: String(port), NODE_ENV: 'production' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  apps.set(port, child);
  await until(async () => (await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null))?.ok, 'the application');
}

/** Ends an application as a power cut does. */
async function killApp(port: number): Promise<void> {
  const child = apps.get(port) as ChildProcess;
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGKILL');
  await gone;
  apps.delete(port);
}

/** Pushes readings without a pause, to whichever application answers, and remembers what was acknowledged. */
function pusher(liveId: number, ports: number[]) {
  const acknowledged = new Set<number>();
  let seq = 0;
  let stopped = false;
  let failures = 0;
  const began = Date.now() / 1000;
  // the card's clock goes as fast as its bench
  const clock = () => began + SPEED * (Date.now() / 1000 - began);
  const run = (async () => {
    for (let turn = 0; !stopped; ) {
      const lines = Array.from({ length: 20 }, (_, i) =>
        JSON.stringify({ source: 'card', seq: seq + i + 1, t: clock() + i / 1000, values: { Clock: 2000 + ((seq + i) % 100) } }),
      );
      for (let sent = false; !sent && !stopped; ) {
        const port = ports[turn % ports.length];
        const answer = await fetch(`http://127.0.0.1:${port}/api/live/${liveId}`, {
          method: 'POST',
          body: lines.join('\n'),
          signal: AbortSignal.timeout(4000),
        }).catch(() => null);
        if (answer?.ok) {
          for (const s of ((await answer.json()) as { stored: number[] }).stored) acknowledged.add(s);
          sent = true;
        } else {
          failures++;
          turn++;
          await new Promise((done) => setTimeout(done, 20));
        }
      }
      seq += 20;
    }
  })();
  return {
    acknowledged,
    get failures() {
      return failures;
    },
    async stop() {
      stopped = true;
      await run;
    },
  };
}

beforeAll(async () => {
  // as durable as the store of a lab: nothing of its write-ahead log is left out
  store = await startStore();
  process.env.DATABASE_URL = store.url;
  await migrate(store.url);
  bench = await startBench({ rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 5, port: null, speed: SPEED });
});

afterAll(async () => {
  for (const child of apps.values()) child.kill('SIGKILL');
  await bench?.stop();
  await closeDatabase();
  store?.stop();
});

describe('kill -9 in the middle of a run', () => {
  it('of the application that follows it, and of the store, loses no acknowledged reading; the run goes on and ends', async () => {
    const [a, b] = [await freePort(), await freePort()];
    await startApp(a);
    const stock = await stockLive(bench, { speed: SPEED, push: 'Clock: clock MHz' });
    const post = (path: string, body: unknown) =>
      fetch(`http://127.0.0.1:${apps.has(a) ? a : b}${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    const { id } = (await (await post('/api/live', { mount_id: stock.mount, cycles: 1 })).json()) as { id: number };
    const view = async (): Promise<LiveView | null> => {
      for (const port of apps.keys()) {
        const answer = await fetch(`http://127.0.0.1:${port}/api/live/${id}`, { signal: AbortSignal.timeout(4000) }).catch(() => null);
        if (answer?.ok) return answer.json();
      }
      return null;
    };
    await until(async () => ((await view())?.checks.length ?? 0) > 0, 'the checks');
    // a second application serves the same store, and follows when the first is gone
    await startApp(b);
    const pushes = pusher(id, [a, b]);
    await post(`/api/live/${id}/orders`, { kind: 'begin', reason: 'test' });
    await until(async () => (await view())?.state.stage === 'settling', 'settling');

    const before = (await view()) as LiveView;
    await killApp(a);
    const taken = await until(async () => {
      const v = await view();
      return v && v.state.t > before.state.t + 3 * SPEED ? v : null;
    }, 'the other application to follow');
    expect(['settling', 'averaging']).toContain(taken.state.stage);
    expect(taken.state.load_from_s).toBe(before.state.load_from_s);
    const atKill = pushes.acknowledged.size;

    store.kill();
    await new Promise((done) => setTimeout(done, 1500));
    store.start();
    const back = await until(async () => {
      const v = await view();
      return v && v.state.t > taken.state.t + 3 * SPEED ? v : null;
    }, 'the store to be used again');
    expect(back.state.load_from_s).toBe(before.state.load_from_s);
    await until(async () => pushes.acknowledged.size > atKill + 200, 'pushes after the crash');

    // nobody follows for a while
    await killApp(b);
    await new Promise((done) => setTimeout(done, 1000));
    await startApp(a);
    const over = await until(async () => {
      const v = await view();
      return v?.over ? v : null;
    }, 'the end of the run');
    await pushes.stop();

    // counted: every acknowledged reading is there, once
    const batches = (await listBatches(database(), id, -1e9)).filter((x) => x.source.startsWith('Card'));
    const stored = batches.flatMap((x) => Array.from(x.t, (_, i) => x.seq_from + i));
    const there = new Set(stored);
    expect(stored.length).toBe(there.size);
    const lost = [...pushes.acknowledged].filter((s) => !there.has(s));
    expect(pushes.acknowledged.size).toBeGreaterThan(1000);
    expect(pushes.failures).toBeGreaterThan(0);
    expect(lost).toEqual([]);

    // the run was kept, with its gaps told
    expect(over.state.waits).toBe('Next: remount.');
    const run = over.cycles[0].run_id as number;
    expect(over.cycles[0].problem).toBeNull();
    expect((await listFindings(database(), run)).map((f) => f.code)).toContain('gaps');
    expect(over.cycles[0].rise_k).toBeGreaterThan(35);
  });
});
