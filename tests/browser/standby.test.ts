import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, startApp } from './app.ts';

/** As a standby answers: it refuses whatever would be written. */
const readOnly = (url: string) => `${url}?options=-c%20default_transaction_read_only%3Don`;

let app: App;
let db: pg.Client;
beforeAll(async () => {
  app = await startApp('demo', (url) => ({ DATABASE_READ_URL: readOnly(url) }));
  db = new pg.Client(app.databaseUrl);
  await db.connect();
});
afterAll(async () => {
  await db.end();
  await app.stop();
});

/** Statements that the readers' connections and the others were last at, by what they were asked. */
const readersNow = async () =>
  (await db.query(`select from pg_stat_activity where application_name = 'warm gauge readers' and datname = current_database()`)).rowCount;
const post = (path: string, body: unknown, method = 'POST') =>
  fetch(app.url + path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

it('serves every page that only reads from the standby, where nothing can be written', async () => {
  // nothing is kept yet: what would be written down is let go
  for (const table of ['kept_answers', 'kept_uses', 'verdicts_shown']) await db.query(`delete from ${table}`);
  await db.query('update study_versions set uses_version = 0');
  const places = [
    ...['/studies', '/help', '/shelf/materials', '/shelf/rigs', '/tools/stack', '/tools/dose', '/runs/1', '/shelf/materials/1'],
    ...['results', 'report', 'runs', 'coolers', 'ageing', 'plan'].flatMap((p) => [1, 2, 3].map((s) => `/studies/${s}/${p}`)),
  ];
  for (const place of places) expect([place, (await fetch(app.url + place)).status]).toEqual([place, 200]);
  expect(await readersNow()).toBeGreaterThan(0);
  // the results were shown; on the store itself that would be noted
  const { rows } = await db.query('select count(*)::int as shown from verdicts_shown');
  expect(rows).toEqual([{ shown: 0 }]);
});

it('shows what was just written, and writes into the store itself', async () => {
  for (let i = 1; i <= 4; i++) {
    expect((await post('/api/studies', { title: `By the primary ${i}`, margin_k: 1 })).status).toBe(201);
    expect(await (await fetch(`${app.url}/studies`)).text()).toContain(`By the primary ${i}`);
  }
});

it('reads the store itself where the standby is gone', async () => {
  await db.query(`select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'warm gauge readers'`);
  expect((await fetch(`${app.url}/studies/1/results`)).status).toBe(200);
});
