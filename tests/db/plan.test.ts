import ICAL from 'ical.js';
import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { timeOrder } from '#core/design/timeline';
import { excludeMount } from '#features/mount/server/excluded';
import { runsSoFar } from '#features/results/server/facts';
import { gatherStudy } from '#features/results/server/studyResults';
import { deleteThing, restoreThing } from '#features/run/server/bin';
import { createSheet } from '#features/shelf/server/sheets';
import { planFindings } from '#features/study/model/findings';
import { answerPlan } from '#features/study/model/planAnswer';
import { resolvePlan } from '#features/study/model/resolve';
import { planCalendar } from '#features/study/server/calendarFile';
import { daySheet } from '#features/study/server/daySheet';
import { changePlan } from '#features/study/server/editPlan';
import { changeOrder } from '#features/study/server/order';
import { planView } from '#features/study/server/planView';
import { addSpecimen, nameSpecimen, shelveSpecimen } from '#features/study/server/specimens';
import { insertMount, insertStudy } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

onFreshDatabase();

let count = 0;
/** A study of four materials on one rig, with its order drawn. */
async function plannedStudy(more: Record<string, unknown> = {}) {
  const n = ++count;
  const rig = await createSheet('rigs', { name: `Bench ${n}`, sheet: { throttle_limit_c: 92, lid_coupons: 2, base_coupons: 5 } });
  const study = (await insertStudy(database(), { title: `Study ${n}`, question: '', margin_k: 1, reduction: {} })) ?? 0;
  for (const [name, sheet] of Object.entries({
    'Loam White': { kind: 'paste', price: 10, currency: 'EUR', pack_size: 4, pack_unit: 'g', per_mount: 0.25, packs: 2 },
    'Wick 60': { kind: 'phase_change', conditioning_h: 1 },
    Tarn: { kind: 'liquid_metal' },
    'Alder Grey': { kind: 'paste' },
  })) {
    await addSpecimen(study, { material_id: await createSheet('materials', { name: `${name} ${n}`, sheet }), name });
  }
  const view = await planView(study);
  await changePlan(study, { base: view.version, changes: { rigs: [rig], mounts: 3, start_on: '2026-06-05', ...more }, insist: [] });
  return { study, rig, view: await changeOrder(study, { action: 'draw', seed: 7 }) };
}
const places = (mounts: { specimen: string; mount: number; rig: string; day: number }[]) =>
  mounts.map((m) => [m.specimen, m.mount, m.rig, m.day]);

describe('a plan edited by two', () => {
  it('writes different fields of both, and tells the field that both changed', async () => {
    const { study } = await plannedStudy();
    const { version: base } = await planView(study);
    await changePlan(study, { base, changes: { mounts: 4, question: 'Which?' }, insist: [] });
    const late = await changePlan(study, { base, changes: { mounts: 6, runs: 2 }, insist: [] });
    expect(late.conflicts).toEqual([{ field: 'mounts', theirs: 4 }]);
    expect(late.view.plan).toMatchObject({ mounts: 4, runs: 2, question: 'Which?' });
    const insisted = await changePlan(study, { base, changes: { mounts: 6 }, insist: ['mounts'] });
    expect(insisted).toMatchObject({ conflicts: [], view: { plan: { mounts: 6 } } });
    // the same value twice is no conflict
    expect((await changePlan(study, { base, changes: { mounts: 6 }, insist: [] })).conflicts).toEqual([]);
  });

  it('keeps what is supposed of each specimen apart', async () => {
    const { study, view } = await plannedStudy();
    const [a, b] = view.context.specimens;
    await changePlan(study, { base: view.version, changes: { [`specimen:${a.id}:rise_k`]: 40 }, insist: [] });
    const other = await changePlan(study, {
      base: view.version,
      changes: { [`specimen:${b.id}:rise_k`]: 38, [`specimen:${a.id}:rise_k`]: 41 },
      insist: [],
    });
    expect(other.conflicts).toEqual([{ field: `specimen:${a.id}:rise_k`, theirs: 40 }]);
    expect(other.view.context.specimens.map((s) => s.plan.rise_k)).toEqual([40, 38, undefined, undefined]);
  });

  it('refuses what breaks a rule and writes nothing of it', async () => {
    const { study, view } = await plannedStudy();
    const change = (changes: Record<string, unknown>) => changePlan(study, { base: view.version, changes, insist: [] });
    await expect(change({ runs: 2, mounts: 0 })).rejects.toThrow('Mounts of each should be a whole number between 1 and 200.');
    await expect(change({ title: ' ' })).rejects.toThrow('The study needs a title.');
    await expect(change({ reference_id: 999_999 })).rejects.toThrow('The reference must be one of the specimens of this study.');
    await expect(change({ colour: 'red' })).rejects.toThrow('A plan has no field colour.');
    await expect(change({ loads: [{ name: 'Burn', steps: [{ stage: 'rest', minutes: 3 }] }] })).rejects.toThrow(
      /A step of a load is one of/,
    );
    await expect(change({ constructor: 1 })).rejects.toThrow(/no field/);
    expect((await planView(study)).plan.runs).toBeUndefined();
  });
});

describe('the order in the store', () => {
  it('draws the same order from the same seed, and another from another', async () => {
    const { study, view } = await plannedStudy();
    const again = await changeOrder(study, { action: 'draw', seed: 7 });
    expect(places(again.mounts)).toEqual(places(view.mounts));
    const orders: string[] = [];
    for (const seed of [1, 2, 3, 4]) orders.push(JSON.stringify(places((await changeOrder(study, { action: 'draw', seed })).mounts)));
    expect(new Set(orders).size).toBeGreaterThan(1);
  });

  it('moves a mount, and puts the order back', async () => {
    const { study, view } = await plannedStudy();
    const mount = view.mounts.find((m) => m.specimen === 'Wick 60') ?? view.mounts[0];
    const moved = await changeOrder(study, { action: 'move', mount, rig: `Bench ${count}`, day: 9, before: 0 });
    expect(moved.mounts.find((m) => m.id === mount.id)?.day).toBe(9);
    const back = await changeOrder(study, { action: 'put_back', mounts: view.mounts });
    expect(places(back.mounts)).toEqual(places(view.mounts));
    await expect(changeOrder(study, { action: 'move', mount, rig: 'Nowhere', day: 1, before: 0 })).rejects.toThrow('not one of the rigs');
  });

  it('plans a failed mount anew and moves nothing that is done', async () => {
    const { study, rig, view } = await plannedStudy();
    const done = view.mounts.slice(0, 3);
    for (const m of done) await madeMount(view.context.specimens.find((s) => s.name === m.specimen)?.id ?? 0, rig);
    const before = await planView(study);
    expect(before.mounts.filter((m) => m.state === 'done').map((m) => m.id)).toEqual(done.map((m) => m.id));
    const open = before.mounts.find((m) => m.state === 'planned') ?? before.mounts[0];
    const after = await changeOrder(study, { action: 'mark', mount: open, state: 'failed', reason: 'Tilted; no start.' });
    expect(after.mounts.filter((m) => m.state === 'done')).toEqual(before.mounts.filter((m) => m.state === 'done'));
    expect(after.mounts.find((m) => m.id === open.id)).toMatchObject({ state: 'failed', reason: 'Tilted; no start.' });
    expect(after.mounts).toHaveLength(before.mounts.length + 1);
    // and taken back: it is planned again where it was, and the one in its stead is gone
    const { specimen, mount, day } = open;
    const back = await changeOrder(study, { action: 'unmark', mount: { specimen, mount } });
    expect(back.mounts).toHaveLength(before.mounts.length);
    expect(back.mounts.find((m) => m.id === open.id)).toMatchObject({ state: 'planned', reason: '', day });
    await expect(changeOrder(study, { action: 'unmark', mount: { specimen, mount } })).rejects.toThrow('not marked as failed or lost');
    Object.assign(after, await changeOrder(study, { action: 'mark', mount: open, state: 'failed', reason: 'Tilted; no start.' }));
    const redrawn = await changeOrder(study, { action: 'draw', seed: 99 });
    expect(redrawn.mounts.filter((m) => m.state !== 'planned')).toEqual(after.mounts.filter((m) => m.state !== 'planned'));
    const plan = resolvePlan(redrawn.plan, redrawn.context);
    for (const s of plan.specimens)
      expect(
        redrawn.mounts.filter((m) => m.specimen === s.name && !m.extra && (m.state === 'done' || m.state === 'planned')).length,
        s.name,
      ).toBeGreaterThanOrEqual(3);
    await expect(changeOrder(study, { action: 'mark', mount: done[0], state: 'lost', reason: 'x' })).rejects.toThrow(/has runs/);
    await expect(changeOrder(study, { action: 'mark', mount: redrawn.mounts.at(-1), state: 'lost', reason: '' })).rejects.toThrow(
      /Give a reason of 1 to 500/,
    );
  });

  it('counts on from the mounts there are: after one was left out, or lost before it was made, no number comes twice', async () => {
    const { study, rig } = await plannedStudy();
    const loam = (await planView(study)).context.specimens[0];
    const made = async () => {
      const mount = await insertMount(database(), loam.id, rig, '');
      await database().query(
        `insert into runs (import_id, mount_id, number, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
         values (gen_random_uuid(), $1, 1, true, '{}', '{}', '{}', null, false, false, false)`,
        [mount.id],
      );
      return mount;
    };
    const numbers = async () =>
      (await planView(study)).mounts
        .filter((m) => m.specimen === loam.name && !m.extra)
        .map((m) => `${m.mount} ${m.state}`)
        .sort();
    expect(await numbers()).toEqual(['1 planned', '2 planned', '3 planned']);
    // the second is lost before it is made: its number stays with it, and the mount that is made next passes it over
    await changeOrder(study, { action: 'mark', mount: { specimen: loam.name, mount: 2 }, state: 'lost', reason: 'Tube dried' });
    expect(await numbers()).toEqual(['1 planned', '2 lost', '3 planned', '4 planned']);
    const first = await made();
    expect([first.number, (await made()).number]).toEqual([1, 3]);
    expect(await numbers()).toEqual(['1 done', '2 lost', '3 done', '4 planned']);
    await excludeMount(first.id, { cause: 'tilted' });
    expect(await numbers()).toEqual(['2 lost', '3 done', '4 planned', '5 planned']);
    const ids = (await planView(study)).mounts.map((m) => m.id).sort();
    const drawn = await changeOrder(study, {
      action: 'move',
      mount: { specimen: loam.name, mount: 5 },
      rig: `Bench ${count}`,
      day: 3,
      before: 0,
    });
    expect(drawn.mounts.map((m) => m.id).sort()).toEqual(ids);
    expect((await made()).number).toBe(4);
    await changeOrder(study, { action: 'draw', seed: 3 });
    expect(await numbers()).toEqual(['2 lost', '3 done', '4 done', '5 planned']);
  });

  it('puts a specimen that was typed by name on the shelf, or takes the sheet of that name', async () => {
    const study = (await insertStudy(database(), { title: 'By name', question: '', margin_k: 1, reduction: {} })) ?? 0;
    await createSheet('materials', { name: 'Known by name', sheet: { kind: 'pad', price: 3, currency: 'EUR' } });
    for (const [name, kind] of [
      ['Known by name', 'pad'],
      ['New by name', 'putty'],
      ['Tower by name', 'cooler'],
      ['As found', 'state'],
    ])
      await addSpecimen(study, { name, kind });
    const [known, fresh, tower, state] = (await planView(study)).context.specimens;
    await shelveSpecimen(study, known.id);
    await shelveSpecimen(study, fresh.id);
    const { context } = await shelveSpecimen(study, tower.id);
    expect(context.specimens.map((s) => [s.material?.sheet.price ?? s.material?.sheet.kind ?? null, s.cooler?.name ?? null])).toEqual([
      [3, null],
      ['putty', null],
      [null, 'Tower by name'],
      [null, null],
    ]);
    await expect(shelveSpecimen(study, fresh.id)).rejects.toMatchObject({ status: 409 });
    await expect(shelveSpecimen(study, state.id)).rejects.toThrow(/no thing on a shelf/);
    await expect(shelveSpecimen(study, 987_654)).rejects.toMatchObject({ status: 409 });
  });

  it('refuses a place before a state that cannot come back', async () => {
    const rig = await createSheet('rigs', { name: 'Old card', sheet: {} });
    const study = (await insertStudy(database(), { title: 'Renewed?', question: '', margin_k: 1, reduction: {} })) ?? 0;
    for (const name of ['As found', 'Renewed']) await addSpecimen(study, { name, kind: 'state' });
    const { version } = await planView(study);
    await changePlan(study, { base: version, changes: { rigs: [rig], mounts: 2, design: 'before_after', varies: 'state' }, insist: [] });
    const { mounts } = await changeOrder(study, { action: 'draw', seed: 1 });
    expect(mounts.map((m) => `${m.specimen} ${m.mount}`)).toEqual(['As found 1', 'Renewed 1', 'Renewed 2']);
    const move = (day: number) =>
      changeOrder(study, { action: 'move', mount: { specimen: 'Renewed', mount: 2 }, rig: 'Old card', day, before: 0 });
    await expect(move(1)).rejects.toThrow(
      'On Old card, Renewed mount 2 comes before As found mount 1, which cannot be measured again once the part is opened. Measure As found first, with all its runs.',
    );
    await move(2);
  });

  it('says why no order can be drawn', async () => {
    const { study } = await plannedStudy();
    const { version } = await planView(study);
    await changePlan(study, { base: version, changes: { day_hours: 1 }, insist: [] });
    await expect(changeOrder(study, { action: 'draw', seed: 1 })).rejects.toThrow(
      'One mount with its 3 runs takes 2.4 h; a bench day has 1 h. A day of 2.5 h.',
    );
  });

  it('takes specimens in and out, and gives them other names', async () => {
    const { study, rig, view } = await plannedStudy();
    const [reference, second] = view.context.specimens;
    await madeMount(second.id, rig);
    await expect(nameSpecimen(study, second.id, { name: reference.name })).rejects.toThrow('already a specimen');
    await expect(nameSpecimen(study, second.id, { name: ' ' })).rejects.toThrow('needs a name');
    expect((await nameSpecimen(study, second.id, { name: 'Alder' })).context.specimens[1].name).toBe('Alder');
    await expect(addSpecimen(study, { name: 'Tarn', kind: 'liquid_metal' })).rejects.toThrow('Tarn is already in');
    const { bin } = await deleteThing({ kind: 'specimen', id: reference.id });
    const after = await planView(study);
    expect(after.plan.reference_id).toBe(second.id);
    expect(after.mounts.some((m) => m.specimen === reference.name)).toBe(false);
    const resolved = resolvePlan(after.plan, after.context);
    expect(planFindings(resolved, null, '2026-06-01').map((f) => f.code)).not.toContain('reference_missing');
    // it comes back as the reference, with the mounts that were planned of it
    await restoreThing(bin);
    const back = await planView(study);
    expect(back.plan.reference_id).toBe(reference.id);
    expect(back.mounts.some((m) => m.specimen === reference.name)).toBe(true);
  });
});

describe('an order at its limits', () => {
  it('is refused where it has more mounts than anyone makes', async () => {
    const { study, view } = await plannedStudy();
    await changePlan(study, { base: view.version, changes: { mounts: 200 }, insist: [] });
    for (let i = 0; i < 10; i++) await addSpecimen(study, { name: `Paste ${i}`, kind: 'paste' });
    await expect(changeOrder(study, { action: 'draw', seed: 1 })).rejects.toThrow(/An order takes up to 2000 mounts; this plan has \d+\./);
    expect((await planView(study)).mounts).toEqual(view.mounts);
  });
});

describe('the calendar file', () => {
  it('is read back by another parser with every mount at its bench time', async () => {
    const { study, view } = await plannedStudy({ start_time: '08:30', mounts: 4 });
    const text = await planCalendar(study);
    const parsed = new ICAL.Component(ICAL.parse(text));
    const events = parsed.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
    const plan = resolvePlan(view.plan, view.context);
    const timed = timeOrder(plan.order ?? (null as never), view.mounts);
    const parts = timed.reduce((sum, m) => sum + (m.runs_day === m.day ? 1 : 2), 0);
    expect(events).toHaveLength(parts);
    expect(new Set(events.map((e) => e.uid)).size).toBe(parts);
    const first = events.find((e) =>
      e.uid.startsWith(`mount-${view.mounts.find((m) => m.specimen === timed[0].specimen && m.mount === timed[0].mount)?.id}-`),
    );
    expect(first?.startDate.toString()).toBe('2026-06-05T08:30:00');
    expect(first?.startDate.zone.tzid).toBe('floating');
    // 5 June 2026 is a Friday: the second bench day is the Monday after
    const days = [...new Set(events.map((e) => e.startDate.toString().slice(0, 10)))].sort();
    expect(days.slice(0, 2)).toEqual(['2026-06-05', '2026-06-08']);
    for (const e of events) expect(e.endDate.compare(e.startDate)).toBe(1);
    const { version } = await planView(study);
    await changePlan(study, { base: version, changes: { start_on: null }, insist: [] });
    await expect(planCalendar(study)).rejects.toThrow('The plan has no first day');
  });
});

describe('what the bench gives back to the plan', () => {
  it('tells the scatter of the lab by kind from all valid runs, and leaves out what is excluded', async () => {
    const { study, rig, view } = await plannedStudy();
    const loam = view.context.specimens.find((s) => s.name === 'Loam White')?.id ?? 0;
    // five mounts of two runs: means 40, 41, 42, 43, 44 with runs 0.2 K apart
    for (let m = 0; m < 5; m++) await madeMount(loam, rig, 40 + m - 0.1, 40 + m + 0.1);
    await madeMount(loam, rig, 90, 90.2);
    await database().query(`update mounts set excluded_reason = 'tilted' where specimen_id = $1 and number = 6`, [loam]);
    const { history } = (await planView(study)).context;
    const paste = history.find((h) => h.kind === 'paste');
    // balanced: run variance 0.02, mount variance 2.5 - 0.02 / 2; other studies' pastes are single runs of one mount each
    expect(paste?.run_sd).toBeCloseTo(Math.sqrt(0.02), 6);
    expect(paste?.mount_sd).toBeCloseTo(Math.sqrt(2.5 - 0.01), 6);
    expect(paste?.mounts).toBeGreaterThanOrEqual(5);
    expect(history.some((h) => h.kind === 'graphite')).toBe(false);
  });

  it('says at a planned look which pairs are settled and what the others need, and judges the results at that level', async () => {
    const { study, rig, view } = await plannedStudy({ mounts: 6, looks: [3] });
    const rises: Record<string, number> = { 'Loam White': 40, 'Wick 60': 30, Tarn: 40.3, 'Alder Grey': 50 };
    for (const s of view.context.specimens) for (const d of [-0.3, 0, 0.3]) await madeMount(s.id, rig, rises[s.name] + d);
    const { plan, context, mounts } = await planView(study);
    const { settled } = answerPlan(plan, context, mounts, runsSoFar((await gatherStudy(study)).facts).rows);
    expect(settled).toMatchObject({ blocks_done: 3, blocks_planned: 6, look: 3, next_look: 6 });
    expect(settled?.open.map((p) => [p.a, p.b])).toEqual([['Loam White', 'Tarn']]);
    expect(settled?.open[0].more_mounts).toBeGreaterThan(0);
    expect(settled?.settled).toHaveLength(5);
    const results = await resultsOf(study);
    expect(results.level).toMatchObject({ blocks_done: 3, blocks_planned: 6, looks: [3] });
    // half of the information at two-sided 5 %: 2 (2 - 2 Phi(2.2414 / sqrt(0.5))), the boundary 2.963 of the published tables
    expect(results.level.spent).toBeCloseTo(0.00305, 5);
    expect(results.level.confidence).toBeCloseTo(1 - results.level.spent, 8);
    expect(results.analysis?.pairs).toHaveLength(6);
    const { version } = await planView(study);
    await changePlan(study, { base: version, changes: { family: 'reference', looks: null }, insist: [] });
    expect((await resultsOf(study)).analysis?.pairs).toHaveLength(3);
  });

  it('writes the day by the clock, with waits over night on the sheet of the day they end', async () => {
    const { study, view } = await plannedStudy({ start_time: '10:00', day_hours: 5 });
    const wick = view.context.specimens.find((s) => s.name === 'Wick 60');
    await changePlan(study, {
      base: view.version,
      changes: { [`specimen:${wick?.id}:wait_h`]: 20, held: [{ what: 'Fan', value: '1200 rpm', tolerance: '± 2 %' }] },
      insist: [],
    });
    await changeOrder(study, { action: 'draw', seed: 3 });
    const sheets = [];
    for (let day = 1, days = 1; day <= days; day++) {
      const sheet = await daySheet(study, day);
      days = sheet.days;
      sheets.push(sheet);
    }
    expect(sheets[0]).toMatchObject({ date: '2026-06-05', held: ['Fan, 1200 rpm, ± 2 %'] });
    expect(sheets[0].entries[0]).toMatchObject({ from: '10:00', specimen: 'Loam White', mount: 1, hands: true, done: false });
    const entries = sheets.flatMap((s) => s.entries);
    const started = entries.filter((e) => e.specimen === 'Wick 60' && e.hands);
    expect(started.every((e) => /then 20 h of conditioning or cure: runs on day \d+$/.test(e.what))).toBe(true);
    expect(entries.filter((e) => e.specimen === 'Wick 60' && !e.hands)).toHaveLength(started.length);
    const metal = sheets.find((s) => s.entries.some((e) => e.specimen === 'Tarn'));
    expect(metal?.cautions.some((c) => c.startsWith('Tarn: Liquid metal shorts'))).toBe(true);
    expect((await daySheet(study, 400)).entries).toEqual([]);
    await expect(daySheet(424_242, 1)).rejects.toMatchObject({ status: 404 });
  });
});

/** A mount with its valid runs, as imports leave it. */
async function madeMount(specimen: number, rig: number, ...rises: number[]): Promise<void> {
  const { id } = await insertMount(database(), specimen, rig, '');
  for (const [i, rise] of (rises.length > 0 ? rises : [40]).entries()) {
    await database().query(
      `insert into runs (import_id, mount_id, number, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
       values (gen_random_uuid(), $1, $3, true, '{}', '{}', '{"start_state": null}', $2, true, false, false)`,
      [id, rise, i + 1],
    );
  }
}
