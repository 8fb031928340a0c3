/**
 * Twenty imports of a million rows, one after the other: resident memory of the application before, at its highest and a while after. The
 * application must have been built.
 */
import { randomUUID } from 'node:crypto';
import { openAsBlob, rmSync } from 'node:fs';
import { startStore } from '../scripts/store.mjs';
import { writeBigLog } from './bigLog';
import { type BuiltApp, startBuiltApp } from './builtApp';
import { noteTarget } from './targets';

const IMPORTS = Number(process.env.IMPORTS ?? 20);
const ROWS = 1_000_000;
const MB = 1024 * 1024;
const LOG = '/tmp/warm-gauge-million.csv';

const store = await startStore('-c fsync=off');
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url);
  await writeBigLog(LOG, ROWS);
  const memory = () => (app?.memory() ?? 0) / MB;
  // as it stands when somebody has looked at it
  for (const place of ['/', '/studies', '/shelf/materials']) await (await fetch(app.url + place)).text();
  const idle = await rested(memory);
  let peak = 0;
  const watch = setInterval(() => {
    peak = Math.max(peak, memory());
  }, 100);
  for (let i = 1; i <= IMPORTS; i++) {
    const began = performance.now();
    await importOnce(app.url, i);
    console.log(`import ${i}: ${((performance.now() - began) / 1000).toFixed(1)} s, ${memory().toFixed(0)} MB`);
  }
  clearInterval(watch);
  const after = await rested(memory);
  console.log(
    `Memory: ${idle.toFixed(0)} MB idle, ${peak.toFixed(0)} MB at most, ${after.toFixed(0)} MB after ${IMPORTS} imports of ${ROWS} rows.`,
  );
  if (IMPORTS === 20) noteTarget('imports_memory', `${(after - idle).toFixed(0)} MB`, (after - idle) / 100);
} finally {
  app?.stop();
  store.stop();
  rmSync(LOG, { force: true });
}

/** Memory once the threads have gone and what is not needed was let go of. */
async function rested(memory: () => number): Promise<number> {
  await new Promise((done) => setTimeout(done, 40_000));
  return memory();
}

async function importOnce(url: string, i: number): Promise<void> {
  const form = new FormData();
  const place = { study_title: `Memory ${i}`, specimen_name: 'A', specimen_kind: 'paste', rig_name: `Rig ${i}`, rig_limit_c: 200 };
  form.set('plan', JSON.stringify({ import_id: randomUUID(), reading: {}, place }));
  // each is another file by its first line
  form.append('log', new File([`# ${i}\n`, await openAsBlob(LOG)], `million ${i}.csv`));
  const answer = await fetch(`${url}/api/imports`, { method: 'POST', body: form });
  if (!answer.ok) throw new Error(`import ${i}: ${answer.status} ${await answer.text()}`);
}
