/**
 * A study of one run of a million rows as a package: rate of writing against `zip` of the same bytes, rate of bringing it in again, memory of the
 * application above idle, and what is left when either is cancelled. The application must have been built.
 */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { createReadStream, mkdtempSync, openAsBlob, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import { startStore } from '../scripts/store.mjs';
import { writeBigLog } from './bigLog';
import { type BuiltApp, startBuiltApp } from './builtApp';
import { noteTarget } from './targets';

const ROWS = 1_000_000;
const MB = 1024 * 1024;
const folder = mkdtempSync(path.join(tmpdir(), 'package-bench-'));
const log = path.join(folder, 'million.csv');

const asJson = { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' } as const;

const store = await startStore('-c fsync=off');
const elsewhere = await startStore('-c fsync=off');
const apps: BuiltApp[] = [];
try {
  const app = await startBuiltApp(store.url);
  apps.push(app);
  await writeBigLog(log, ROWS);
  const study = await importLog(app.url);
  await lookedAt(app.url);
  await rest();
  const idle = app.memory() / MB;
  const whole = await written(app, study, '');
  const plain = await written(app, study, '?samples=no');
  console.log(
    `Written: ${whole.s.toFixed(1)} s with samples, ${plain.s.toFixed(1)} s without; ${(whole.peak - idle).toFixed(0)} MB above idle at most`,
  );

  // the same bytes by zip: what the package holds, unpacked
  const file = path.join(folder, 'whole.zip');
  const unpacked = path.join(folder, 'unpacked');
  writeFileSync(file, whole.bytes);
  run('unzip', ['-q', file, '-d', unpacked]);
  const withZip = timed(() => run('zip', ['-q', '-r', path.join(folder, 'by-zip.zip'), '.'], unpacked));
  writeFileSync(path.join(folder, 'plain.zip'), plain.bytes);
  const bare = path.join(folder, 'bare');
  run('unzip', ['-q', path.join(folder, 'plain.zip'), '-d', bare]);
  const bareZip = timed(() => run('zip', ['-q', '-r', path.join(folder, 'bare-by-zip.zip'), '.'], bare));
  console.log(`zip of the same bytes: ${withZip.toFixed(1)} s with samples (packed already), ${bareZip.toFixed(1)} s without`);
  console.log(`Rate without samples: ${(bareZip / plain.s).toFixed(2)} of zip; with samples ${(withZip / whole.s).toFixed(2)}`);

  // cancelled half-way: nothing is held
  const stop = new AbortController();
  const cut = await fetch(`${app.url}/api/studies/${study}/package`, { signal: stop.signal });
  await cut.body?.getReader().read();
  stop.abort();
  await rest();

  const away = await startBuiltApp(elsewhere.url);
  apps.push(away);
  await lookedAt(away.url);
  await rest();
  const before = away.memory() / MB;
  const first = await looked(away.url, file);
  const halt = new AbortController();
  const half = await fetch(`${away.url}/api/packages/${first}`, { ...asJson, signal: halt.signal });
  await half.body?.getReader().read();
  await new Promise((done) => setTimeout(done, 1500));
  halt.abort();
  await rest();
  const left = await (await fetch(`${away.url}/api/places`)).json();
  const began = performance.now();
  const peak = watched(away);
  const answer = await fetch(`${away.url}/api/packages/${await looked(away.url, file)}`, asJson);
  const last = (await answer.text()).trim().split('\n').at(-1);
  const s = (performance.now() - began) / 1000;
  const most = peak() - before;
  console.log(
    `Brought in: ${s.toFixed(1)} s, ${most.toFixed(0)} MB above idle at most; left by the one that was cancelled: ${left.titles.length} studies`,
  );
  console.log(String(last).slice(0, 200));
  noteTarget('package_rate', `${((100 * bareZip) / plain.s).toFixed(0)} %`, bareZip / plain.s);
  noteTarget('package_memory', `${Math.max(whole.peak - idle, most).toFixed(0)} MB`, Math.max(whole.peak - idle, most) / 300);
} finally {
  for (const a of apps) a.stop();
  store.stop();
  elsewhere.stop();
  rmSync(folder, { recursive: true, force: true });
}

function run(command: string, args: string[], cwd?: string): void {
  const { status, stderr } = spawnSync(command, args, { cwd, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command}: ${stderr}`);
}

function timed(work: () => void): number {
  const began = performance.now();
  work();
  return (performance.now() - began) / 1000;
}

/** Memory at its highest until it is asked for, MB. */
function watched(app: BuiltApp): () => number {
  let peak = 0;
  const timer = setInterval(() => {
    peak = Math.max(peak, app.memory() / MB);
  }, 50);
  return () => {
    clearInterval(timer);
    return peak;
  };
}

async function written(app: BuiltApp, study: number, query: string) {
  const peak = watched(app);
  const began = performance.now();
  const answer = await fetch(`${app.url}/api/studies/${study}/package${query}`);
  const bytes = Buffer.from(await answer.arrayBuffer());
  return { bytes, s: (performance.now() - began) / 1000, peak: peak() };
}

/** As it stands when somebody has looked at it. */
async function lookedAt(url: string): Promise<void> {
  for (const place of ['/', '/studies', '/shelf/materials']) await (await fetch(url + place)).text();
}

/** Once the threads have gone. */
async function rest(): Promise<void> {
  await new Promise((done) => setTimeout(done, 40_000));
}

async function looked(url: string, file: string): Promise<string> {
  const body = Readable.toWeb(createReadStream(file)) as ReadableStream;
  const init = { method: 'POST', body, duplex: 'half', headers: { 'content-length': String(statSync(file).size) } } as RequestInit;
  const answer = await fetch(`${url}/api/packages?name=x.zip`, init);
  return (await answer.json()).token;
}

async function importLog(url: string): Promise<number> {
  const form = new FormData();
  const place = { study_title: 'Million', specimen_name: 'A', specimen_kind: 'paste', rig_name: 'Rig', rig_limit_c: 200 };
  form.set('plan', JSON.stringify({ import_id: randomUUID(), reading: {}, place }));
  form.append('log', new File([await openAsBlob(log)], 'million.csv'));
  const answer = await fetch(`${url}/api/imports`, { method: 'POST', body: form });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()).study_id;
}
