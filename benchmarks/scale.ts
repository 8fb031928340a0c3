/**
 * What samples take: runs of a million rows × 12 channels are imported one after the other, then packed, then dropped, and the store is
 * measured before and after. Figures for 10⁹ samples are computed from those measured here, and written into docs/scale.md. The application
 * must have been built.
 */
import { randomUUID } from 'node:crypto';
import { openAsBlob, rmSync } from 'node:fs';
import pg from 'pg';
import { closeDatabase } from '#app/database/pool';
import { ageSamples } from '#features/run/server/oldSamples';
import { startStore } from '../scripts/store.mjs';
import { writeBigLog } from './bigLog';
import { type BuiltApp, median, startBuiltApp } from './builtApp';
import { writeTable } from './tables';

const RUNS = Number(process.env.RUNS ?? 9);
const ROWS = 1_000_000;
const CHANNELS = 12;
const SAMPLES = RUNS * ROWS * CHANNELS;
const BILLION = 1e9;
const LOG = '/tmp/warm-gauge-scale.csv';

const store = await startStore('-c fsync=off');
process.env.DATABASE_URL = store.url;
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url);
  const db = new pg.Client(store.url);
  await db.connect();
  await writeBigLog(LOG, ROWS);
  const size = async (tables: string[]) => {
    const { rows } = await db.query('select sum(pg_total_relation_size(t::regclass))::float8 as n from unnest($1::text[]) as t', [tables]);
    return rows[0].n as number;
  };
  const traces = () => size(['trace_chunks', 'time_chunks', 'channels']);
  const empty = { traces: await traces(), logs: await size(['log_file_pieces']) };
  const importing: number[] = [];
  const answers: number[] = [];
  for (let i = 1; i <= RUNS; i++) {
    const began = performance.now();
    await importOnce(app.url, i);
    importing.push(performance.now() - began);
    if (i === 1 || i === RUNS) answers.push(await answering(app.url, i));
    console.log(`run ${i} of ${RUNS}: ${((performance.now() - began) / 1000).toFixed(1)} s`);
  }
  const whole = (await traces()) - empty.traces;
  const logs = (await size(['log_file_pieces'])) - empty.logs;
  const csv = (await openAsBlob(LOG)).size * RUNS;
  await db.query("update all_runs set created_at = now() - interval '100 days'");
  const packing = await timed(() => ageSamples({ pack_days: 50, drop_days: null }));
  await db.query('vacuum full trace_chunks, time_chunks');
  const packed = (await traces()) - empty.traces;
  const afterPacking = await answering(app.url, RUNS);
  const dropping = await timed(() => ageSamples({ pack_days: null, drop_days: 50 }));
  await db.query('vacuum full trace_chunks, time_chunks');
  const dropped = (await traces()) - empty.traces;
  await db.end();
  const row = (what: string, bytes: number) =>
    `| ${what} | ${(bytes / SAMPLES).toFixed(2)} | ${(bytes / 1e6).toFixed(0)} MB | ${((bytes / SAMPLES) * (BILLION / 1e9)).toFixed(1)} GB |`;
  const perBillion = (ms: number) => `${(((ms / SAMPLES) * BILLION) / 60_000).toFixed(1)} min`;
  const table = [
    `| What is stored | bytes a sample | measured, ${(SAMPLES / 1e6).toFixed(0)} million samples | computed, 10⁹ samples |`,
    '| --- | ---: | ---: | ---: |',
    row('Logs as they came (CSV)', csv),
    row('Logs in the store', logs),
    row('Samples as they are stored, with their blocks', whole),
    row('Samples packed', packed),
    row('Blocks alone, samples dropped', dropped),
    '',
    '| What it takes | measured | computed, 10⁹ samples |',
    '| --- | ---: | ---: |',
    `| Import of one run of a million rows, first and last | ${(importing[0] / 1000).toFixed(1)} s, ${(importing[RUNS - 1] / 1000).toFixed(1)} s | ${perBillion(importing.reduce((a, b) => a + b, 0))} |`,
    `| A span of a run drawn, with 1 run stored, ${RUNS}, and ${RUNS} packed | ${[...answers, afterPacking].map((ms) => `${ms.toFixed(0)} ms`).join(', ')} | the same: it reads its own chunks by index |`,
    `| Packing | ${(packing / 1000).toFixed(0)} s | ${perBillion(packing)} |`,
    `| Dropping | ${(dropping / 1000).toFixed(1)} s | ${perBillion(dropping)} |`,
  ].join('\n');
  console.log(table);
  writeTable('docs/scale.md', 'scale', table);
} finally {
  app?.stop();
  await closeDatabase();
  store.stop();
  rmSync(LOG, { force: true });
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** Median time in which the server answers for a span of a run, ms. */
async function answering(url: string, run: number): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < 40; i++) {
    const width = [100_000, 30_000, 3000, 120][i % 4];
    const from = ((i * 7919) % 1000) * ((100_000 - width) / 1000);
    times.push(
      await timed(async () => (await fetch(`${url}/api/runs/${run}/trace?columns=360&from=${from}&to=${from + width}`)).arrayBuffer()),
    );
  }
  return median(times);
}

async function importOnce(url: string, i: number): Promise<void> {
  const form = new FormData();
  const place = { study_title: `Scale ${i}`, specimen_name: 'A', specimen_kind: 'paste', rig_name: `Rig ${i}`, rig_limit_c: 200 };
  form.set('plan', JSON.stringify({ import_id: randomUUID(), reading: {}, place }));
  // each is another file by its first line
  form.append('log', new File([`# ${i}\n`, await openAsBlob(LOG)], `million ${i}.csv`));
  const answer = await fetch(`${url}/api/imports`, { method: 'POST', body: form });
  if (!answer.ok) throw new Error(`import ${i}: ${answer.status} ${await answer.text()}`);
}
