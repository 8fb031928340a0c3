import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { changePlanAndRead, editTyped, storeTyped } from '#features/run/server/typedRun';
import { storeTable } from '#features/run/server/typedTable';
import { getRun, listRuns } from '#features/run/store/runs';
import { planView } from '#features/study/server/planView';
import { listMounts } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

onFreshDatabase();

const row = (specimen: string, mount: number, texts: object, more: object = {}) => ({
  ...{ import_id: randomUUID(), specimen, mount, texts, throttled: 'unknown' },
  ...more,
});
let count = 0;
const table = (rows: object[], more: object = {}) =>
  storeTable({ study_title: `Readings ${++count}`, kind: 'state', rig: `Laptop ${count}`, rows, ...more });

describe('a table of readings', () => {
  it('becomes specimens, mounts and runs, each with its own day, and comes once only', async () => {
    const rows = [
      row('As found', 1, { mean_c: '61.2', room_c: '21.0' }, { read_at: '2026-05-01T10:00:00Z' }),
      row('As found', 1, { mean_c: '61.4', room_c: '21.0' }, { read_at: '2026-05-01T11:00:00Z' }),
      row('Renewed', 1, { mean_c: '55.0', room_c: '20.5' }, { read_at: '2026-05-08T10:00:00Z' }),
      row('Renewed', 2, { mean_c: '55.6', room_c: '20.5' }, { read_at: '2026-05-08T15:00:00Z' }),
    ];
    const { study_id, runs, mounts } = await table(rows);
    expect([runs, mounts]).toEqual([4, 3]);
    const stored = await listRuns(database(), study_id);
    expect(stored.map((r) => [r.specimen, r.mount, r.number, r.started_at?.toISOString()])).toEqual([
      ['As found', 1, 1, '2026-05-01T10:00:00.000Z'],
      ['As found', 1, 2, '2026-05-01T11:00:00.000Z'],
      ['Renewed', 1, 1, '2026-05-08T10:00:00.000Z'],
      ['Renewed', 2, 1, '2026-05-08T15:00:00.000Z'],
    ]);
    expect((await resultsOf(study_id)).analysis?.specimens.map((s) => [s.specimen, s.mounts])).toEqual([
      ['As found', 1],
      ['Renewed', 2],
    ]);
    // sent again after a lost answer, nothing is there twice; further rows find their mounts
    expect(
      await storeTable({ study_id, rig: `Laptop ${count}`, rows: [...rows, row('Renewed', 2, { mean_c: '55.5', room_c: '20.5' })] }),
    ).toMatchObject({
      runs: 1,
      mounts: 0,
    });
  });

  it('is stored as a whole or not at all, and says which row is wrong', async () => {
    const before = (await listMounts(database())).length;
    await expect(table([row('A', 1, { mean_c: '61', room_c: '21' }), row('B', 1, { room_c: '21' })])).rejects.toThrow(
      'Row 2: Enter at least one reading besides the room.',
    );
    await expect(table([row('A', 1, { mean_c: 'warm' })])).rejects.toThrow(/is no reading/);
    await expect(table([])).rejects.toThrow('A table has 1 to 500 rows.');
    await expect(table([row('A', 1, { mean_c: '61' })], { rig: '' })).rejects.toThrow('Row 1: say on which rig or device it was measured');
    expect((await listMounts(database())).length).toBe(before);
    const { rows } = await database().query<{ n: number }>(`select count(*) as n from studies where title = 'Readings ${count}'`);
    expect(rows[0].n).toBe(0);
  });

  it('takes as many rows as it may', async () => {
    const rows = Array.from({ length: 500 }, (_, i) =>
      row(`S${i % 40}`, 1 + Math.floor(i / 120), { mean_c: String(60 + (i % 7)), room_c: '21', power_w: '100' }),
    );
    expect(await table(rows)).toMatchObject({ runs: 500, mounts: 180 });
    await expect(table([...rows, row('S1', 1, { mean_c: '60' })])).rejects.toThrow('A table has 1 to 500 rows.');
  });

  it('tells mounts of several devices apart that have the same number', async () => {
    const rows = ['Ash', 'Birch'].flatMap((rig) => [
      row('Before', 1, { mean_c: '61', room_c: '21' }, { rig }),
      row('After', 1, { mean_c: '55', room_c: '21' }, { rig }),
      row('After', 1, { mean_c: '55', room_c: '21' }, { rig }),
    ]);
    const { study_id, mounts } = await table(rows);
    expect(mounts).toBe(4);
    expect((await listMounts(database(), study_id)).map((m) => `${m.rig} ${m.number}`)).toEqual(['Ash 1', 'Birch 2', 'Ash 1', 'Birch 2']);
    const more = [
      row('After', 1, { mean_c: '56', room_c: '21' }, { rig: 'Birch' }),
      row('After', 2, { mean_c: '56', room_c: '21' }, { rig: 'Birch' }),
    ];
    expect(await storeTable({ study_id, rows: more })).toMatchObject({ runs: 2, mounts: 1 });
  });
});

describe('a typed run', () => {
  const place = () => ({ study_title: `Typed ${++count}`, specimen_name: 'A', specimen_kind: 'paste', rig_name: `Rig ${count}` });

  it('counts after its study is made to compare by what was read, and the runs before are read again', async () => {
    const first = await storeTyped({ import_id: randomUUID(), place: place(), texts: { max_c: '64' } });
    expect(await getRun(database(), first.run_id)).toMatchObject({ valid: false, rise_k: null });
    const { study_id, specimen_id, mount_id } = first;
    const second = await storeTyped({
      ...{ import_id: randomUUID(), texts: { max_c: '66' }, study: { value_school: 'peak', ambient_school: 'absolute' } },
      place: { study_id, specimen_id, mount_id, rig_id: (await listMounts(database(), study_id))[0].rig_id },
    });
    expect((await planView(study_id)).plan).toMatchObject({ value_school: 'peak', ambient_school: 'absolute' });
    for (const [id, rise_k] of [
      [first.run_id, 64],
      [second.run_id, 66],
    ])
      expect(await getRun(database(), id)).toMatchObject({ valid: true, rise_k });
    expect((await listChanges(database(), 'run', first.run_id)).map((c) => c.action)).toEqual(['reread']);
    // and back, by the plan itself
    const { version } = await planView(study_id);
    await changePlanAndRead(study_id, { base: version, changes: { value_school: 'window' }, insist: [] });
    expect(await getRun(database(), first.run_id)).toMatchObject({ valid: false, rise_k: null });
  });

  it('is corrected with what was typed before kept, and not where it was logged', async () => {
    const { run_id } = await storeTyped({
      import_id: randomUUID(),
      place: place(),
      texts: { mean_c: '61', room_c: '21' },
      throttled: 'no',
    });
    await expect(editTyped(run_id, { texts: { mean_c: 'hot' } })).rejects.toThrow(/is no reading/);
    await editTyped(run_id, {
      ...{ texts: { mean_c: '67', room_c: '21' }, throttled: 'no', parts: [{ name: 'Memory', text: '71' }], note: 'misread' },
      ...{ reason: 'A 1 that is a 7', who: 'EB', read_at: '2026-05-01T10:00:00Z' },
    });
    const run = await getRun(database(), run_id);
    expect(run).toMatchObject({ rise_k: 46, typed: { texts: { mean_c: '67' }, note: 'misread', parts: [{ name: 'Memory' }] } });
    expect(run?.started_at?.toISOString()).toBe('2026-05-01T10:00:00.000Z');
    expect(await listChanges(database(), 'run', run_id)).toMatchObject([
      {
        ...{ action: 'correct', who: 'EB', reason: 'A 1 that is a 7' },
        before: { rise_k: 40, typed: { texts: { mean_c: '61', room_c: '21' } } },
        after: { rise_k: 46 },
      },
    ]);
    await expect(editTyped(987_654, { texts: { mean_c: '1' } })).rejects.toMatchObject({ status: 404 });
  });

  it('needs no temperature where its study compares by other outcomes', async () => {
    const { study_id } = await storeTable({
      ...{ study_title: 'Shut-off', kind: 'state', rig: 'Sealed box' },
      rows: [
        row('Bare', 1, {}, { events: [{ event: 'shut-off', time: '4:10', reached: true }] }),
        row('Bare', 2, {}, { events: [{ event: 'shut-off', time: '4:31', reached: true }] }),
        row('Sheet', 1, {}, { events: [{ event: 'shut-off', time: '9:02', reached: true }] }),
        row('Sheet', 2, {}, { events: [{ event: 'shut-off', time: '10:00', reached: false }] }),
      ],
    });
    const { version } = await planView(study_id);
    await changePlanAndRead(study_id, { base: version, changes: { outcomes: [{ key: 'time_to_event', margin: 30 }] }, insist: [] });
    const { choice, facts, analysis } = await resultsOf(study_id);
    expect(choice).toMatchObject({ outcome: 'time_to_event', event: 'shut-off' });
    expect((await listRuns(database(), study_id)).every((r) => r.valid)).toBe(true);
    expect(facts.runs.map((r) => r.events[0])).toMatchObject([{ s: 250 }, { s: 271 }, { s: 542 }, { s: 600, reached: false }]);
    expect(analysis?.outcome).toBe('time_to_event');
    expect(analysis?.pairs[0]).toMatchObject({ a: 'Bare', b: 'Sheet' });
  });
});
