import pg from 'pg';
import { describe, expect, it } from 'vitest';
import { database, isDatabaseGone, isStoreBusy, transaction } from '../../src/app/database/pool.ts';
import { first, many, only, sql, touches } from '../../src/app/database/query.ts';
import { whileAsked } from '../../src/app/database/reader.ts';
import { errorResponse } from '../../src/app/http.ts';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

describe('a statement', () => {
  it('sends what stands in it as values, never as SQL', async () => {
    const odd = `'; drop table studies; --`;
    expect(await only<{ a: string; b: number }>(database())`select ${odd}::text as a, ${7}::int as b`).toEqual({ a: odd, b: 7 });
    expect(await many<{ id: number }>(database())`select id from studies`).toEqual([]);
  });
  it('takes no object that a person sent for SQL, however it is made', async () => {
    const sent = { parts: ['1; drop table studies'], values: [] };
    expect(await only<{ a: object }>(database())`select ${sent}::jsonb as a`).toEqual({ a: sent });
  });
  it('takes pieces with values of their own, in their places, one within another', async () => {
    const low = sql`n > ${2}`;
    const both = sql`${low} and n < ${6} and n <> ${4}`;
    const rows = await many<{ n: number }>(database())`
      select n from generate_series(${1}::int, ${9}::int) n where ${both} or n = ${9} order by ${sql`n desc`}`;
    expect(rows.map((r) => r.n)).toEqual([9, 5, 3]);
  });
  it('gives the first row or null, and says whether it touched one', async () => {
    expect(await first<{ n: number }>(database())`select n from generate_series(1, 3) n where n > ${1} order by n`).toEqual({ n: 2 });
    expect(await first(database())`select 1 where ${false}`).toBeNull();
    expect(await touches(database())`select from generate_series(1, 2)`).toBe(true);
    expect(await touches(database())`delete from studies where id = ${-1}`).toBe(false);
  });
});

describe('a store that everybody asks at once', () => {
  it('is busy and not gone, and says when to ask again', async () => {
    const held = await Promise.all(Array.from({ length: 10 }, () => database().connect()));
    await held[0].query('select 1');
    held.pop()?.release();
    held.push(await database().connect());
    const error = await database()
      .query('select 1')
      .catch((e: Error) => e);
    for (const client of held) client.release();
    expect([isStoreBusy(error), isDatabaseGone(error)]).toEqual([true, false]);
    const answer = errorResponse(error);
    expect([answer.status, answer.headers.get('retry-after')]).toEqual([429, '2']);
    expect(await only<{ n: number }>(database())`select 1 as n`).toEqual({ n: 1 });
  });
});

describe('a reader who leaves', () => {
  const sleeping = async () =>
    (
      await database().query(
        `select from pg_stat_activity where state = 'active' and query like '%pg_sleep(20.5%' and pid <> pg_backend_pid()`,
      )
    ).rowCount;

  it('ends his query and no other, and begins none', async () => {
    const leaving = new AbortController();
    const other = many(database())`select pg_sleep(2.5) is not null as slept`;
    const his = whileAsked(leaving.signal, () => many(database())`select pg_sleep(20.5)`);
    his.catch(() => {});
    await expect.poll(sleeping).toBe(1);
    const began = Date.now();
    leaving.abort();
    await expect(his).rejects.toMatchObject({ code: '57014' });
    expect(Date.now() - began).toBeLessThan(5000);
    expect(await sleeping()).toBe(0);
    await expect(whileAsked(leaving.signal, () => many(database())`select 1`)).rejects.toMatchObject({ name: 'AbortError' });
    expect(await other).toEqual([{ slept: true }]);
    // the connection is whole again
    expect(await Promise.all(Array.from({ length: 12 }, () => many(database())`select 1 as one`))).toHaveLength(12);
  });

  it('is asked again where his connection ends, and one who writes is told', async () => {
    const other = new pg.Client({ connectionString: database().options.connectionString });
    await other.connect();
    const asking = `from pg_stat_activity where state = 'active' and query like '%pg_sleep(1.5%' and pid <> pg_backend_pid()`;
    const untilAsking = (n: number) => expect.poll(async () => (await other.query(`select ${asking}`)).rowCount).toBe(n);
    const endAll = () => other.query(`select pg_terminate_backend(pid) ${asking}`);
    const ask = () => many<{ n: number }>(database())`select 7 as n from pg_sleep(1.5)`;
    const reads = whileAsked(new AbortController().signal, () => Promise.all(Array.from({ length: 6 }, ask)));
    await untilAsking(6);
    await endAll();
    expect(await reads).toEqual(Array.from({ length: 6 }, () => [{ n: 7 }]));
    const write = ask();
    write.catch(() => {});
    await untilAsking(1);
    await endAll();
    await expect(write).rejects.toMatchObject({ code: '57P01' });
    await other.end();
  });

  it('leaves a transaction whole', async () => {
    const leaving = new AbortController();
    const done = whileAsked(leaving.signal, () =>
      transaction(async (client) => {
        leaving.abort();
        return many<{ one: number }>(client)`select 1 as one`;
      }),
    );
    expect(await done).toEqual([{ one: 1 }]);
  });
});
