import { describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { excludeMount } from '#features/mount/server/excluded';
import { reportFault, settleFault } from '#features/mount/server/faults';
import { mountGrid } from '#features/mount/server/mountGrid';
import { beginAttempt, beginMount, endAttempt, mountSheet, saveStep } from '#features/mount/server/mountSheet';
import { remount } from '#features/mount/server/remount';
import { compareStudy, studyChoice } from '#features/results/model/choice';
import { createSheet } from '#features/shelf/server/sheets';
import { changePlan } from '#features/study/server/editPlan';
import { changeOrder } from '#features/study/server/order';
import { planView } from '#features/study/server/planView';
import { addSpecimen } from '#features/study/server/specimens';
import { insertStudy } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

onFreshDatabase();

let count = 0;
/** A study of a paste and a liquid metal on a rig of some contact, and a mount of one of them begun. */
async function begun(specimen: 'Loam White' | 'Tarn', contact: object = { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 }) {
  const n = ++count;
  const rig = await createSheet('rigs', { name: `Bench ${n}`, sheet: contact });
  const study = (await insertStudy(database(), { title: `Study ${n}`, question: '', margin_k: 1, reduction: {} })) ?? 0;
  for (const [name, sheet] of Object.entries({ 'Loam White': { kind: 'paste', density_g_per_cm3: 2.5 }, Tarn: { kind: 'liquid_metal' } })) {
    await addSpecimen(study, { material_id: await createSheet('materials', { name: `${name} ${n}`, sheet }), name });
  }
  const view = await planView(study);
  const chosen = view.context.specimens.find((s) => s.name === specimen);
  const { id } = await beginMount(study, { specimen_id: chosen?.id, rig_id: rig, who: 'EB' });
  return { study, rig, id, specimens: view.context.specimens };
}
const addRun = (mount: number, rise: number) =>
  database().query(
    `insert into runs (import_id, mount_id, number, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
     select gen_random_uuid(), $1, coalesce(max(number) + 1, 1), true, '{}', '{}', '{"start_state": null}', $2, true, false, false from runs where mount_id = $1`,
    [mount, rise],
  );
const at = '2026-06-02T09:30:00.000Z';

describe('a mount under way', () => {
  it('keeps what was done at each step, from two devices', async () => {
    const { id } = await begun('Loam White');
    await saveStep(id, { step: 'disconnect', state: { acknowledged_at: at } });
    const [a, b] = await Promise.all([
      saveStep(id, { step: 'disconnect', state: { done_at: at } }),
      saveStep(id, { step: 'apply', state: { records: { lot: 'A7', mass_before_mg: 5200 } } }),
    ]);
    expect(a.current?.number).toBe(1);
    expect(b.current?.who).toBe('EB');
    const last = await saveStep(id, { step: 'apply', state: { records: { mass_after_mg: 5046 } } });
    expect(last.current?.steps).toEqual({
      disconnect: { acknowledged_at: at, done_at: at, records: {} },
      apply: { records: { lot: 'A7', mass_before_mg: 5200, mass_after_mg: 5046 } },
    });
    // 154 mg at 2.5 g/cm³ over 37 mm × 37 mm are 45 µm
    expect(last.amount).toMatchObject({ mass_mg: 154, volume_mm3: 61.6 });
    expect(last.amount?.bond_line_um).toBeCloseTo(45, 1);
  });

  it('is not done past a grave caution or a hard stop, and keeps the reason', async () => {
    const { id } = await begun('Tarn', { contact: 'lid', contact_material: 'aluminium' });
    const step = (key: string, state: object) => saveStep(id, { step: key, state });
    await expect(step('disconnect', { done_at: at })).rejects.toThrow('Acknowledge the caution first.');
    expect((await mountSheet(id)).current?.steps).toEqual({});
    await expect(step('apply', { acknowledged_at: at, done_at: at })).rejects.toThrow(
      /destroys aluminium, and the contact is made of aluminium: .* Give a reason to go on anyway\./,
    );
    const done = await step('apply', { acknowledged_at: at, stop_reason: 'The lid is scrap; we want to see it.', done_at: at });
    expect(done.current?.steps.apply).toMatchObject({ stop_reason: 'The lid is scrap; we want to see it.', done_at: at });
    await expect(step('apply', { records: { mass_before_mg: 5, mass_after_mg: 9 } })).rejects.toThrow(/weighs more after/);
    await expect(step('dance', {})).rejects.toThrow('There is no such step.');
  });

  it('opens nothing of a state as it was found, and applies nothing to it', async () => {
    const { id, study, rig, specimens } = await begun('Tarn', { contact: 'lid', contact_material: 'aluminium' });
    const all = (await mountSheet(id)).steps.map((s) => s.key);
    expect(all).toContain('disconnect');
    await changePlan(study, {
      base: (await planView(study)).version,
      changes: { [`specimen:${specimens[1].id}:fixed`]: true },
      insist: [],
    });
    const { steps, stops } = await mountSheet(id);
    expect([steps.map((s) => s.key), stops]).toEqual([['inspect', 'first_start'], []]);
    // the state after it is mounted like any
    const after = await beginMount(study, { specimen_id: specimens[0].id, rig_id: rig });
    expect((await mountSheet(after.id)).steps.map((s) => s.key)).toContain('apply');
  });

  it('keeps each try with its reason, and counts the failed ones', async () => {
    const { id, study } = await begun('Loam White');
    await saveStep(id, { step: 'tighten', state: { records: { torque_nm: 0.6 } } });
    await expect(endAttempt(id, { outcome: 'no_start', reason: ' ' })).rejects.toThrow(/Choose a cause, or say in 1 to 500/);
    await expect(endAttempt(id, { outcome: 'fine' })).rejects.toThrow(/ended as one of/);
    const second = await endAttempt(id, { outcome: 'no_start', reason: 'One screw too tight' });
    expect(second).toMatchObject({
      current: { number: 2, who: 'EB', steps: {} },
      past: [{ number: 1, outcome: 'no_start', reason: 'One screw too tight' }],
    });
    expect(second.past[0].steps).toEqual({ tighten: { records: { torque_nm: 0.6 } } });
    const ready = await endAttempt(id, { outcome: 'ready' });
    expect(ready.current).toBeNull();
    await expect(saveStep(id, { step: 'apply', state: {} })).rejects.toThrow('No try of this mount is under way');
    const [loam] = (await mountGrid(study)).specimens;
    expect(loam).toMatchObject({ tries: 2, failed: 1, mounts: [{ number: 1, open: false, attempts: 2, runs: 0 }] });
    // lifted before a run: the try that was ready is told as one that failed
    await expect(beginAttempt(id, { who: 'TK' })).rejects.toThrow(/ended as one of/);
    const third = await beginAttempt(id, { who: 'TK', outcome: 'too_hot', cause: 'too_little' });
    expect(third.current).toMatchObject({ number: 3, who: 'TK' });
    expect(third.past[1]).toMatchObject({ outcome: 'too_hot', cause: 'too_little', reason: 'Too little material' });
    // a second begin while one is under way changes nothing
    expect((await beginAttempt(id, { who: 'XX' })).current).toMatchObject({ number: 3, who: 'TK' });
    await expect(mountSheet(424_242)).rejects.toMatchObject({ status: 404 });
  });

  it('is a new mount where it is lifted after a run, and the one before can be judged failed', async () => {
    const { id, study } = await begun('Loam White');
    await expect(remount(id, {})).rejects.toThrow(/no run yet/);
    await endAttempt(id, { outcome: 'ready' });
    await addRun(id, 54);
    await expect(beginAttempt(id, { outcome: 'too_hot', cause: 'tilted' })).rejects.toThrow(/it is a new mount/);
    await expect(remount(id, { failed: { cause: 'bad luck' } })).rejects.toThrow('Choose the cause from the list.');
    const again = await remount(id, { who: 'EB', failed: { cause: 'tilted', reason: 'corner 2 bare' } });
    expect((await mountSheet(again.id)).mount).toMatchObject({ number: 2, runs: 0, excluded_reason: null });
    expect((await mountSheet(id)).mount).toMatchObject({
      runs: 1,
      excluded_reason: 'Cooler tilted: corner 2 bare',
      failed_cause: 'tilted',
    });
    await endAttempt(again.id, { outcome: 'ready' });
    await addRun(again.id, 48);
    const [loam] = (await mountGrid(study)).specimens;
    expect(loam).toMatchObject({ tries: 2, failed: 1 });
    // only the mount that stands is in the mean; with the failed one included again it would be 51
    const { facts, analysis } = await resultsOf(study);
    expect(analysis?.specimens).toMatchObject([{ specimen: 'Loam White', mean: 48, mounts: 1 }]);
    expect(compareStudy(facts, { ...studyChoice(facts), with_excluded: true })?.specimens[0]).toMatchObject({ mean: 51, mounts: 2 });
    // a reader who thinks otherwise takes it in again, and it counts as failed no more
    await excludeMount(id, { reason: null, who: 'TK' });
    expect((await mountGrid(study)).specimens[0]).toMatchObject({ tries: 2, failed: 0 });
    expect((await listChanges(database(), 'mount', id)).map((c) => [c.action, c.who])).toEqual([
      ['fail', 'EB'],
      ['include', 'TK'],
    ]);
  });

  it('fails as a whole where its try fails after runs: they stay, and the next application is the next mount', async () => {
    const { id, study } = await begun('Loam White');
    await addRun(id, 61);
    const ended = await endAttempt(id, { outcome: 'spread', reason: 'hot corner' });
    expect(ended.mount).toMatchObject({ runs: 1, excluded_reason: 'Not known: hot corner', failed_cause: 'unknown' });
    expect((await mountSheet(ended.opened ?? 0)).mount).toMatchObject({ number: 2, runs: 0 });
    expect((await mountGrid(study)).specimens[0]).toMatchObject({ tries: 2, failed: 2 });
  });

  it('flags the runs before a fault and none after, and asks for inspection and a move test', async () => {
    const { id } = await begun('Loam White');
    const run = () =>
      database().query(
        `insert into runs (import_id, mount_id, number, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
         select gen_random_uuid(), $1, coalesce(max(number) + 1, 1), true, '{}', '{}', '{"start_state": null}', 40, true, false, false from runs where mount_id = $1`,
        [id],
      );
    await run();
    await expect(reportFault(id, { kind: 'crash', note: ' ' })).rejects.toThrow(/what happened/);
    await expect(reportFault(id, { kind: 'ghost', note: 'x' })).rejects.toThrow(/A fault is one of/);
    await expect(reportFault(424_242, { kind: 'crash', note: 'x' })).rejects.toMatchObject({ status: 404 });
    const view = await reportFault(id, { kind: 'freeze_when_moved', note: 'froze when the case was turned', who: 'TK' });
    await run();
    const { rows } = await database().query<{ number: number; message: string }>(
      `select r.number, f.message from findings f join runs r on r.id = f.run_id where r.mount_id = $1 and f.code = 'fault_later'`,
      [id],
    );
    expect(rows).toEqual([
      {
        number: 1,
        message:
          'A fault of this mount was reported after this run: fails when moved or pressed (froze when the case was turned). The run may have been affected by it.',
      },
    ]);
    expect(view.faults).toMatchObject([{ kind: 'freeze_when_moved', who: 'TK', inspected_at: null, moved_at: null }]);
    const inspected = await settleFault(id, { fault: view.faults[0].id, check: 'inspected_at', done: true });
    expect(inspected.faults[0]).toMatchObject({ inspected_at: expect.any(Date), moved_at: null });
    expect((await settleFault(id, { fault: view.faults[0].id, check: 'inspected_at', done: false })).faults[0].inspected_at).toBeNull();
    await expect(settleFault(id, { fault: 999_999, check: 'moved_at' })).rejects.toMatchObject({ status: 404 });
    await expect(settleFault(id, { fault: view.faults[0].id, check: 'mount_id' })).rejects.toThrow(/Say which fault/);
  });

  it('leads through the plan: what is begun is not due again', async () => {
    const { study, rig, specimens } = await begun('Loam White');
    expect((await mountGrid(study)).next).toBeNull();
    await changePlan(study, {
      base: (await planView(study)).version,
      changes: { rigs: [rig], mounts: 2, start_on: '2026-06-05' },
      insist: [],
    });
    const { mounts } = await changeOrder(study, { action: 'draw', seed: 1 });
    expect(mounts[0].specimen).toBe('Loam White');
    // the first Loam White is under way, so the next in the order is due
    const due = (await mountGrid(study)).next;
    expect(due).toMatchObject({ specimen: 'Tarn', rig_id: rig, day: 1, date: '2026-06-05' });
    await beginMount(study, { specimen_id: due?.specimen_id, rig_id: due?.rig_id });
    expect((await mountGrid(study)).next?.specimen).not.toBe('Tarn');
    await expect(beginMount(study, { specimen_id: 999_999, rig_id: rig })).rejects.toThrow('Say which specimen');
    await expect(beginMount(study, { specimen_id: specimens[0].id, rig_id: 999_999 })).rejects.toThrow('Say on which rig');
    await expect(beginMount(study, { specimen_id: specimens[0].id, rig_id: rig, who: 'x'.repeat(30) })).rejects.toThrow('Initials hold');
  });
});
