/**
 * What touches the store, measured against a throw-away PostgreSQL server with its usual settings: the import of a million rows against
 * COPY of the same bytes, the memory it takes, and how quickly its trace is drawn. The application must have been built.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createReadStream, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { type IncomingMessage, request } from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { json } from 'node:stream/consumers';
import { chromium } from 'playwright-core';
import { CHROMIUM } from '../scripts/chromium.mjs';
import { startStore } from '../scripts/store.mjs';
import { writeBigLog } from './bigLog';
import { type BuiltApp, median, startBuiltApp } from './builtApp';
import { noteTarget } from './targets';

const ROWS = 1_000_000;
const ROUNDS = 5;

const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-bench-'));
const store = await startStore();
let app: BuiltApp | null = null;
try {
  const log = path.join(folder, 'log.csv');
  await writeBigLog(log, ROWS);
  const copies: number[] = [];

  app = await startBuiltApp(store.url);
  const { url } = app;
  const small = path.join(folder, 'small.csv');
  await writeBigLog(small, 3000);
  await importLog(url, small, 'Warm-up');
  await fetch(url).then((r) => r.text());
  await new Promise((done) => setTimeout(done, 1000));

  const idle = app.memory();
  let peak = idle;
  const watch = setInterval(() => {
    peak = Math.max(peak, (app as BuiltApp).memory());
  }, 100);
  const importing: number[] = [];
  let run = 0;
  for (let round = 0; round < ROUNDS; round++) {
    // a file counts once, so each round has its own
    await writeBigLog(log, ROWS - round);
    copies.push(copyTime(log));
    const began = performance.now();
    run = await importLog(url, log, `Round ${round}`);
    importing.push(performance.now() - began);
  }
  clearInterval(watch);
  const time = median(importing);
  const copying = median(copies);
  const megabytes = readFileSync(log).length / 1048576;
  console.log(
    `Import ${ROWS.toLocaleString('en')} rows × 12 channels (${megabytes.toFixed(0)} MB) to a stored, reduced run\n  ${(time / 1000).toFixed(2)} s, ${((100 * copying) / time).toFixed(0)} % of the rate of COPY into an unlogged text table (${(copying / 1000).toFixed(2)} s); target 40 %`,
  );
  noteTarget('import', `${((100 * copying) / time).toFixed(0)} %`, (0.4 * time) / copying);
  const above = (peak - idle) / 1048576;
  noteTarget('import_memory', `${above.toFixed(0)} MB`, above / 300);

  const whole = await fetch(`${url}/api/runs/${run}/trace?columns=360`).then((r) => r.arrayBuffer());
  const answers: number[] = [];
  for (let i = 0; i < 60; i++) {
    const width = [100_000, 30_000, 3000, 120][i % 4];
    const from = ((i * 7919) % 1000) * ((100_000 - width) / 1000);
    const began = performance.now();
    await fetch(`${url}/api/runs/${run}/trace?columns=360&from=${from}&to=${from + width}`).then((r) => r.arrayBuffer());
    answers.push(performance.now() - began);
  }
  console.log('Draw that run');
  noteTarget('first_drawing', `${(whole.byteLength / 1024).toFixed(0)} kB`, whole.byteLength / 1024 / 150);
  noteTarget('trace', `${median(answers).toFixed(0)} ms (longest of 60: ${Math.max(...answers).toFixed(0)} ms)`, median(answers) / 150);
  await zoomInBrowser(url, run);
} finally {
  app?.stop();
  store.stop();
  rmSync(folder, { recursive: true, force: true });
}

/** Time in ms in which COPY takes the bytes of a log into an unlogged table of texts. */
function copyTime(file: string): number {
  const columns = Array.from({ length: 13 }, (_, i) => `c${i} text`).join(',');
  const sql = (text: string) =>
    execFileSync(path.join(store.bin, 'psql'), ['-q', '-d', store.url, '-c', text], { stdio: ['ignore', 'ignore', 'ignore'] });
  sql(`drop table if exists copied; create unlogged table copied (${columns})`);
  const began = performance.now();
  sql(`\\copy copied from '${file}' csv header`);
  const took = performance.now() - began;
  sql('drop table copied');
  return took;
}

/** Sends a log as a browser does, straight from the disk, so that the sender takes as little of the machine as psql does. */
async function importLog(url: string, file: string, title: string): Promise<number> {
  const place = { study_title: title, specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: title, rig_limit_c: 95 };
  const plan = JSON.stringify({ import_id: randomUUID(), reading: {}, place });
  const part = (head: string) => `--x\r\ncontent-disposition: form-data; ${head}\r\n\r\n`;
  const before = `${part('name="plan"')}${plan}\r\n${part(`name="files"; filename="${path.basename(file)}"`)}`;
  const after = '\r\n--x--\r\n';
  const length = Buffer.byteLength(before) + statSync(file).size + Buffer.byteLength(after);
  const sending = request(`${url}/api/imports`, {
    method: 'POST',
    headers: { 'content-type': 'multipart/form-data; boundary=x', 'content-length': length },
  });
  const answered = once(sending, 'response') as Promise<[IncomingMessage]>;
  sending.write(before);
  for await (const piece of createReadStream(file, { highWaterMark: 1024 * 1024 })) if (!sending.write(piece)) await once(sending, 'drain');
  sending.end(after);
  const [response] = await answered;
  const body = (await json(response)) as { run_id: number; error?: string };
  if (response.statusCode !== 201) throw new Error(body.error);
  return body.run_id;
}

/** From a press of a key to the frame in which the plot is moved, and to the one with the finer lines; and how long the page held still. */
async function zoomInBrowser(url: string, run: number): Promise<void> {
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${url}/runs/${run}`);
    await page.locator('path.recharts-line-curve').first().waitFor();
    await page.waitForLoadState('networkidle');
    const plot = page.getByRole('region', { name: /^Trace: plus and minus zoom/ });
    await plot.focus();
    const moved: number[] = [];
    const finer: number[] = [];
    for (let i = 0; i < 8; i++) {
      const answered = page.waitForResponse((r) => r.url().includes('/trace?')).catch(() => null);
      // as text, since names that the compiler adds to functions are not known in the page
      const took = (await page.evaluate(`(async () => {
        const line = () => document.querySelector('path.recharts-line-curve')?.getAttribute('d');
        const before = line();
        const began = performance.now();
        document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', { key: '+', bubbles: true }));
        while (line() === before && performance.now() - began < 3000) await new Promise(requestAnimationFrame);
        return performance.now() - began;
      })()`)) as number;
      moved.push(took);
      const began = performance.now();
      await answered;
      finer.push(performance.now() - began);
      await page.waitForTimeout(300);
    }
    console.log(`Zoom into it in the browser: finer lines ${median(finer).toFixed(0)} ms after the first`);
    noteTarget('zoom', `${median(moved).toFixed(0)} ms (longest of 8: ${Math.max(...moved).toFixed(0)} ms)`, median(moved) / 100);
  } finally {
    await browser.close();
  }
}
