import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fillLab, TWENTY_DEMOS } from '../../benchmarks/lab/fill.ts';
import { PLACES } from '../../benchmarks/lab/places.ts';
import { rowsRead } from '../../benchmarks/lab/rowsRead.ts';
import { type App, startApp } from './app.ts';

let app: App;
let db: pg.Client;
beforeAll(async () => {
  app = await startApp('demo');
  db = new pg.Client(app.databaseUrl);
  await db.connect();
});
afterAll(async () => {
  await db.end();
  await app.stop();
});

/** What a list may hold more of a lab that is larger: rows of the shelf, names of studies, and what is kept of each in a line. */
const OF_LISTS = 2500;
/** Looks at everything by what it is for. */
const LOOKS_AT_ALL = ['Search'];

const look = async (place: string) => {
  const answer = await fetch(app.url + place);
  expect(answer.status, place).toBe(200);
  await answer.arrayBuffer();
};

/** Rows that each place reads once it was looked at before. */
async function rowsOfPlaces(): Promise<Record<string, number>> {
  const rows: Record<string, number> = {};
  for (const [name, place] of Object.entries(PLACES)) {
    await look(place);
    await look(place);
    rows[name] = await rowsRead(db, () => look(place));
  }
  return rows;
}

describe('a lab of twenty demos', () => {
  it('has no place that reads it whole', async () => {
    const demo = await rowsOfPlaces();
    await fillLab(db, TWENTY_DEMOS);
    const { rows } = await db.query('select (select count(*) from runs)::int as runs, (select count(*) from mounts)::int as mounts');
    expect(rows[0].runs).toBeGreaterThan(5000);
    const lab = await rowsOfPlaces();
    const more = Object.keys(PLACES)
      .filter((name) => !LOOKS_AT_ALL.includes(name) && lab[name] > 2 * demo[name] + OF_LISTS)
      .map((name) => `${name}: ${demo[name]} → ${lab[name]}`);
    expect(more).toEqual([]);
  });
});
