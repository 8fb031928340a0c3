/**
 * Every place of a lab of five years against the same place with the demo alone, in one run: as a person waits for it who is the first after
 * something was written, how many rows the store read for it, and how many bytes come over the wire. Then a hundred readers of the results.
 * The application must have been built. The table is written into docs/speed.md.
 */
import { get } from 'node:http';
import pg from 'pg';
import { startStore } from '../scripts/store.mjs';
import { type BuiltApp, median, startBuiltApp } from './builtApp';
import { FIVE_YEARS, fillLab } from './lab/fill';
import { PLACES } from './lab/places';
import { rowsRead, writeSomething } from './lab/rowsRead';
import { writeTable } from './tables';
import { noteTarget } from './targets';

const ROUNDS = 5;
const READERS = 100;
const READS = 5;

interface Measured {
  ms: number;
  rows: number;
  queries: number;
  bytes: number;
}

const store = await startStore('-c fsync=off -c full_page_writes=off');
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url, ['--demo']);
  const db = new pg.Client(store.url);
  await db.connect();
  const demo = await measureAll(app.url, db);
  const began = performance.now();
  await fillLab(db, FIVE_YEARS);
  const { rows } = await db.query(`select (select count(*) from studies) as studies, (select count(*) from mounts) as mounts,
    (select count(*) from runs) as runs, (select count(*) from materials) as materials`);
  console.log(`Filled in ${((performance.now() - began) / 1000).toFixed(0)} s:`, JSON.stringify(rows[0]));
  const lab = await measureAll(app.url, db);
  const lines = Object.keys(PLACES).map((name) => {
    const [d, l] = [demo[name], lab[name]];
    return `| ${name} | ${d.ms.toFixed(0)} | ${l.ms.toFixed(0)} | ${(l.ms / d.ms).toFixed(1)} | ${d.rows} | ${l.rows} | ${d.queries} | ${l.queries} | ${(l.bytes / 1024).toFixed(0)} |`;
  });
  const table = [
    '| Place | demo / ms | five years / ms | ratio | rows, demo | rows, five years | queries, demo | queries, five years | kB |',
    '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
    ...lines,
  ].join('\n');
  console.log(table);
  const ratio = (name: string) => `${(lab[name].ms / demo[name].ms).toFixed(1)} ×`;
  const { url } = app;
  const readers: string[] = [];
  for (const name of ['Results', 'Report', 'Studies', 'Bench']) {
    const statics = name === 'Results' ? watchStatic(`${url}/icon.svg`) : null;
    const { row, most, wrong } = await manyReaders(name, url + PLACES[name]);
    readers.push(row);
    if (name === 'Results' || name === 'Report')
      noteTarget(
        `readers_${name.toLowerCase() as 'results' | 'report'}`,
        `${(most / 1000).toFixed(2)} s, ${wrong} wrong`,
        wrong > 0 ? Number.POSITIVE_INFINITY : most / 1000,
      );
    if (statics) {
      const slow = await statics();
      noteTarget('statics', `${slow.toFixed(0)} ms`, slow / 50);
    }
  }
  const readersTable = [
    `| ${READERS} readers at once, each ${READS} times | median / ms | 95 % / ms | wrong answers |`,
    '| --- | ---: | ---: | ---: |',
    ...readers,
  ].join('\n');
  console.log(readersTable);
  writeTable('docs/speed.md', 'lab', table);
  writeTable('docs/speed.md', 'readers', readersTable);
  for (const [key, name] of [
    ['bench', 'Bench'],
    ['studies', 'Studies'],
    ['shelf', 'Materials'],
  ] as const) {
    const { ms } = lab[name];
    noteTarget(key, `${ms.toFixed(0)} ms, ${ratio(name)}`, Math.max(ms / 150, ms / demo[name].ms / 1.5));
  }
  noteTarget('stack', ratio('Stack tool'), lab['Stack tool'].ms / demo['Stack tool'].ms / 1.5);
  noteTarget('results', `${lab.Results.ms.toFixed(0)} ms`, lab.Results.ms / 250);
  const kept: number[] = [];
  for (let i = 0; i <= ROUNDS; i++) {
    const start = performance.now();
    await (await fetch(`${url}/ranking`)).arrayBuffer();
    if (i > 0) kept.push(performance.now() - start);
  }
  noteTarget('ranking_page', `${median(kept).toFixed(0)} ms`, median(kept) / 250);
  const over = Object.keys(PLACES).filter((name) => lab[name].ms > 1.5 * demo[name].ms);
  const worst = Math.max(...Object.keys(PLACES).map((name) => lab[name].ms / demo[name].ms / 1.5));
  noteTarget('places', over.map((name) => `${name} ${ratio(name)}`).join(', ') || 'none', worst);
  await db.end();
} finally {
  app?.stop();
  store.stop();
}

async function measureAll(url: string, db: pg.Client): Promise<Record<string, Measured>> {
  const measured: Record<string, Measured> = {};
  for (const [name, place] of Object.entries(PLACES)) {
    const times: number[] = [];
    for (let i = 0; i <= ROUNDS; i++) {
      await writeSomething(db);
      const start = performance.now();
      const answer = await fetch(url + place, { signal: AbortSignal.timeout(300_000) });
      await answer.arrayBuffer();
      if (!answer.ok) throw new Error(`${place}: ${answer.status}`);
      // the first warms up
      if (i > 0) times.push(performance.now() - start);
      if (performance.now() - start > 20_000) {
        times.push(performance.now() - start);
        break;
      }
    }
    const { total: rows, queries } = await rowsRead(db, async () => {
      await (await fetch(url + place)).arrayBuffer();
    });
    measured[name] = { ms: median(times), rows, queries, bytes: await wireBytes(url + place) };
  }
  return measured;
}

/** A page that many ask for at the same moment, again and again. */
async function manyReaders(name: string, url: string): Promise<{ row: string; most: number; wrong: number }> {
  const times: number[] = [];
  let wrong = 0;
  const reader = async () => {
    for (let i = 0; i < READS; i++) {
      const start = performance.now();
      const answer = await fetch(url).catch(() => null);
      await answer?.arrayBuffer();
      if (!answer?.ok) wrong++;
      times.push(performance.now() - start);
    }
  };
  await Promise.all(Array.from({ length: READERS }, reader));
  times.sort((a, b) => a - b);
  const most = times[Math.floor(0.95 * times.length)];
  return { row: `| ${name} | ${median(times).toFixed(0)} | ${most.toFixed(0)} | ${wrong} |`, most, wrong };
}

/** Asks for a small file every 20 ms until told to stop; then gives the time within which 95 in 100 were answered, ms. */
function watchStatic(url: string): () => Promise<number> {
  const times: number[] = [];
  let on = true;
  const asking = (async () => {
    while (on) {
      const start = performance.now();
      await (await fetch(url)).arrayBuffer();
      times.push(performance.now() - start);
      await new Promise((done) => setTimeout(done, 20));
    }
  })();
  return async () => {
    on = false;
    await asking;
    return times.sort((a, b) => a - b)[Math.floor(0.95 * times.length)];
  };
}

/** Bytes of an answer as they come over the wire, to a browser. */
function wireBytes(url: string): Promise<number> {
  return new Promise((done, failed) => {
    get(url, { agent: false, headers: { 'accept-encoding': 'gzip, deflate, br' } }, (answer) => {
      let bytes = 0;
      answer.on('data', (part: Buffer) => {
        bytes += part.length;
      });
      answer.on('end', () => done(bytes));
    }).on('error', failed);
  });
}
