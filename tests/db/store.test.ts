import { runner } from 'node-pg-migrate';
import pg from 'pg';
import { describe, expect, it } from 'vitest';
import { migrate } from '#app/database/migrate';
import { database, isDatabaseGone, transaction } from '#app/database/pool';
import { errorResponse } from '#app/http';
import { Refusal } from '#app/refusal';
import { loadDemo } from '#demo/loadDemo';
import { demoRuns } from '#demo/studyOne';
import { benchView } from '#features/bench/server/bench';
import { runValuesCsv } from '#features/results/server/studyResults';
import { runView, studyRuns } from '#features/run/server/runView';
import { packAxis, packChannel } from '#features/run/store/packTrace';
import { insertAxes, insertChannels, loadTrace } from '#features/run/store/traces';
import { insertRig, listRigs } from '#features/shelf/store/rigs';
import { insertMount, insertSpecimen, insertStudy, listSpecimens, listStudies } from '#features/study/store/studies';
import { freshDatabase, onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

const store = onFreshDatabase();

describe('migrations', () => {
  it('are applied once, also by several processes at once', async () => {
    expect(await Promise.all([migrate(store.url()), migrate(store.url()), migrate(store.url())])).toEqual([[], [], []]);
  });
  it('leave a store alone that a newer program made', async () => {
    const newer = await freshDatabase();
    const client = new pg.Client({ connectionString: newer.url });
    await client.connect();
    await client.query(`insert into migrations (name, run_on) values ('9000_later', now())`);
    await client.query(`delete from migrations where name like '0027%'`);
    await expect(migrate(newer.url)).rejects.toThrow(
      'the store was brought to a newer version of Warm Gauge (9000_later). Nothing was changed.',
    );
    expect((await client.query(`select count(*)::int as n from migrations where name like '0027%'`)).rows[0].n).toBe(0);
    await client.end();
    await newer.drop();
  });
  it('can be taken back and applied again', async () => {
    const other = await freshDatabase();
    const options = { databaseUrl: other.url, dir: 'src/app/database/migrations', migrationsTable: 'migrations', log: () => {} };
    const down = await runner({ ...options, direction: 'down', count: 100 });
    expect(down.length).toBeGreaterThan(0);
    const client = new pg.Client({ connectionString: other.url });
    await client.connect();
    const { rows } = await client.query(
      `select table_name from information_schema.tables where table_schema = 'public' and table_name <> 'migrations'`,
    );
    await client.end();
    expect(rows).toEqual([]);
    expect(await migrate(other.url)).toHaveLength(down.length);
    await other.drop();
  });
});

describe('nouns', () => {
  it('titles and names are taken once; the first specimen is the reference', async () => {
    const db = database();
    const study = (await insertStudy(db, { title: 'Nouns', question: '', margin_k: 0.5, reduction: { window_s: 60 } })) ?? 0;
    expect(await insertStudy(db, { title: 'Nouns', question: '', margin_k: 1, reduction: {} })).toBeNull();
    const a = (await insertSpecimen(db, study, 'A', 'paste')) ?? 0;
    await insertSpecimen(db, study, 'B', 'pad');
    expect(await insertSpecimen(db, study, 'A', 'pad')).toBeNull();
    const reference = async () => (await listStudies(db)).find((s) => s.id === study)?.reference_id;
    expect(await reference()).toBe(a);
    expect((await listStudies(db))[0].reduction).toEqual({ window_s: 60 });
    expect((await listSpecimens(db, study)).map((s) => s.name)).toEqual(['A', 'B']);
  });
  it('mounts are numbered within their specimen', async () => {
    const db = database();
    const rig = (await insertRig(db, 'South bench', 92)) ?? 0;
    expect(await insertRig(db, 'South bench', 80)).toBeNull();
    expect((await listRigs(db)).find((r) => r.id === rig)?.throttle_limit_c).toBe(92);
    const [a, b] = await listSpecimens(db);
    const numbers = [];
    for (const s of [a, a, b]) numbers.push((await insertMount(db, s.id, rig, '')).number);
    expect(numbers).toEqual([1, 2, 1]);
  });
  it('a transaction that fails leaves nothing', async () => {
    const work = transaction(async (client) => {
      await insertRig(client, 'Half', null);
      throw new Refusal('no');
    });
    await expect(work).rejects.toThrow('no');
    expect((await listRigs(database())).some((r) => r.name === 'Half')).toBe(false);
  });
});

describe('traces longer than a chunk', () => {
  it('come back whole, and in part by time', async () => {
    const n = 10_000;
    const t = Float64Array.from({ length: n }, (_, i) => i / 10);
    const values = t.map((s, i) => (i % 1000 === 7 ? Number.NaN : 40 + Math.sin(s)));
    const { rows } = await database().query<{ id: number }>(
      `insert into runs (import_id, mount_id, number, started_zoned, reading, options, result, valid, r_valid, censored)
       select gen_random_uuid(), min(id), 1, false, '{}', '{}', '{}', false, false, false from mounts returning id`,
    );
    await insertAxes(database(), rows[0].id, [packAxis(t)]);
    await insertChannels(database(), rows[0].id, 0, [
      packChannel({ name: 'Die', file: 'a.csv', role: 'sensor', unit: 'degC', axis: 0 }, values),
    ]);
    const [all] = await loadTrace(database(), rows[0].id, 0, 1e9);
    expect(all.t).toHaveLength(n);
    expect(all.values[4097]).toBeCloseTo(values[4097], 5);
    expect(all.values.filter(Number.isNaN)).toHaveLength(10);
    const [part] = await loadTrace(database(), rows[0].id, 450, 460);
    expect(part.t.length).toBeLessThanOrEqual(4096);
    expect(part.t[0]).toBeLessThanOrEqual(450);
    expect(part.t[part.t.length - 1]).toBeGreaterThanOrEqual(460);
    await database().query('delete from runs where id = $1', [rows[0].id]);
  });
});

describe('errors', () => {
  const bodyOf = async (error: unknown) => {
    const response = errorResponse(error);
    return { status: response.status, ...(await response.json()) };
  };
  it('a lost store is told apart from a refused statement', async () => {
    const lost = await new pg.Client({ connectionString: 'postgres://x@127.0.0.1:1/x' }).connect().catch((e: Error) => e);
    const refused = await database()
      .query('select nonsense')
      .catch((e: Error) => e);
    expect([isDatabaseGone(lost), isDatabaseGone(refused)]).toEqual([true, false]);
    expect(await bodyOf(lost)).toMatchObject({ status: 503, store_gone: true });
  });
  it('what is not a refusal keeps its inner details to itself', async () => {
    expect(await bodyOf(new Refusal('There is no run 7.', 404))).toEqual({ status: 404, error: 'There is no run 7.' });
    const inner = await bodyOf(new Error('password=secret'));
    expect(inner.status).toBe(500);
    expect(JSON.stringify(inner)).not.toContain('secret');
  });
});

describe('the demo', () => {
  it('is not loaded into a store that has studies of its own', async () => {
    await loadDemo(() => {});
    expect((await listStudies(database())).map((s) => s.title)).toEqual(['Nouns']);
  });
  it('goes on where it was interrupted, and tells the same story', async () => {
    await database().query('delete from studies');
    await database().query('delete from mounts');
    await database().query('delete from rigs');
    let reached = 0;
    const stop = new Error('interrupted');
    await expect(
      loadDemo((done) => {
        reached = done;
        if (done === 20) throw stop;
      }),
    ).rejects.toBe(stop);
    expect(reached).toBe(20);
    await loadDemo(() => {});
    const results = await resultsOf((await listStudies(database()))[0].id);
    expect(results.runs).toBe(demoRuns().length);
    expect(results.mounts).toHaveLength(40);
    expect(results.left_out).toBe(3);
    const wick = results.analysis?.pairs.find((p) => p.a === 'Loam White' && p.b === 'Wick 60');
    expect(wick).toMatchObject({ verdict: 'warmer', firm: true });
    expect(wick?.difference).toBeCloseTo(1.93, 1);
  });
  it('fills the bench, its runs and its exports', async () => {
    const bench = await benchView();
    expect(bench.lanes.map((l) => [l.rig, l.line !== null])).toEqual([
      ['North bench', true],
      ['South bench', true],
      ...['0052', '0063', '0071'].map((card) => [`Hut card ${card}`, true]),
    ]);
    expect(bench.waiting.runs[0].codes[0]).toMatch(/throttled|not_steady/);
    expect(bench.waiting.total).toBeGreaterThanOrEqual(6);
    const [study] = await listStudies(database());
    const { runs, mounts } = await studyRuns(study.id);
    const results = await resultsOf(study.id);
    expect([runs.length, mounts.length, results.specimens.length]).toEqual([96, 40, 8]);
    const felt = results.mounts.find((m) => m.specimen === 'Slip Felt 0.5' && m.mount === 3);
    expect(felt).toMatchObject({ value: null });
    expect(felt?.at_or_above).toBeGreaterThan(65);
    const view = await runView(runs[0].id);
    expect(view.mates.map((m) => m.number)).toEqual([1, 2, 3]);
    const csv = (await runValuesCsv(study.id)).trim().split('\n');
    expect(csv).toHaveLength(98);
    expect(csv[0]).toMatch(/^# choices: \{"rise":/);
    expect(csv[1]).toBe('specimen,mount,run,day,rig,device,load,value,at_least,valid,excluded,reason,r_k_per_w,r_valid');
    await expect(resultsOf(424242)).rejects.toThrow('There is no study 424242.');
    await expect(runView(424242)).rejects.toThrow('There is no run 424242.');
  });
  it('keeps each original byte for byte', async () => {
    const { rows } = await database().query<{ sha: string; own: string }>(
      `select encode(f.sha256, 'hex') as sha, encode(sha256((select string_agg(p.bytes, ''::bytea order by p.piece) from log_file_pieces p where p.file_id = f.id)), 'hex') as own from log_files f`,
    );
    expect(rows).toHaveLength(303);
    expect(rows.every((r) => r.sha === r.own)).toBe(true);
  });
});
