/**
 * Live runs: four with 24 channels at 10 readings a second each. What was acknowledged against what is stored, the time from sending to a
 * page, the memory over an hour of the bench, and how soon a fault is seen and heard. The application must have been built.
 */
import { chromium } from 'playwright-core';
import { closeDatabase, database } from '#app/database/pool';
import { listBatches } from '#features/live/store/live';
import { insertSheet } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy } from '#features/study/store/studies';
import { NORTH_BENCH } from '#simulator/rigs';
import { startBench } from '#simulator/startSimulator';
import { CHROMIUM } from '../scripts/chromium.mjs';
import { startStore } from '../scripts/store.mjs';
import { stockLive } from '../tests/liveBench.ts';
import { type BuiltApp, median, startBuiltApp } from './builtApp.ts';
import { noteTarget } from './targets.ts';

const RUNS = 4;
const CHANNELS = 24;
const HZ = 10;
const REAL_S = 30;
const HOUR_S = 3600;
const SPEED = 60;

const NAMES = Array.from({ length: CHANNELS }, (_, i) => (i === 22 ? 'Room' : i === 23 ? 'Power' : `Die ${i + 1}`));
const MAP = NAMES.map((n) => `${n}: ${n === 'Room' ? 'ambient °C' : n === 'Power' ? 'power W' : 'sensor °C'}`).join('; ');

const store = await startStore();
process.env.DATABASE_URL = store.url;
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url);
  const parts = { realTime, anHour, alarms };
  const only = process.argv[2] as keyof typeof parts | undefined;
  for (const [name, measure] of Object.entries(parts)) if (!only || only === name) await measure(app);
} finally {
  app?.stop();
  await closeDatabase();
  store.stop();
}

/** A live run on a rig of its own whose one device pushes 24 channels. */
async function openRun({ url }: BuiltApp, speed: number): Promise<number> {
  const db = database();
  const key = Math.random().toString(36).slice(2, 8);
  const device = await insertSheet(db, 'instruments', `Device ${key}`, {
    address: 'push',
    channels: MAP,
    period_s: 1 / HZ,
    calibrated_until: '2099-01-01',
  } as never);
  const rig = (await insertSheet(db, 'rigs', `Rig ${key}`, {
    throttle_limit_c: 120,
    power_w: 140,
    instruments: [device],
    time_scale: speed,
  } as never)) as number;
  const study = (await insertStudy(db, {
    title: `Study ${key}`,
    question: '',
    margin_k: 1,
    reduction: { slope_k_per_min: 1e-9 },
  })) as number;
  const specimen = (await insertSpecimen(db, study, 'Specimen', 'paste')) as number;
  const { id: mount } = await insertMount(db, specimen, rig, '');
  const { id } = await post(`${url}/api/live`, JSON.stringify({ mount_id: mount }));
  await post(`${url}/api/live/${id}/orders`, JSON.stringify({ kind: 'begin', reason: 'measured' })).catch(() => {});
  return id;
}

async function post(url: string, body: string) {
  const answer = await fetch(url, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
  return answer.json();
}

/** A reading of a part that warms up after two minutes. */
function reading(seq: number, began: number): string {
  const s = seq / HZ;
  const loaded = s > 120;
  const rise = loaded ? 4 + 36 * (1 - Math.exp(-(s - 120) / 150)) : 4;
  const values = Object.fromEntries(
    NAMES.map((n, i) => [
      n,
      n === 'Room' ? 22 : n === 'Power' ? (loaded ? 140 : 14) : Math.round(10 * (22 + rise + Math.sin(seq * 1.7 + i) / 5)) / 10,
    ]),
  );
  return JSON.stringify({ source: 'device', seq, t: began + s, values });
}

/** Listens to a run as a page does; told the times at which readings arrive. */
function listen(url: string, onReadings: (times: number[]) => void): AbortController {
  const control = new AbortController();
  void (async () => {
    const answer = await fetch(url, { signal: control.signal });
    let rest = '';
    for await (const part of answer.body as unknown as AsyncIterable<Uint8Array>) {
      rest += Buffer.from(part).toString();
      const events = rest.split('\n\n');
      rest = events.pop() ?? '';
      for (const e of events) if (e.startsWith('event: readings')) onReadings(JSON.parse(e.slice(e.indexOf('data: ') + 6)).t);
    }
  })().catch(() => {});
  return control;
}

async function realTime(app: BuiltApp): Promise<void> {
  const latencies: number[] = [];
  let acknowledged = 0;
  const ids: number[] = [];
  await Promise.all(
    Array.from({ length: RUNS }, async () => {
      const id = await openRun(app, 1);
      ids.push(id);
      const sent = new Map<number, number>();
      let first: number | null = null;
      const page = listen(`${app.url}/api/live/${id}/events`, (times) => {
        for (const t of times) {
          first ??= t;
          const at = sent.get(Math.round((t - first) * HZ));
          if (at !== undefined) latencies.push(performance.now() - at);
        }
      });
      await new Promise((done) => setTimeout(done, 500));
      const began = Date.now() / 1000;
      const open: Promise<void>[] = [];
      for (let seq = 1; seq <= REAL_S * HZ; seq++) {
        sent.set(seq - 1, performance.now());
        open.push(
          fetch(`${app.url}/api/live/${id}`, { method: 'POST', body: reading(seq, began) })
            .then((r) => r.json())
            .then((a) => {
              acknowledged += a.stored.length;
            }),
        );
        await new Promise((done) => setTimeout(done, Math.max(0, 1000 * (began + seq / HZ) - Date.now())));
      }
      await Promise.all(open);
      await new Promise((done) => setTimeout(done, 500));
      page.abort();
    }),
  );
  const stored = await countStored(ids);
  console.log(`Live: ${RUNS} runs × ${CHANNELS} channels × ${HZ} Hz for ${REAL_S} s, each reading pushed by itself`);
  console.log(`  ${acknowledged} of ${RUNS * REAL_S * HZ} readings acknowledged, ${stored} stored`);
  const lost = acknowledged - stored;
  noteTarget('live_stored', `${lost} of ${acknowledged}`, lost > 0 ? Number.POSITIVE_INFINITY : 0);
  noteTarget('live_shown', `${median(latencies).toFixed(0)} ms`, median(latencies) / 500);
  console.log(
    `  at a page ${median(latencies).toFixed(0)} ms after sending at the median, 95 % within ${latencies.sort((a, b) => a - b)[Math.floor(0.95 * latencies.length)].toFixed(0)} ms; target 500 ms at the median`,
  );
}

async function countStored(ids: number[]): Promise<number> {
  let n = 0;
  for (const id of ids) {
    const seqs = (await listBatches(database(), id, -1e9)).flatMap((b) => Array.from(b.t, (_, i) => b.seq_from + i));
    n += new Set(seqs).size;
  }
  return n;
}

async function anHour(app: BuiltApp): Promise<void> {
  await database().query('update live_runs set ended_at = now() where ended_at is null');
  const memory: number[] = [];
  let acknowledged = 0;
  const ids = await Promise.all(Array.from({ length: RUNS }, () => openRun(app, SPEED)));
  const began = Date.now() / 1000;
  const watch = setInterval(() => memory.push(app.memory()), 500);
  const pages = ids.map((id) => listen(`${app.url}/api/live/${id}/events`, () => {}));
  await Promise.all(
    ids.map(async (id) => {
      const A_POST = 200;
      for (let seq = 1; seq <= HOUR_S * HZ; seq += A_POST) {
        const body = Array.from({ length: A_POST }, (_, i) => reading(seq + i, began)).join('\n');
        const answer = await fetch(`${app.url}/api/live/${id}`, { method: 'POST', body }).then((r) => r.json());
        acknowledged += answer.stored.length;
        await new Promise((done) => setTimeout(done, Math.max(0, 1000 * (began + (seq + A_POST) / HZ / SPEED) - Date.now())));
      }
    }),
  );
  clearInterval(watch);
  for (const p of pages) p.abort();
  const quarter = Math.floor(memory.length / 4);
  const mb = (list: number[]) => median(list) / 1048576;
  const [early, late] = [mb(memory.slice(quarter, 2 * quarter)), mb(memory.slice(3 * quarter))];
  console.log(
    `  an hour of the bench in ${(Date.now() / 1000 - began).toFixed(0)} s: ${acknowledged} of ${RUNS * HOUR_S * HZ} readings acknowledged, ${await countStored(ids)} stored`,
  );
  console.log(
    `  memory ${early.toFixed(0)} MB in its second quarter, ${late.toFixed(0)} MB in its last (${(late / early).toFixed(2)} times); target flat`,
  );
  await database().query('update live_runs set ended_at = now() where ended_at is null');
}

/** From a fault at the bench to the alarm that is seen, and to the one that sounds, in a browser. */
async function alarms(app: BuiltApp): Promise<void> {
  const bench = await startBench({ rig: NORTH_BENCH, interface_k_per_w: 0.06, room_c: 22, seed: 8, port: null, speed: SPEED });
  const browser = await chromium.launch(CHROMIUM);
  try {
    const stock = await stockLive(bench, { speed: SPEED, period_s: 2, push: '', rig: { stop_c: 150 } });
    await database().query(`update studies set reduction = '{"slope_k_per_min": 1e-9}' where id = $1`, [stock.study]);
    const { id } = await post(`${app.url}/api/live`, JSON.stringify({ mount_id: stock.mount }));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${app.url}/live/${id}`);
    await page.getByRole('button', { name: 'Begin the run' }).click();
    const stage = (name: string) => page.getByRole('heading', { level: 1, name, exact: true }).waitFor({ timeout: 60_000 });
    await stage('Settling');
    const shown: string[] = [];
    const measure = async (fault: string, off: () => Promise<void> | void = () => bench.fault(fault, false)) => {
      const began = performance.now();
      bench.fault(fault, true);
      await page.getByRole('alert').first().waitFor({ timeout: 30_000 });
      const seen = performance.now() - began;
      await page.locator('[data-sounding="yes"]').waitFor({ timeout: 10_000 });
      shown.push(`${fault} ${(seen / 1000).toFixed(1)}/${((performance.now() - began) / 1000).toFixed(1)}`);
      await off();
      for (const end = Date.now() + 60_000; Date.now() < end && (await page.getByRole('alert').count()) > 0; await page.waitForTimeout(50))
        await page
          .getByRole('button', { name: 'Acknowledge' })
          .click({ timeout: 200 })
          .catch(() => {});
    };
    for (const fault of ['power:refuse', 'tachometer:slow', 'sound:garbage', 'thermometer:stuck', 'door', 'throttle']) await measure(fault);
    await measure('fan_stall');
    console.log(`  alarm seen / heard after a fault, s, at ${SPEED} times the speed of the bench: ${shown.join(', ')}; target 2 s`);
  } finally {
    await browser.close();
    await bench.stop();
  }
}
