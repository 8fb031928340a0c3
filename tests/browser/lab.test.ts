import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fillLab, TWENTY_DEMOS } from '../../benchmarks/lab/fill.ts';
import { PLACES } from '../../benchmarks/lab/places.ts';
import { type RowsRead, rowsRead } from '../../benchmarks/lab/rowsRead.ts';
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
/** What a place may ask more often of a larger lab: the bench has more rigs to look at. */
const OF_QUERIES = 8;
/** Looks at everything by what it is for. */
const LOOKS_AT_ALL = ['Search'];

const look = async (place: string) => {
  const answer = await fetch(app.url + place);
  expect(answer.status, place).toBe(200);
  await answer.arrayBuffer();
};

/** The tables that most was read of. */
const wordsOf = ({ tables }: RowsRead) =>
  [...tables]
    .sort((a, b) => b[1] - a[1])
    .slice(0, 4)
    .map(([table, rows]) => `${table} ${rows}`)
    .join(', ');

/** Rows that each place reads once it was looked at before. */
async function rowsOfPlaces(): Promise<Record<string, RowsRead>> {
  const rows: Record<string, RowsRead> = {};
  for (const [name, place] of Object.entries(PLACES)) {
    await look(place);
    await look(place);
    // the store looks after itself now and then, which counts too
    const both = [await rowsRead(db, () => look(place)), await rowsRead(db, () => look(place))];
    rows[name] = both.sort((a, b) => a.total - b.total)[0];
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
      .filter((name) => !LOOKS_AT_ALL.includes(name) && lab[name].total > 2 * demo[name].total + OF_LISTS)
      .map((name) => `${name}: ${demo[name].total} → ${lab[name].total}; ${wordsOf(lab[name])}`);
    expect(more).toEqual([]);
    const asked = Object.keys(PLACES)
      .filter((name) => lab[name].queries > 2 * demo[name].queries + OF_QUERIES)
      .map((name) => `${name}: ${demo[name].queries} → ${lab[name].queries} queries`);
    expect(asked).toEqual([]);
    // what is counted is counted at all
    expect(lab.Results.queries).toBeGreaterThan(5);
  });
});
