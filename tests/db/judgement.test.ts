import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { within } from '#core/signal/trace/series';
import { insertFault } from '#features/mount/store/faults';
import { runValuesCsv } from '#features/results/server/studyResults';
import { ImportPlan } from '#features/run/model/importPlan';
import { windowProblem } from '#features/run/model/judgement';
import { importRun } from '#features/run/server/importRun';
import { judgementView, judgeRun, pinNote, unpinNote } from '#features/run/server/judge';
import { riseBytes } from '#features/run/server/riseBytes';
import { getRun, listFindings, listWaitingRuns } from '#features/run/store/runs';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

const logs = new URL('../reference/logs/', import.meta.url);
const file = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, logs))) });

onFreshDatabase();

let run: number;
let study: number;
beforeAll(async () => {
  const place = { study_title: 'Judged', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'Bench', rig_limit_c: 95 };
  const stored = await importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [file('plain.csv')]);
  run = stored.run_id;
  study = stored.study_id;
});

describe('the window of a run', () => {
  it('is set by hand, read anew from the files, and kept with the automatic value beside it', async () => {
    const before = await judgementView(run);
    expect(before).toMatchObject({ judged: 'open', automatic: null, history: [] });
    const row = await getRun(database(), run);
    await insertFault(database(), { mount_id: row?.mount_id ?? 0, kind: 'crash', note: 'later', who: '' }, 'A fault was reported later.');
    const load = row?.result.stages.find((s) => s.stage === 'sustained');
    const window = { start_s: (load?.end_s ?? 0) - 400, end_s: (load?.end_s ?? 0) - 150 };
    const hand = await judgeRun(run, { action: 'window', window, who: 'EB', reason: 'fan surged at the end' });
    expect(hand.now.window).toEqual(window);
    expect(hand.automatic).toEqual(before.now);
    expect(hand.history).toMatchObject([
      { action: 'window', who: 'EB', reason: 'fan surged at the end', before: before.now, after: hand.now },
    ]);
    // a fault that was reported stays, the reading's findings are those of the new window
    expect((await listFindings(database(), run)).map((f) => f.code).sort()).toEqual(['fault_later', 'window_by_hand']);
    // moved again: the automatic value is still the one by itself
    const again = await judgeRun(run, { action: 'window', window: { ...window, end_s: window.end_s + 60 } });
    expect(again.automatic).toEqual(before.now);
    const back = await judgeRun(run, { action: 'automatic' });
    expect(back.now).toEqual(before.now);
    expect(back.automatic).toBeNull();
    expect(back.history.map((h) => h.action)).toEqual(['window', 'window', 'automatic']);
    expect((await getRun(database(), run))?.rise_k).toBe(row?.rise_k);
    await expect(judgeRun(run, { action: 'automatic' })).rejects.toThrow(/already uses its automatic window/);
  });

  it('is refused where it cannot be judged, and nothing changes', async () => {
    const before = await judgementView(run);
    const refuse = (window: unknown) => expect(judgeRun(run, { action: 'window', window })).rejects;
    await refuse({ start_s: 0, end_s: 120 }).toThrow(/should lie within the load, \d+ to \d+ s/);
    await refuse({ start_s: 1000, end_s: 1005 }).toThrow('A window is at least 10 s long.');
    await refuse({ start_s: 1200, end_s: 1100 }).toThrow('A window is at least 10 s long.');
    await refuse({ start_s: 'a', end_s: 3 }).toThrow('A window begins and ends at a number of seconds.');
    await refuse(undefined).toThrow(/window/i);
    await expect(judgeRun(4711, { action: 'accept' })).rejects.toThrow('There is no run 4711.');
    await expect(judgeRun(run, { action: 'delete' })).rejects.toThrow(/A judgement is one of accept, exclude, reopen, window, automatic/);
    expect(await judgementView(run)).toEqual(before);
    expect(windowProblem({ start_s: 1, end_s: 50 }, [])).toMatch(/no sustained load/);
  });

  it('is answered in the browser from the same readings', async () => {
    const buffer = await riseBytes(run);
    const n = new Uint32Array(buffer, 0, 1)[0];
    const t = new Float64Array(buffer, 8, n);
    const values = Float64Array.from(new Float32Array(buffer, 8 + 8 * n, n));
    const row = await getRun(database(), run);
    const window = row?.result.window ?? { start_s: 0, end_s: 0 };
    const part = within(t, values, window);
    expect(slopeTest(part.t, part.values, 0.2)?.mean).toBeCloseTo(row?.rise_k ?? 0, 4);
    expect(slopeTest(part.t, part.values, 0.2)?.slope).toBeCloseTo(row?.result.slope_k_per_min ?? 0, 4);
  });
});

describe('a run that is judged', () => {
  it('leaves the results when excluded, with its reason, and comes back', async () => {
    expect((await resultsOf(study)).left_out).toBe(0);
    await expect(judgeRun(run, { action: 'exclude', reason: '  ' })).rejects.toThrow(/Say in 1 to 500 characters why/);
    await expect(judgeRun(run, { action: 'exclude' })).rejects.toThrow(/Say in 1 to 500 characters why/);
    const out = await judgeRun(run, { action: 'exclude', reason: 'door of the room opened' });
    expect(out).toMatchObject({ judged: 'excluded', reason: 'door of the room opened' });
    expect(await resultsOf(study)).toMatchObject({ left_out: 1, analysis: null });
    expect(await runValuesCsv(study)).toContain('true,true,door of the room opened');
    const open = await judgeRun(run, { action: 'reopen', who: 'TK' });
    expect(open).toMatchObject({ judged: 'open', reason: null });
    expect((await resultsOf(study)).left_out).toBe(0);
    expect(open.history.at(-2)).toMatchObject({ action: 'exclude', reason: 'door of the room opened' });
    await expect(judgeRun(run, { action: 'reopen' })).rejects.toThrow('This run is already open.');
  });

  it('waits for a judgement no more once it is accepted', async () => {
    expect((await listWaitingRuns(database(), 9)).runs.map((r) => r.run_id)).toEqual([run]);
    await judgeRun(run, { action: 'accept' });
    expect((await listWaitingRuns(database(), 9)).total).toBe(0);
    await expect(judgeRun(run, { action: 'accept' })).rejects.toThrow('This run is already accepted.');
  });
});

describe('a note', () => {
  it('is pinned to a time of the run, and taken away again', async () => {
    const view = await pinNote(run, { at_s: 320.5, text: ' door opened ', who: 'EB' });
    expect(view.notes).toMatchObject([{ at_s: 320.5, text: 'door opened', who: 'EB' }]);
    await expect(pinNote(run, { at_s: 1e6, text: 'x' })).rejects.toThrow(/The run lasts \d+ s/);
    await expect(pinNote(run, { at_s: -1, text: 'x' })).rejects.toThrow(/time of the run/);
    await expect(pinNote(run, { at_s: 1, text: ' ' })).rejects.toThrow('A note has 1 to 500 characters.');
    expect(await unpinNote(run, view.notes[0].id)).toMatchObject({ notes: [], taken: { text: 'door opened' } });
    await expect(unpinNote(run, view.notes[0].id)).rejects.toThrow(/has no note/);
  });
});
