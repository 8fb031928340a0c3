import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { analyse } from '#core/compare/analyse';
import { readRunTable } from '#core/compare/runTable';
import { excludeMount } from '#features/mount/server/excluded';
import { runValuesCsv } from '#features/results/server/studyResults';
import { ImportPlan } from '#features/run/model/importPlan';
import { decideRun } from '#features/run/server/decide';
import { importRun } from '#features/run/server/importRun';
import { judgementView } from '#features/run/server/judge';
import { getRun, listFindings, listWaitingRuns } from '#features/run/store/runs';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';
import { twoRooms } from '../twoRooms.ts';

onFreshDatabase();

const PROBE = 'Shelf air ambient';
let study: number;
const runs: number[] = [];
const store = async (seed: number, apart: number, place: object) =>
  importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [
    { name: `run ${seed}.csv`, bytes: twoRooms(seed, apart) },
  ]);

beforeAll(async () => {
  const first = await store(1, 0.2, {
    study_title: 'Two rooms',
    specimen_name: 'Loam White',
    specimen_kind: 'paste',
    rig_name: 'Bench',
    rig_limit_c: 95,
  });
  study = first.study_id;
  const { rows } = await database().query<{ specimen: number; rig: number }>(
    'select sp.id as specimen, g.id as rig from specimens sp, rigs g',
  );
  const place = { study_id: study, specimen_id: rows[0].specimen, rig_id: rows[0].rig };
  runs.push(first.run_id, (await store(2, 5, place)).run_id, (await store(3, 5, place)).run_id, (await store(4, 5, place)).run_id);
});

describe('a run that needs a decision', () => {
  it('is stored and listed first, with what each way would give, and is out of means', async () => {
    const run = await getRun(database(), runs[1]);
    expect(run).toMatchObject({ valid: false, result: { decision: ['ambient_disagree'] } });
    expect(run?.result.alternatives.map((a) => a.without)).toEqual(['Room', PROBE]);
    const waiting = await listWaitingRuns(database(), 10);
    expect(waiting.runs.filter((r) => r.decide).map((r) => r.run_id)).toEqual([runs[3], runs[2], runs[1]]);
    const results = await resultsOf(study);
    expect(results.analysis?.specimens[0]).toMatchObject({ mounts: 1 });
    expect(results.facts.runs.filter((r) => r.undecided.length > 0)).toHaveLength(3);
  });
  it('is refused a decision that settles nothing or gives no reason, and nothing changes', async () => {
    const before = await getRun(database(), runs[1]);
    await expect(decideRun(runs[1], { accept: ['ambient_disagree'], reason: ' ' })).rejects.toThrow('Give a reason of 1 to 500 characters');
    await expect(decideRun(runs[1], { reason: 'so' })).rejects.toThrow('Say how it is decided');
    await expect(decideRun(runs[1], { accept: ['throttled'], reason: 'so' })).rejects.toThrow('Only findings that need a decision');
    await expect(decideRun(runs[1], { ambient_probes: ['Cellar'], reason: 'so' })).rejects.toThrow('there is no ambient probe "Cellar"');
    await expect(decideRun(runs[0], { accept: ['ambient_disagree'], reason: 'so' })).rejects.toThrow('needs no decision');
    expect(await getRun(database(), runs[1])).toEqual(before);
  });
  it('counts once a person says which probe stands, with the journal keeping what was before', async () => {
    const alternative = (await getRun(database(), runs[1]))?.result.alternatives[1].rise_k;
    expect(await decideRun(runs[1], { ambient_probes: ['Room'], reason: 'the other hangs in the shelf', who: 'EB' })).toEqual({
      settled: 1,
      open: [],
    });
    const run = await getRun(database(), runs[1]);
    expect(run).toMatchObject({ valid: true, rise_k: alternative, result: { decision: [] } });
    expect((await listFindings(database(), runs[1])).some((f) => f.severity === 'decide')).toBe(false);
    const [change] = await listChanges<{ decision: string[]; valid: boolean }>(database(), 'run', runs[1]);
    expect(change).toMatchObject({ action: 'decide', who: 'EB', reason: 'the other hangs in the shelf', undone_by: null });
    expect([change.before.decision, change.after.decision, change.after.valid]).toEqual([['ambient_disagree'], [], true]);
    expect((await judgementView(runs[1])).history).toHaveLength(1);
  });
  it('is settled for all others of its load or for none', async () => {
    const before = await getRun(database(), runs[2]);
    // one of them cannot be read any more: nothing of the others changes
    await database().query('update runs set reading = $2 where id = $1', [runs[3], { units: { Nowhere: 'degF' } }]);
    await expect(decideRun(runs[2], { ambient_probes: ['Room'], reason: 'so', covers: 'load' })).rejects.toThrow(
      'there is no column "Nowhere"',
    );
    await database().query('update runs set reading = $2 where id = $1', [runs[3], {}]);
    expect(await getRun(database(), runs[2])).toEqual(before);
    expect(await listChanges(database(), 'run', runs[2])).toEqual([]);
  });
  it('is settled with all others of its load at once', async () => {
    expect(await decideRun(runs[2], { room_c: 22, room_u_k: 0.3, reason: 'read beside it', covers: 'load' })).toEqual({
      settled: 2,
      open: [],
    });
    for (const id of runs.slice(2)) {
      const run = await getRun(database(), id);
      expect(run).toMatchObject({ valid: true, result: { ambient_c: { mean: 22 } } });
      // of one sensor that counts, the room's own error is in the standard error
      expect(run?.se_k).toBeGreaterThan(0.29);
    }
    expect((await resultsOf(study)).analysis?.specimens[0]).toMatchObject({ mounts: 4 });
  });
});

describe('the journal', () => {
  it('is only added to', async () => {
    await expect(database().query("update changes set reason = 'other'")).rejects.toThrow('only added to');
    await expect(database().query('delete from changes')).rejects.toThrow('only added to');
  });
  it('keeps what is left out and included again', async () => {
    const mount = (await getRun(database(), runs[0]))?.mount_id as number;
    await excludeMount(mount, { reason: 'tilted', who: 'EB' });
    await excludeMount(mount, { reason: null });
    expect((await listChanges(database(), 'mount', mount)).map((c) => [c.action, c.before, c.after])).toEqual([
      ['exclude', null, 'tilted'],
      ['include', 'tilted', null],
    ]);
  });
});

describe('the exported table', () => {
  it('gives the verdicts of the page', async () => {
    const page = (await resultsOf(study)).analysis;
    const table = readRunTable('values.csv', await runValuesCsv(study), 'rise');
    const { load: _, ...choices } = table.choices;
    expect(analyse(table.rows, choices).specimens).toEqual(page?.specimens);
  });
});
