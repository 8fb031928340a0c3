import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { givenSettings, saveSettings } from '#app/settings';
import { excludeMount } from '#features/mount/server/excluded';
import { storeRecommendations, studyRecommendations } from '#features/results/server/recommend';
import { judgementView, judgeRun } from '#features/run/server/judge';
import { editLayout, layouts, rememberLayout } from '#features/run/server/layouts';
import { changeLoad } from '#features/run/server/load';
import { moveMount } from '#features/run/server/moveMount';
import { moveRun } from '#features/run/server/moveRun';
import { editTyped } from '#features/run/server/typedRun';
import { storeTable } from '#features/run/server/typedTable';
import { getRun, listRuns } from '#features/run/store/runs';
import { changePlan } from '#features/study/server/editPlan';
import { planView } from '#features/study/server/planView';
import { nameSpecimen } from '#features/study/server/specimens';
import { listMounts, listSpecimens } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

let study: number;
let run: number;
let mount: number;
let specimen: number;
let layout: number;

/** The 409 that a replacement is refused with; fails where it is taken. */
async function refusal(replacement: Promise<unknown>): Promise<Refusal> {
  const said = await replacement.then(
    () => null,
    (error: unknown) => error,
  );
  if (!(said instanceof Refusal)) throw new Error(`It should have been refused, but: ${said}`);
  expect(said.status).toBe(409);
  return said;
}

beforeAll(async () => {
  const row = (name: string, mean: string) => ({
    ...{ import_id: randomUUID(), specimen: name, mount: 1, texts: { mean_c: mean, room_c: '21' }, throttled: 'unknown' },
  });
  const table = await storeTable({ study_title: 'Two at once', kind: 'paste', rig: 'Bench', rows: [row('A', '61'), row('B', '58')] });
  study = table.study_id;
  const load = { name: 'Long', power_w: 100, steps: [{ stage: 'load', minutes: 20 }] };
  await changePlan(study, { base: (await planView(study)).version, changes: { loads: [load, { ...load, name: 'Short' }] }, insist: [] });
  [{ id: run }] = await listRuns(database(), study);
  [{ id: mount }] = await listMounts(database(), study);
  [{ id: specimen }] = await listSpecimens(database(), study);
  ({ id: layout } = await rememberLayout({ name: 'Probe box', headers: ['t', 'a'], reading: { roles: { a: 'ambient' } } }));
});

interface Replacement {
  /** what stands there, as a page shows it */
  shown: () => Promise<unknown>;
  theirs: (seen: unknown) => Promise<unknown>;
  /** what theirs is told by, to whoever comes second */
  words: string;
  mine: (seen: unknown) => Promise<unknown>;
}

const newest = async () => (await listChanges(database(), 'run', run)).at(-1)?.id ?? 0;
const exclude = (reason: string) => (seen: unknown) => excludeMount(mount, { reason, seen, who: reason.slice(0, 2) });
const placeOf = async () => {
  const [{ specimen_id, rig_id, number }] = (await listMounts(database(), study)).filter((m) => m.id === mount);
  return { specimen_id, rig_id, number };
};
const renumber = (number: number) => async (seen: unknown) => moveMount(mount, { ...(await placeOf()), number, seen, reason: '', who: '' });
const typed = (mean_c: string) => (seen: unknown) =>
  editTyped(run, { texts: { mean_c, room_c: '21' }, throttled: 'no', seen, reason: `read ${mean_c}` });
const words = (text: string) => (seen: unknown) => storeRecommendations(study, { list: [{ reader: 'All', words: text, rests: [] }], seen });
const format = async () => {
  const { name, reading, sensor } = (await layouts()).find((l) => l.id === layout) ?? (await layouts())[0];
  return { name, reading, sensor };
};
const naming = (name: string) => async (seen: unknown) => editLayout(layout, { ...(await format()), name, seen });

describe('two who replace the same at once', () => {
  it.each<[string, Replacement]>([
    [
      'leaving a mount out',
      {
        shown: async () => null,
        theirs: exclude('Bubble'),
        words: 'Since this page was loaded Bu left this mount out: “Bubble”.',
        mine: exclude('Other lid'),
      },
    ],
    [
      'judging a run',
      {
        shown: newest,
        theirs: (seen) => judgeRun(run, { action: 'exclude', reason: 'Door open', who: 'EB', seen }),
        words: 'EB changed this run since this page was loaded (Excluded: “Door open”)',
        mine: (seen) => judgeRun(run, { action: 'accept', seen }),
      },
    ],
    ['correcting what was typed', { shown: newest, theirs: typed('62'), words: '“read 62”', mine: typed('63') }],
    [
      'moving a run',
      {
        shown: newest,
        theirs: (seen) => moveRun(run, { specimen_id: specimen, rig_id: 1, seen, who: 'EB' }),
        words: 'EB changed this run',
        mine: (seen) => moveRun(run, { mount_id: mount, seen }),
      },
    ],
    [
      'the load of a run',
      {
        shown: async () => (await getRun(database(), run))?.load ?? null,
        theirs: (seen) => changeLoad(run, { load: 'Short', seen }),
        words: 'under the load Short',
        mine: (seen) => changeLoad(run, { load: 'Long', seen }),
      },
    ],
    ['moving a mount', { shown: placeOf, theirs: renumber(5), words: 'it is A, mount 5, on Bench now', mine: renumber(7) }],
    [
      'the name of a specimen',
      {
        shown: async () => 'A',
        theirs: (seen) => nameSpecimen(study, specimen, { name: 'Loam White', seen }),
        words: '“Loam White”',
        mine: (seen) => nameSpecimen(study, specimen, { name: 'Loam', seen }),
      },
    ],
    [
      'recommendations',
      {
        shown: async () => (await studyRecommendations(study)).map(({ reader, words: w }) => ({ reader, words: w })),
        theirs: words('Take A.'),
        words: '“All: Take A.”',
        mine: words('Take B.'),
      },
    ],
    [
      'settings',
      {
        shown: givenSettings,
        theirs: (seen) => saveSettings({ currency: 'CHF', seen }),
        words: 'Currency: CHF',
        mine: (seen) => saveSettings({ currency: 'EUR', seen }),
      },
    ],
    ['a log format', { shown: format, theirs: naming('Box of probes'), words: '“Box of probes”', mine: naming('The box') }],
  ])(
    '%s: the second hears of it, nothing is overwritten, and may replace it knowingly',
    async (_, { shown, theirs, words: said, mine }) => {
      const before = await shown();
      await theirs(before);
      const after = await shown().then((now) => JSON.stringify(now));
      const refused = await refusal(mine(before));
      expect(refused.message).toContain(said);
      expect(refused.message).toContain('Nothing was overwritten');
      expect(JSON.stringify(await shown())).toBe(after);
      await mine(refused.details.theirs);
      // a program that does not say what it saw replaces what is there
      await theirs(undefined);
    },
  );

  it('lets one of two through where both saw the same', async () => {
    const seen = await newest();
    const both = await Promise.allSettled(['EB', 'MK'].map((who) => judgeRun(run, { action: 'exclude', reason: `by ${who}`, who, seen })));
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
    const [first] = both.flatMap((b) => (b.status === 'fulfilled' ? [b.value] : []));
    expect((await judgementView(run)).reason).toBe(first.reason);
  });
});

describe('a plan that many write at once', () => {
  it('keeps every field that only one wrote, and one of each that several did', async () => {
    const { version } = await planView(study);
    const own = ['question', 'margin_k', 'mounts', 'confidence', 'mount_min'] as const;
    const value = { question: 'Which?', margin_k: 2, mounts: 4, confidence: 0.9, mount_min: 25 };
    const writes = Array.from({ length: 50 }, (_, i) =>
      i < own.length
        ? changePlan(study, { base: version, changes: { [own[i]]: value[own[i]] }, insist: [] })
        : changePlan(study, { base: version, changes: { title: `Title ${i}` }, insist: [] }),
    );
    const answers = await Promise.all(writes);
    const titles = answers.slice(own.length);
    expect(titles.filter((a) => a.conflicts.length === 0)).toHaveLength(1);
    const after = await planView(study);
    expect(after.plan).toMatchObject(value);
    expect(titles.find((a) => a.conflicts.length === 0)?.view.plan.title).toBe(after.plan.title);
    for (const { conflicts } of titles.filter((a) => a.conflicts.length > 0))
      expect(conflicts).toEqual([{ field: 'title', theirs: after.plan.title }]);
  });

  it('takes a field whose value was looked at, and tells one that is another now', async () => {
    const change = (from: string, to: string) => ({ base: 0, changes: { title: to }, insist: [], seen: { title: from } });
    const { plan } = await planView(study);
    expect((await changePlan(study, change(plan.title ?? '', 'Mine'))).conflicts).toEqual([]);
    expect((await changePlan(study, change(plan.title ?? '', 'Late'))).conflicts).toEqual([{ field: 'title', theirs: 'Mine' }]);
  });
});
