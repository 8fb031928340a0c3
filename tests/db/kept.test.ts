import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { benchQueue } from '#features/bench/server/queue';
import { listQuery } from '#features/results/model/studyList';
import { listedStudies, withHeads } from '#features/results/server/studyHeads';
import { listPlaces } from '#features/run/server/places';
import { storeTyped } from '#features/run/server/typedRun';
import { listWaitingRuns } from '#features/run/store/runs';
import { listCouponsUsed, listLastRuns, listWorkedStudies, sheetUses } from '#features/shelf/store/uses';
import { changePlan } from '#features/study/server/editPlan';
import { answersOf, answerTo } from '#features/study/server/keptAnswers';
import { labHistory } from '#features/study/server/labHistory';
import { changeOrder } from '#features/study/server/order';
import { planView } from '#features/study/server/planView';
import { insertSpecimen, insertStudy, listMounts, listSpecimens } from '#features/study/store/studies';
import { measuredWholes } from '#features/tools/server/measuredWholes';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

let study: number;
let other: number;
const ids: Record<string, number> = {};
const run = (statement: string) => database().query(statement);

async function read(studyId: number, specimen: number, mean: number, mount?: number): Promise<number> {
  const [rig] = (await run('select id from rigs order by id')).rows;
  const on = {
    ...{ study_id: studyId, specimen_id: specimen },
    ...(mount ? { mount_id: mount } : {}),
    ...(rig ? { rig_id: rig.id } : { rig_name: 'Typed bench' }),
  };
  const texts = { mean_c: `${(22 + mean).toFixed(1)} °C`, room_c: '22.0 °C', power_w: '100 W' };
  const { run_id } = await storeTyped({
    ...{ import_id: randomUUID(), place: on, texts, throttled: 'no' },
    read_at: new Date().toISOString(),
  });
  return run_id;
}

/** All that is told from what is kept. */
async function told() {
  const db = database();
  const uses = await Promise.all((['materials', 'coolers', 'fans', 'rigs', 'instruments'] as const).map((s) => sheetUses(db, s)));
  return {
    heads: (await withHeads(await listedStudies(listQuery(new URLSearchParams('sort=title')), () => false))).map((s) => [s.title, s.head]),
    queue: await benchQueue(),
    places: await listPlaces(),
    wholes: await measuredWholes(),
    uses,
    last: [...(await listLastRuns(db))],
    worked: await listWorkedStudies(db, 5),
    coupons: [...(await listCouponsUsed(db, [ids.rig]))],
  };
}

/** The same, with nothing kept. */
async function toldAnew() {
  await run('delete from kept_answers');
  await run('delete from kept_uses');
  await run('update study_versions set uses_version = 0');
  return told();
}

beforeAll(async () => {
  study = (await insertStudy(database(), { title: 'Pastes', question: '', margin_k: 1, reduction: {} })) ?? 0;
  other = (await insertStudy(database(), { title: 'Later', question: '', margin_k: 1, reduction: {} })) ?? 0;
  for (const name of ['Loam White', 'Wick 60']) await insertSpecimen(database(), study, name, 'paste');
  await insertSpecimen(database(), other, 'Tarn', 'paste');
  const [a, b] = await listSpecimens(database(), study);
  const [c] = await listSpecimens(database(), other);
  Object.assign(ids, { a: a.id, b: b.id, c: c.id });
  for (const d of [0, 0.3, -0.2]) {
    await read(study, a.id, 30 + d);
    await read(study, b.id, 27 + d);
  }
  for (const { id, number, specimen_id } of await listMounts(database(), study))
    await read(study, specimen_id, (specimen_id === a.id ? 30.1 : 27.1) + [0, 0.3, -0.2][number - 1], id);
  ids.rig = (await run('select id from rigs')).rows[0].id;
  const shelf = async (table: string, sheet: object) =>
    (await database().query(`insert into ${table} (name, sheet) values ($1, $2) returning id`, [`A ${table}`, sheet])).rows[0].id;
  ids.material = await shelf('materials', { kind: 'paste', permanent: true });
  ids.second = (await run(`insert into materials (name) values ('Another') returning id`)).rows[0].id;
  ids.fan = await shelf('fans', {});
  ids.cooler = await shelf('coolers', { fans: [ids.fan] });
  ids.instrument = await shelf('instruments', {});
  const view = await planView(study);
  await changePlan(study, { base: view.version, changes: { mounts: 5, rigs: [ids.rig], reference_id: ids.a }, insist: [] });
  await changeOrder(study, { action: 'draw', seed: 1 });
});

describe('the scatter of the lab', () => {
  it('follows the runs, and is not told anew for a change of a plan', async () => {
    const before = await labHistory(database());
    expect(await labHistory(database())).toBe(before);
    await run(`update studies set question = 'Which?' where id = ${study}`);
    expect(await labHistory(database())).toBe(before);
    expect(before.map((h) => h.kind)).toEqual(['paste']);
    await run(`update runs set rise_k = rise_k + 0.2 where id = (select max(id) from runs)`);
    expect(await labHistory(database())).not.toEqual(before);
  });
});

describe('what is kept of a study', () => {
  it('is told as it is told anew, and nothing of it is computed twice', async () => {
    const first = await told();
    expect(first.queue.length).toBeGreaterThan(0);
    expect(first.heads.map((h) => h[0])).toEqual(['Later', 'Pastes']);
    expect(await told()).toEqual(first);
    expect(await toldAnew()).toEqual(first);
    let computed = 0;
    const count = async () => ++computed;
    await answersOf('count', [study, other], count);
    await answersOf('count', [study, other], count);
    expect(computed).toBe(2);
  });

  // each changes something that a figure of the study rests on, by whatever way
  it.each<[string, () => Promise<unknown>]>([
    ['its title', () => run(`update studies set title = 'Pastes and more' where id = ${study}`)],
    ['its smallest difference', () => run(`update studies set margin_k = 2 where id = ${study}`)],
    ['its plan', () => run(`update studies set plan = plan || '{"mount_min": 70}' where id = ${study}`)],
    ['the name of a specimen', () => run(`update specimens set name = 'Wick 61' where id = ${ids.b}`)],
    ['the material of a specimen', () => run(`update specimens set material_id = ${ids.material} where id = ${ids.a}`)],
    ['the cooler of a specimen', () => run(`update specimens set cooler_id = ${ids.cooler} where id = ${ids.a}`)],
    ['the sheet of its material', () => run(`update materials set sheet = '{"kind": "paste", "wait_min": 90}' where id = ${ids.material}`)],
    ['the name of its rig', () => run(`update rigs set name = 'North bench' where id = ${ids.rig}`)],
    ['the sheet of its rig', () => run(`update rigs set sheet = '{"throttle_limit_c": 92, "instruments": [${ids.instrument}]}'`)],
    ['the cooler on its rig', () => run(`update rigs set sheet = sheet || '{"cooler_id": ${ids.cooler}}'`)],
    ['the parts of its rig', () => run(`update rigs set parts = '[{"name": "Die", "material_id": ${ids.second}, "count": 2}]'`)],
    ['a run more', () => read(study, ids.a, 30.4)],
    ['a value', () => run(`update runs set rise_k = 40, r_k_per_w = 0.4 where id = (select max(id) from runs)`)],
    ['a run left out', () => run(`update runs set judged = 'excluded', excluded_reason = 'lid' where id = (select max(id) from runs)`)],
    ['a mount left out', () => run(`update mounts set excluded_reason = 'tilted' where id = (select min(id) from mounts)`)],
    ['a mount more', () => run(`insert into mounts (specimen_id, rig_id, number) values (${ids.b}, ${ids.rig}, 9)`)],
    [
      'a try of a mount',
      () => run(`insert into mount_attempts (mount_id, number, outcome, ended_at) select max(id), 1, 'ready', '2026-01-05' from mounts`),
    ],
    ['the order', () => run(`update planned_mounts set state = 'lost', reason = 'ill' where id = (select min(id) from planned_mounts)`)],
    [
      'a run moved to another study',
      async () => {
        await run(`insert into mounts (specimen_id, rig_id, number) values (${ids.c}, ${ids.rig}, 1)`);
        await run(`update runs set mount_id = (select max(id) from mounts), number = 1 where id = (select min(id) from runs)`);
      },
    ],
    ['a run deleted', () => run(`delete from runs where id = (select max(id) from runs)`)],
    ['a study archived', () => run(`update studies set archived_at = now() where id = ${other}`)],
    ['a study deleted', () => run(`delete from studies where id = ${other}`)],
  ])('follows %s', async (_, change) => {
    const before = await told();
    await change();
    const after = await told();
    expect(after).not.toEqual(before);
    expect(after).toEqual(await toldAnew());
  });

  it('is computed again where the change came while it was computed', async () => {
    const slow = await answersOf('slow', [study], async () => {
      const { rows } = await run(`select title from studies where id = ${study}`);
      await run(`update studies set title = title || '!' where id = ${study}`);
      return rows[0].title as string;
    });
    const again = await answersOf('slow', [study], async () => (await run(`select title from studies where id = ${study}`)).rows[0].title);
    expect(again.get(study)).toBe(`${slow.get(study)}!`);
  });

  it('answers a question once, and another anew', async () => {
    let computed = 0;
    const ask = (question: object) => answerTo(study, 'ask', question, async () => ({ n: ++computed, nothing: undefined, far: Infinity }));
    expect(await ask({ a: 1 })).toEqual({ n: 1, nothing: undefined, far: Infinity });
    expect((await ask({ a: 1 })).n).toBe(1);
    expect((await ask({ a: 2 })).n).toBe(2);
    // one answer of a task is kept
    expect((await ask({ a: 1 })).n).toBe(3);
    await run(`update kept_answers set key = 'another build' where task = 'ask'`);
    expect((await ask({ a: 1 })).n).toBe(4);
  });
});

describe('runs that ask for a look', () => {
  it('follow their findings and their judgement', async () => {
    const id = (await run('select min(id) as id from runs where judged = $$open$$')).rows[0].id;
    await run(`delete from findings`);
    await run(`update mounts set excluded_reason = null`);
    const waiting = async () => (await listWaitingRuns(database(), 12)).runs.map((r) => [r.run_id, r.codes[0], r.decide]);
    expect(await waiting()).toEqual([]);
    const find = (code: string, severity: string) =>
      run(`insert into findings (run_id, code, severity, message) values (${id}, '${code}', '${severity}', 'x')`);
    await find('told', 'note');
    expect(await waiting()).toEqual([]);
    await find('warm', 'warn');
    expect(await waiting()).toEqual([[id, 'warm', false]]);
    await find('asks', 'decide');
    expect(await waiting()).toEqual([[id, 'asks', true]]);
    await run(`update runs set judged = 'accepted' where id = ${id}`);
    expect(await waiting()).toEqual([[id, 'asks', true]]);
    await run(`delete from findings where code = 'asks'`);
    expect(await waiting()).toEqual([]);
    await run(`update runs set judged = 'open' where id = ${id}`);
    expect(await waiting()).toEqual([[id, 'warm', false]]);
    await run(`update mounts set excluded_reason = 'tilted' where id = (select mount_id from runs where id = ${id})`);
    expect(await waiting()).toEqual([]);
  });
});
