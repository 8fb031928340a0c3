import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun, importSources } from '#features/run/server/importRun';
import { judgeRun } from '#features/run/server/judge';
import { editLayout, forgetLayout, layouts, rememberLayout, takeLayouts } from '#features/run/server/layouts';
import { attachResults, removeResults, resultsOf } from '#features/run/server/programResults';
import { storeTyped } from '#features/run/server/typedRun';
import { getRun, listFindings } from '#features/run/store/runs';
import { deleteStudy } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { sourceOf } from '../../src/features/run/server/streamReduction.ts';
import { onFreshDatabase } from '../database.ts';

const logs = new URL('../reference/logs/', import.meta.url);
const file = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, logs))) });
const text = (name: string, content: string) => ({ name, bytes: new TextEncoder().encode(content) });
const newPlace = (study: string) => ({
  study_title: study,
  specimen_name: 'Loam White',
  specimen_kind: 'paste',
  rig_name: `Rig of ${study}`,
  rig_limit_c: 95,
});
const plan = (place: object, more: object = {}) => check(ImportPlan, { import_id: randomUUID(), reading: {}, place, ...more });
const count = async (table: string) => Number((await database().query(`select count(*) as n from ${table}`)).rows[0].n);

onFreshDatabase();

describe('layouts', () => {
  const headers = ['Time', 'Tile', 'Power (W)'];
  it('are kept once for the same headers, renamed, corrected and counted', async () => {
    const first = await rememberLayout({ name: ' Bench logger ', headers, reading: { roles: { Tile: 'sensor' } } });
    expect(first.name).toBe('Bench logger');
    const again = await rememberLayout({ name: 'Bench logger 2', headers, reading: { roles: { Tile: 'coolant' } }, sensor: null });
    expect(again.id).toBe(first.id);
    const [changed] = await editLayout(first.id, {
      name: 'Bench logger',
      reading: { roles: { Tile: 'sensor' }, day_first: true },
      sensor: 'Tile',
    });
    expect(changed).toMatchObject({
      name: 'Bench logger',
      reading: { roles: { Tile: 'sensor' }, day_first: true },
      sensor: 'Tile',
      used: 0,
    });
    await importRun(plan(newPlace('Counted'), { layout_id: first.id }), [file('plain.csv')]);
    expect((await layouts())[0].used).toBe(1);
  });
  it('are shared as a file, all or none, and put back after they were taken away', async () => {
    const { taken } = await forgetLayout((await layouts())[0].id);
    expect(await layouts()).toEqual([]);
    await rememberLayout({ ...taken });
    expect((await layouts())[0]).toMatchObject({ name: 'Bench logger', headers, sensor: 'Tile' });
    const other = { name: 'Other', headers: ['t', 'die'], reading: {} };
    await expect(takeLayouts({ layouts: [other, { name: 'Bench logger', headers: ['x', 'y'], reading: {} }] })).rejects.toThrow(
      'There is already a log format "Bench logger"',
    );
    expect(await layouts()).toHaveLength(1);
    expect(await takeLayouts({ layouts: [other] })).toHaveLength(2);
  });
  it('refuse what is none', async () => {
    await expect(rememberLayout({ name: '', headers, reading: {} })).rejects.toThrow('1 to 120 characters');
    await expect(rememberLayout({ name: 'x', headers: ['only'], reading: {} })).rejects.toThrow('a list of 2 to 2000 texts');
    await expect(rememberLayout({ name: 'x', headers, reading: { roles: { Tile: 'boiler' } } })).rejects.toThrow(
      'each value should be one of',
    );
    await expect(takeLayouts({ layouts: 'all' })).rejects.toThrow('a list named "layouts"');
    await expect(forgetLayout(999999)).rejects.toThrow('no longer exists');
  });
});

describe('results of programs', () => {
  it('come with the log, or are attached later, and are taken away', async () => {
    const results = [text('pass.json', '{"score": 4321, "runTime_s": 612.5}')];
    const { run_id } = await importSources(plan(newPlace('Scores'), { comparable: false }), [sourceOf(file('near_limit.csv'))], {
      results,
    });
    expect(await resultsOf(run_id)).toMatchObject([{ name: 'pass.json', figures: { score: 4321, run_time_s: 612.5 }, comparable: false }]);
    expect(await attachResults(run_id, [text('frames.csv', 'Frame,Frame time (ms)\n1,10\n2,30\n')], true)).toHaveLength(2);
    await expect(attachResults(run_id, [text('pass.json', '{"score": 4321, "runTime_s": 612.5}')], true)).rejects.toThrow(
      'already has the results of pass.json',
    );
    await expect(attachResults(run_id, [text('empty.json', '{}')], true)).rejects.toThrow('no score, run time');
    expect(await removeResults(run_id, 'pass.json')).toHaveLength(1);
    await expect(removeResults(run_id, 'pass.json')).rejects.toThrow('has no results of pass.json');
    await expect(attachResults(999999, results, true)).rejects.toThrow('There is no run 999999');
    // the files of results live as long as a run has them
    const other = await importRun(
      plan(newPlace('Other scores')),
      [file('plain.csv')].map((f) => ({ ...f, bytes: f.bytes.subarray(0, f.bytes.length - 120) })),
    );
    await attachResults(other.run_id, [text('frames.csv', 'Frame,Frame time (ms)\n1,10\n2,30\n')], true);
    expect(await deleteStudy(database(), other.study_id)).toBe(true);
    expect(await resultsOf(run_id)).toHaveLength(1);
  });
  it('that cannot be read leave nothing of the whole import', async () => {
    const before = await Promise.all(['runs', 'studies', 'log_files', 'log_file_pieces'].map(count));
    const broken = [text('cut.json', '{"score": 43')];
    await expect(importSources(plan(newPlace('Broken')), [sourceOf(file('gaps.csv'))], { results: broken })).rejects.toThrow(
      'begins like JSON but is not',
    );
    expect(await Promise.all(['runs', 'studies', 'log_files', 'log_file_pieces'].map(count))).toEqual(before);
  });
});

describe('a run read from a display', () => {
  const texts = { mean_c: '66.2', hottest_c: '67.9 °C / 154 °F', coldest_c: '64.3', room_c: '22', power_w: '140' };
  it('is stored with what was typed, and can be judged but not read anew', async () => {
    const given = { import_id: randomUUID(), place: newPlace('Typed'), texts, throttled: 'no' };
    const { run_id } = await storeTyped(given);
    expect(await storeTyped(given)).toMatchObject({ run_id, repeated: true });
    const run = await getRun(database(), run_id);
    expect(run).toMatchObject({ valid: true, censored: false, typed: { texts, throttled: 'no' } });
    expect(run?.rise_k).toBeCloseTo(44.2, 9);
    expect((await listFindings(database(), run_id)).map((f) => f.code)).toEqual(['read_by_hand', 'ambient_typed']);
    expect(await judgeRun(run_id, { action: 'accept', who: 'KL' })).toMatchObject({ judged: 'accepted' });
    await expect(judgeRun(run_id, { action: 'window', window: { start_s: 0, end_s: 120 }, reason: 'x' })).rejects.toThrow();
  });
  it.each([
    [{ ...texts, mean_c: 'warm' }, 'is no reading'],
    [{ ...texts, hottest_c: '67.9 °C / 170 °F' }, 'differ by'],
    [{ room_c: '22' }, 'Enter at least one reading besides the room'],
    [{ ...texts, coldest_c: '70' }, 'The coldest sensor reads above the hottest'],
    [{ ...texts, mean_c: '69' }, 'The mean lies above the hottest sensor'],
  ])('%j is refused in a sentence', async (bad, sentence) => {
    await expect(storeTyped({ import_id: randomUUID(), place: newPlace('Refused'), texts: bad })).rejects.toThrow(sentence);
  });
});

describe('an import that is cancelled', () => {
  it('leaves nothing, whatever had come', async () => {
    const before = await Promise.all(['runs', 'studies', 'log_files', 'log_file_pieces', 'channels', 'trace_chunks'].map(count));
    const control = new AbortController();
    async function* slowly() {
      const { bytes } = file('gaps.csv');
      for (let at = 0; at < bytes.length; at += 20_000) {
        if (at > 60_000) control.abort();
        yield bytes.subarray(at, at + 20_000);
      }
    }
    const source = { name: 'gaps.csv', size: null, pieces: slowly() };
    await expect(importSources(plan(newPlace('Cancelled')), [source], { signal: control.signal })).rejects.toThrow(
      'The import was cancelled. Nothing was stored.',
    );
    expect(await Promise.all(['runs', 'studies', 'log_files', 'log_file_pieces', 'channels', 'trace_chunks'].map(count))).toEqual(before);
    // the same file can be imported afterwards
    await expect(importRun(plan(newPlace('Cancelled')), [file('gaps.csv')])).resolves.toMatchObject({ repeated: false });
  });
  it('that breaks off in the middle says so', async () => {
    async function* breaking() {
      yield file('slow_loop.csv').bytes.subarray(0, 50_000);
      throw new Error('socket hang up');
    }
    await expect(importSources(plan(newPlace('Cut')), [{ name: 'x.csv', size: null, pieces: breaking() }])).rejects.toThrow(
      'socket hang up',
    );
    expect((await database().query("select 1 from studies where title = 'Cut'")).rowCount).toBe(0);
  });
  it('several at a time each get their run', async () => {
    const names = ['fahrenheit.csv', 'over_midnight.csv', 'ambient_drift.csv', 'lasting_limit.csv', 'many_columns.csv', 'cut_line.csv'];
    const stored = await Promise.all(names.map((n) => importRun(plan(newPlace(`At once ${n}`)), [file(n)])));
    expect(new Set(stored.map((s) => s.run_id)).size).toBe(names.length);
  });
});
