/**
 * Every place of a lab of five years against the same place with the demo alone, in one run: as a person waits for it, and how many rows the
 * store read for it. The application must have been built.
 */
import { writeFileSync } from 'node:fs';
import pg from 'pg';
import { startStore } from '../scripts/store.mjs';
import { type BuiltApp, median, startBuiltApp } from './builtApp';
import { FIVE_YEARS, fillLab } from './lab/fill';
import { PLACES } from './lab/places';
import { rowsRead } from './lab/rowsRead';

const ROUNDS = 5;

interface Measured {
  ms: number;
  rows: number;
  bytes: number;
}

const store = await startStore('-c fsync=off -c full_page_writes=off');
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url, ['--demo']);
  const db = new pg.Client(store.url);
  await db.connect();
  for (;;) {
    const { rows } = await db.query('select finished_at from demo_loads');
    if (rows[0]?.finished_at) break;
    await new Promise((done) => setTimeout(done, 500));
  }
  const demo = await measureAll(app.url, db);
  const began = performance.now();
  await fillLab(db, FIVE_YEARS);
  const { rows } = await db.query(`select (select count(*) from studies) as studies, (select count(*) from mounts) as mounts,
    (select count(*) from runs) as runs, (select count(*) from materials) as materials`);
  console.log(`Filled in ${((performance.now() - began) / 1000).toFixed(0)} s:`, JSON.stringify(rows[0]));
  const lab = await measureAll(app.url, db);
  const lines = Object.keys(PLACES).map((name) => {
    const [d, l] = [demo[name], lab[name]];
    return `| ${name} | ${d.ms.toFixed(0)} | ${l.ms.toFixed(0)} | ${(l.ms / d.ms).toFixed(1)} | ${d.rows} | ${l.rows} | ${(l.bytes / 1024).toFixed(0)} |`;
  });
  const table = [
    '| Place | demo / ms | five years / ms | ratio | rows, demo | rows, five years | kB |',
    '| --- | ---: | ---: | ---: | ---: | ---: | ---: |',
    ...lines,
  ].join('\n');
  console.log(table);
  if (process.env.WARM_GAUGE_TABLE) writeFileSync(process.env.WARM_GAUGE_TABLE, `${table}\n`);
  await db.end();
} finally {
  app?.stop();
  store.stop();
}

async function measureAll(url: string, db: pg.Client): Promise<Record<string, Measured>> {
  const measured: Record<string, Measured> = {};
  for (const [name, place] of Object.entries(PLACES)) {
    const times: number[] = [];
    let bytes = 0;
    for (let i = 0; i <= ROUNDS; i++) {
      const start = performance.now();
      const answer = await fetch(url + place, { signal: AbortSignal.timeout(300_000) });
      bytes = (await answer.arrayBuffer()).byteLength;
      if (!answer.ok) throw new Error(`${place}: ${answer.status}`);
      // the first warms up
      if (i > 0) times.push(performance.now() - start);
      if (performance.now() - start > 20_000) {
        times.push(performance.now() - start);
        break;
      }
    }
    const rows = await rowsRead(db, async () => {
      await (await fetch(url + place)).arrayBuffer();
    });
    measured[name] = { ms: median(times), rows, bytes };
  }
  return measured;
}
