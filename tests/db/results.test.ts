import { createHash, randomUUID } from 'node:crypto';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { excludeMount } from '#features/mount/server/excluded';
import { reportContent } from '#features/report/server/content';
import { changeDraft, draftView } from '#features/report/server/draft';
import { freezeReport, frozenReport, reportVersions } from '#features/report/server/freeze';
import { studyChoice } from '#features/results/model/choice';
import { interactions } from '#features/results/model/interactions';
import { listQuery } from '#features/results/model/studyList';
import { storeRecommendations, studyRecommendations } from '#features/results/server/recommend';
import { arrangeResults, noteShown, resultsPlace } from '#features/results/server/resultsPlace';
import { listedStudies, withHeads } from '#features/results/server/studyHeads';
import { changeLoad } from '#features/run/server/load';
import { storeTyped } from '#features/run/server/typedRun';
import { changePlan } from '#features/study/server/editPlan';
import { labHistory } from '#features/study/server/labHistory';
import { planView } from '#features/study/server/planView';
import { insertSpecimen, insertStudy, listMounts, listSpecimens } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

onFreshDatabase();

let study: number;
let rig: number | null = null;
const specimens: Record<string, number> = {};

/** One typed run on a mount of its own, or on one that is there. */
async function read(
  specimen: string,
  mean: number,
  more: {
    load?: string;
    mount_id?: number;
    rig?: string;
    study?: number;
    specimen_id?: number;
    fan_rpm?: number;
    days_ago?: number;
    read_at?: string;
  } = {},
): Promise<number> {
  const place = {
    ...{ study_id: more.study ?? study, specimen_id: more.specimen_id ?? specimens[specimen], load: more.load ?? null },
    ...(more.mount_id ? { mount_id: more.mount_id } : {}),
    ...(more.rig ? { rig_name: more.rig } : rig ? { rig_id: rig } : { rig_name: 'Typed bench' }),
  };
  const texts = {
    ...{ mean_c: `${(22 + mean).toFixed(1)} °C`, room_c: '22.0 °C', power_w: '100 W' },
    ...(more.fan_rpm !== undefined ? { fan_rpm: `${more.fan_rpm} rpm` } : {}),
  };
  const read_at = more.read_at ?? new Date(Date.now() - 86_400_000 * (more.days_ago ?? 0)).toISOString();
  const { run_id } = await storeTyped({ import_id: randomUUID(), place, texts, throttled: 'no', read_at });
  const mounts = await listMounts(database());
  rig = mounts.find((m) => m.rig === 'Typed bench')?.rig_id ?? rig;
  return run_id;
}
const mountOf = async (specimen: string, number: number) =>
  (await listMounts(database(), study)).find((m) => m.specimen_id === specimens[specimen] && m.number === number)?.id ?? 0;

async function open(title: string, names: string[]): Promise<number> {
  const id = (await insertStudy(database(), { title, question: '', margin_k: 1, reduction: {} })) ?? 0;
  for (const name of names) await insertSpecimen(database(), id, name, 'paste');
  return id;
}

beforeAll(async () => {
  study = await open('Two loads', ['Loam White', 'Wick 60']);
  for (const s of await listSpecimens(database(), study)) specimens[s.name] = s.id;
  const loads = ['Part', 'Full'].map((name) => ({ name, steps: [{ stage: 'load', minutes: 20 }] }));
  const view = await planView(study);
  await changePlan(study, { base: view.version, changes: { loads, mounts: 3 }, insist: [] });
  for (const [i, d] of [0, 0.2, -0.1].entries()) {
    await read('Loam White', 30 + d, { load: 'Part' });
    await read('Wick 60', 29 + d, { load: 'Part' });
    await read('Loam White', 60 + d, { load: 'Full', mount_id: await mountOf('Loam White', i + 1) });
    await read('Wick 60', 56 + 1.1 * d, { load: 'Full', mount_id: await mountOf('Wick 60', i + 1) });
  }
});

describe('results of a study with two loads', () => {
  it('are told per load, with what the change gains from one to the other', async () => {
    const { facts, answer } = await resultsPlace(study);
    expect(answer.choice.load).toBe('Part');
    expect(answer.headline.claim).toBe('Under Part, Wick 60 runs 1.0 K cooler than Loam White');
    expect(facts.runs).toHaveLength(12);
    const [gain] = interactions(facts, studyChoice(facts));
    expect(gain.sentence).toMatch(/^Wick 60 gains 3\.0 K more over Loam White under Full than under Part/);
  });
  it('take a run to another load of the study, and to no other', async () => {
    const run = await read('Wick 60', 41);
    expect(await changeLoad(run, { load: 'Full' })).toEqual({ load: 'Full' });
    expect((await resultsOf(study)).facts.runs.find((r) => r.run_id === run)?.load).toBe('Full');
    await expect(changeLoad(run, { load: 'Idle' })).rejects.toThrow('The study has no load "Idle"; it has Part, Full.');
    await expect(changeLoad(999_999, { load: null })).rejects.toThrow('There is no run 999999.');
    await excludeMount(await mountOf('Wick 60', 4), { reason: 'lid not seated', who: 'EB' });
  });
  it('leave a mount out with its reason, tell both answers, and take it in again', async () => {
    const first = await mountOf('Wick 60', 1);
    for (const reason of ['', '  ', 'x'.repeat(501), undefined, 5])
      await expect(excludeMount(first, { reason })).rejects.toThrow(/Say in 1 to 500 characters why this mount is left out/);
    await expect(excludeMount(999_999, { reason: 'gone' })).rejects.toThrow('There is no mount 999999.');
    await excludeMount(first, { reason: 'tilted', who: 'TK' });
    const { answer } = await resultsPlace(study);
    expect(answer.analysis?.specimens.map((s) => s.mounts)).toEqual([3, 2]);
    expect(answer.restored).not.toBeNull();
    const left = (await reportContent(study)).findings.left_out;
    expect(left).toEqual([
      expect.objectContaining({ specimen: 'Wick 60', mount: 1, run: null, reason: 'tilted', who: 'TK', at: expect.stringMatching(/Z$/) }),
      expect.objectContaining({ mount: 4, reason: 'lid not seated' }),
    ]);
    expect(await excludeMount(first, { reason: null })).toMatchObject({ reason: null });
  });
});

describe('recommendations', () => {
  it('rest on verdicts of now and are flagged where a new run turns them', async () => {
    const stored = await storeRecommendations(study, {
      list: [{ reader: ' Who pays ', words: 'Take Wick 60.', rests: [{ outcome: 'rise', load: 'Full', a: 'Wick 60', b: 'Loam White' }] }],
    });
    expect(stored).toEqual([
      expect.objectContaining({ reader: 'Who pays', checks: [expect.objectContaining({ state: 'stands', firm: true })] }),
    ]);
    const run = await read('Wick 60', 70, { load: 'Full' });
    expect((await studyRecommendations(study))[0].checks[0]).toMatchObject({
      state: 'changed',
      now: expect.stringContaining('not distinguishable'),
    });
    await expect(freezeReport(study, {})).rejects.toThrow('The verdict under the recommendation for Who pays has changed');
    await excludeMount((await listMounts(database(), study)).at(-1)?.id ?? 0, { reason: 'sheet folded' });
    expect((await studyRecommendations(study))[0].checks[0].state).toMatch(/stands|moved/);
    expect(run).toBeGreaterThan(0);
  });
  it('are refused where they say nothing, or rest on what is no outcome', async () => {
    const refuse = (list: unknown) => expect(storeRecommendations(study, { list })).rejects;
    await refuse([{ reader: '', words: 'x', rests: [] }]).toThrow('Name the kind of reader');
    await refuse([{ reader: 'x', words: 'x', rests: [{ outcome: 'luck', load: null, a: 'a', b: 'b' }] }]).toThrow(
      'rests on a verdict of a known outcome',
    );
    await refuse('all').toThrow('Recommendations are a list, for up to twelve kinds of readers.');
    expect(await studyRecommendations(study)).toHaveLength(1);
  });
});

describe('a report', () => {
  it('keeps order and words, and does not let two people overwrite each other', async () => {
    const { sections, version } = await draftView(study);
    const turned = [...sections].reverse();
    const saved = await changeDraft(study, { sections: turned, version });
    expect(saved.sections.map((s) => s.key)).toEqual(turned.map((s) => s.key));
    const again = await changeDraft(study, { sections, version: saved.version });
    await expect(changeDraft(study, { sections: turned, version: saved.version })).rejects.toThrow(
      'Somebody else changed the report meanwhile',
    );
    expect((await draftView(study)).version).toBe(again.version);
    await expect(changeDraft(study, { sections: [{ key: 'rumours', shown: true, words: '' }], version: again.version })).rejects.toThrow(
      'A section is one of',
    );
    await expect(changeDraft(999_999, { sections: [], version: 0 })).rejects.toThrow('There is no study 999999.');
  });
  it('is frozen with a checksum, and a version tells what changed', async () => {
    const { address } = await freezeReport(study, { who: 'EB', insist: true });
    const frozen = await frozenReport(address);
    expect(frozen).toMatchObject({ intact: true, row: { number: 1, who: 'EB', changes: [] } });
    expect(frozen.row.sha256).toBe(createHash('sha256').update(frozen.text).digest('hex'));
    await read('Loam White', 30.05, { load: 'Part' });
    await freezeReport(study, { insist: true });
    const [second, first] = await reportVersions(study);
    expect([second.number, first.number]).toEqual([2, 1]);
    expect(second.changes[0]).toBe('1 run was added.');
    expect((await frozenReport(address)).text).toBe(frozen.text);
  });
  it('whose content was changed in the store says so', async () => {
    const [last] = await reportVersions(study);
    await database().query(`update reports set content = replace(content, 'Wick 60', 'Wick 61') where address = $1`, [last.address]);
    expect((await frozenReport(last.address)).intact).toBe(false);
    await expect(frozenReport('../etc')).rejects.toThrow('There is no report at this address.');
  });
  it('holds every setting, those by default named as such', async () => {
    const method = new Map((await reportContent(study)).method.map((m) => [m.what, m.value]));
    expect(method.get('What counts as the temperature')).toBe('Window mean after a steadiness test (by default)');
    expect(method.get('Mounts of each')).toBe('3');
    expect(method.get('Averaging window / s')).toBe('120');
    expect(method.get('Computed by')).toMatch(/^Warm Gauge \d/);
  });
});

describe('mounts added after a verdict was shown', () => {
  it('are told, once the planned ones were all run and shown', async () => {
    const late = await open('Late', ['A', 'B']);
    const ids = new Map((await listSpecimens(database(), late)).map((s) => [s.name, s.id]));
    const add = (name: string, mean: number) => read(name, mean, { study: late, specimen_id: ids.get(name) });
    const { version } = await planView(late);
    await changePlan(late, { base: version, changes: { mounts: 2 }, insist: [] });
    const codes = async () => (await resultsPlace(late)).answer.analysis?.findings.map((f) => f.code);
    await add('A', 40);
    await add('B', 41);
    await add('A', 40.4);
    await noteShown(await resultsPlace(late));
    await add('B', 41.2);
    await noteShown(await resultsPlace(late));
    expect(await codes()).not.toContain('unplanned_look');
    await add('B', 41.6);
    expect(await codes()).toContain('unplanned_look');
  });
});

describe('a study of one mount each', () => {
  it('borrows the scatter of the lab, and says from how many mounts', async () => {
    for (let i = 0; i < 5; i++)
      for (const name of ['Loam White', 'Wick 60']) await read(name, (name === 'Wick 60' ? 29 : 30) + (i % 3) / 10, { load: 'Part' });
    for (const name of ['Loam White', 'Wick 60']) await read(name, 30.1, { load: 'Part', mount_id: await mountOf(name, 2) });
    const single = await open('Single', ['A', 'B']);
    const [a, b] = await listSpecimens(database(), single);
    await read('A', 30, { study: single, specimen_id: a.id });
    await read('B', 33, { study: single, specimen_id: b.id });
    const { analysis } = await resultsOf(single);
    expect(analysis?.pairs[0].sentence).toMatch(
      /^Assuming a mount-to-mount scatter of \d\.\d\d K \(this lab's own, from \d\d mounts\): A runs 3\.0 K cooler than B/,
    );
    expect(analysis?.pairs[0]).toMatchObject({ separate: null, firm: false });
    // the table of all studies judges alike
    const list = await withHeads(await listedStudies(listQuery(new URLSearchParams()), () => false));
    expect(list.find((s) => s.id === single)?.head.verdict?.claim).toBe(arrangeResults(await resultsOf(single))?.headline.claim);
  });
});

describe('runs of a mount that are no repeats', () => {
  it('of several speeds or ages are neither the scatter of the lab nor told as scatter of their study', async () => {
    const pads = async () => (await labHistory(database())).find((h) => h.kind === 'pad');
    const own = (await insertStudy(database(), { title: 'Pads', question: '', margin_k: 1, reduction: {} })) ?? 0;
    const pad = (await insertSpecimen(database(), own, 'Slip Felt 0.5', 'pad')) ?? 0;
    const readPad = (rise: number, more: object) => read('', rise, { study: own, specimen_id: pad, ...more });
    for (const d of [0, 0.4, -0.3]) {
      await readPad(30 + d, { fan_rpm: 1200, days_ago: 20 });
      const mount = (await listMounts(database(), own)).at(-1)?.id;
      await readPad(30.1 + d, { mount_id: mount, fan_rpm: 1201, days_ago: 20 });
    }
    const before = await pads();
    expect(before?.run_sd).toBeLessThan(0.12);
    const [first, second] = await listMounts(database(), own);
    expect((await resultsPlace(own)).answer.analysis?.scatter.run_sd).toBeLessThan(0.12);
    for (const [i, m] of [first, second].entries()) await readPad(38 + i, { mount_id: m.id, fan_rpm: 700, days_ago: 20 });
    expect((await pads())?.run_sd).toBeCloseTo(before?.run_sd ?? 0, 2);
    const swept = (await resultsPlace(own)).answer.analysis;
    expect(swept?.scatter).toMatchObject({ run_sd: null, mount_sd: null, repeatability_limit: null, mount_limit: null });
    expect(swept?.findings[0].code).toBe('several_speeds');
    for (const m of [first, second]) await readPad(35, { mount_id: m.id, fan_rpm: 1200, days_ago: 1 });
    expect((await pads())?.run_sd).toBeCloseTo(before?.run_sd ?? 0, 2);
    expect((await resultsPlace(own)).answer.analysis?.findings.map((f) => f.code)).toEqual(
      expect.arrayContaining(['several_speeds', 'several_ages']),
    );
  });
});

describe('runs without a fan', () => {
  it('tell the scatter of the lab like others', async () => {
    const own = (await insertStudy(database(), { title: 'No fan', question: '', margin_k: 1, reduction: {} })) ?? 0;
    const leaf = (await insertSpecimen(database(), own, 'Soot Leaf', 'graphite')) ?? 0;
    for (const d of [0, 0.4]) {
      await read('', 50 + d, { study: own, specimen_id: leaf, fan_rpm: 0 });
      const mount_id = (await listMounts(database(), own)).at(-1)?.id;
      await read('', 50.1 + d, { study: own, specimen_id: leaf, fan_rpm: 0, mount_id });
    }
    expect((await labHistory(database())).find((h) => h.kind === 'graphite')).toMatchObject({ mounts: 2, df: 1 });
  });
});

describe('the bench day of a run', () => {
  const zone = process.env.TZ;
  afterEach(() => {
    if (zone === undefined) delete process.env.TZ;
    else process.env.TZ = zone;
  });
  it('that names its zone is the day at this machine, though another has begun in UTC', async () => {
    process.env.TZ = 'America/Los_Angeles';
    const own = await open('An evening', ['A']);
    const [a] = await listSpecimens(database(), own);
    for (const hour of [9, 22])
      await read('A', 30, { study: own, specimen_id: a.id, read_at: `2026-06-04T${String(hour).padStart(2, '0')}:30:00-07:00` });
    expect((await resultsOf(own)).facts.runs.map((r) => r.day)).toEqual(['2026-06-04', '2026-06-04']);
  });
});

describe('a study with nothing to tell', () => {
  it('has no analysis, and no report to freeze', async () => {
    const empty = await open('Empty', ['A']);
    const place = await resultsPlace(empty);
    expect(place.answer).toMatchObject({ analysis: null, headline: { claim: '' }, rungs: [], restored: null });
    expect(JSON.stringify(place)).not.toMatch(/NaN|Infinity/);
    await expect(freezeReport(empty, {})).rejects.toThrow('There is nothing to publish yet: no run of the study is valid.');
  });
});
