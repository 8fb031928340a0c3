/**
 * From a start on an empty folder to a page, with the store being made, and to the demo loaded behind it; then a second start. And what the
 * places and workers send as scripts. The application must have been built.
 */
import { type ChildProcess, spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium } from 'playwright-core';
import { CHROMIUM } from '../scripts/chromium.mjs';
import { freePort } from '../scripts/store.mjs';
import { PLACES } from './lab/places';
import { noteTarget } from './targets';

const port = await freePort();
const url = `http://127.0.0.1:${port}`;
const data = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-start-'));
// the store may run under a user of its own
chmodSync(data, 0o755);
try {
  const first = await start('demo');
  noteTarget('start', `${first.page_s.toFixed(1)} s`, first.page_s / 5);
  const demo_s = await first.demo;
  noteTarget('demo', `${demo_s.toFixed(0)} s`, demo_s / 30);
  await scripts();
  await first.stop();
  const second = await start('start');
  noteTarget('second_start', `${second.page_s.toFixed(1)} s`, second.page_s / 5);
  await second.stop();
} finally {
  rmSync(data, { recursive: true, force: true });
}

/** Starts as a person does, and waits for the first page. */
async function start(command: 'demo' | 'start') {
  const began = performance.now();
  const seconds = () => (performance.now() - began) / 1000;
  const { DATABASE_URL: _, ...env } = process.env;
  const child: ChildProcess = spawn('./warm-gauge', [command], {
    env: { ...env, PORT: String(port), WARM_GAUGE_DATA: data },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const gone = new Promise((done) => child.once('exit', done));
  const demo = new Promise<number>((done) => {
    child.stdout?.on('data', (text) => String(text).includes('The demo is loaded.') && done(seconds()));
  });
  while (!(await fetch(url).catch(() => null))?.ok) {
    if (child.exitCode !== null) throw new Error(`The application ended with ${child.exitCode} before a page was there.`);
    await new Promise((done) => setTimeout(done, 20));
  }
  const page_s = seconds();
  return {
    ...{ page_s, demo },
    stop: async () => {
      child.kill('SIGTERM');
      await gone;
    },
  };
}

/** Bytes of scripts that each place sends to a browser that has none, and of all workers with what they share, as they lie packed. */
async function scripts(): Promise<void> {
  const browser = await chromium.launch(CHROMIUM);
  const sent: { name: string; bytes: number }[] = [];
  try {
    for (const [name, place] of Object.entries(PLACES)) {
      const page = await (await browser.newContext()).newPage();
      const sizes: Promise<number>[] = [];
      page.on('requestfinished', (r) => {
        const { pathname } = new URL(r.url());
        if (pathname.endsWith('.js') && !pathname.includes('worker')) sizes.push(r.sizes().then((s) => s.responseBodySize));
      });
      await page.goto(url + place);
      await page.waitForLoadState('networkidle');
      sent.push({ name, bytes: (await Promise.all(sizes)).reduce((a, b) => a + b, 0) });
      await page.context().close();
    }
  } finally {
    await browser.close();
  }
  const largest = sent.sort((a, b) => b.bytes - a.bytes)[0];
  noteTarget('scripts', `${(largest.bytes / 1024).toFixed(0)} kB (${largest.name})`, largest.bytes / 1024 / 250);
  const folder = 'dist/client/_astro';
  const workers = readdirSync(folder).filter((f) => /worker-.*\.js$/.test(f));
  const all = new Set<string>();
  const add = (file: string) => {
    if (all.has(file)) return;
    all.add(file);
    for (const [, other] of readFileSync(path.join(folder, file), 'utf8').matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g))
      add(other);
  };
  for (const file of workers) add(file);
  // a file that does not get smaller is sent as it is
  const asSent = (file: string) => (existsSync(`${file}.br`) ? `${file}.br` : file);
  const bytes = [...all].reduce((sum, f) => sum + statSync(asSent(path.join(folder, f))).size, 0);
  noteTarget('workers', `${(bytes / 1024).toFixed(0)} kB (${workers.length} of them with what they share)`, bytes / 1024 / 150);
}
