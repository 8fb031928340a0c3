import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { DEFAULT_MOUNT_SD } from '#features/shelf/model/materials';
import { studyFacts as facts, runFact as run } from '../../../../tests/studyFacts';
import { beforeAndAfter } from './beforeAfter';
import { studyBudget } from './budget';
import { changeWords } from './changeWords';
import { changedVerdicts, compareStudy, knownOutcomes, leadingChoice, marginFor, rowsFor, studyChoice } from './choice';
import type { RunFact } from './facts';
import { interactions } from './interactions';
import { levelScale } from './levelScale';
import { checkRests, restsNow } from './recommendation';
import { referenceDrift } from './referenceDrift';
import { answerResults } from './resultsAnswer';
import { sensorNames } from './sensorNames';

const three = (specimen: string, centre: number, more: Partial<RunFact> = {}) =>
  [0, 0.2, -0.1].map((d, i) => run(specimen, i + 1, centre + d, more));

describe('sensors and parts as outcomes', () => {
  const sensors = (memory: number, regulator: number) => ({
    sensors: { Memory: memory, Regulator: regulator },
    values: { hottest: regulator },
  });
  const study = facts([
    ...[50, 50.4, 50.2].map((rise, i) => run('R', i + 1, rise, sensors(rise - 2, rise + 9))),
    ...[50, 50.3, 50.1].map((rise, i) => run('A', i + 1, rise, sensors(rise - 6, rise + 9))),
  ]);

  it('are offered where a run has several, and each is compared by its own rise', () => {
    expect(sensorNames(study)).toEqual(['Memory', 'Regulator']);
    expect(knownOutcomes(study)).toEqual(expect.arrayContaining(['hottest', 'sensor']));
    expect(knownOutcomes(facts([run('R', 1, 50, { sensors: { Memory: 48 } })]))).not.toContain('sensor');
    const one = (sensor: string) => answerResults(study, { ...studyChoice(study), outcome: 'sensor', sensor });
    expect(one('Memory').analysis?.pairs[0]).toMatchObject({ verdict: expect.stringMatching(/^(cooler|warmer)$/) });
    expect(one('Memory').scale.name).toBe('ΔT of Memory');
    expect(one('Regulator').analysis?.pairs[0].verdict).toBe('tied');
    expect(rowsFor(study, { ...studyChoice(study), outcome: 'sensor', sensor: 'Board' }).every((r) => !r.valid)).toBe(true);
  });
});

describe('what a study is looked at by', () => {
  const study = facts([...three('R', 41, { values: { clock: 2100 } }), ...three('A', 39, { values: { clock: 2100, score: 900 } })]);
  it('offers the outcomes that some run has', () => {
    expect(knownOutcomes(study)).toEqual(['rise', 'rise_at_power', 'r_k_per_w', 'clock', 'score']);
  });
  it('takes a kelvin for its share of the power in K/W, and a hundredth of a score', () => {
    expect(marginFor(study, 'rise')).toBe(1);
    expect(marginFor(study, 'r_k_per_w')).toBeCloseTo(1 / 140, 12);
    expect(marginFor(study, 'score')).toBeCloseTo(9, 12);
    expect(marginFor({ ...study, margins: { clock: 7 } }, 'clock')).toBe(7);
  });
  it('refers the resistance to a stated power', () => {
    const rows = rowsFor(study, { ...studyChoice(study), outcome: 'rise_at_power', power_w: 70 });
    expect(rows[0].value).toBeCloseTo(20.5, 12);
  });
  it('leaves a run without the outcome out, with that reason', () => {
    const rows = rowsFor(study, { ...studyChoice(study), outcome: 'score' });
    expect(rows[0]).toMatchObject({ valid: false, reason: 'not measured' });
    expect(answerResults(study, { ...studyChoice(study), outcome: 'score' }).headline.claim).toBe('A reads 900 points');
  });
  it('with zero power has no resistance to tell and says so without a number that is none', () => {
    const dead = facts([...three('R', 41, { power_w: 0, r_valid: false }), ...three('A', 39, { power_w: 0, r_valid: false })]);
    const answer = answerResults(dead, { ...studyChoice(dead), outcome: 'r_k_per_w' });
    expect(answer.analysis).toBeNull();
    expect(JSON.stringify(answer)).not.toMatch(/NaN|Infinity/);
  });
  it('of two loads takes the runs of one, those of no load counting for the first', () => {
    const loads = facts([...three('R', 41), ...three('R', 60, { load: 'Full' })], { loads: ['Part', 'Full'] });
    expect(rowsFor(loads, { ...studyChoice(loads), load: 'Full' }).map((r) => r.value)).toEqual([60, 60.2, 59.9]);
    expect(rowsFor(loads, studyChoice(loads))).toHaveLength(3);
  });
});

describe('what changes', () => {
  const study = facts([...three('R', 41), ...three('A', 40.2), run('A', 4, 43.9)]);
  it('names the sentences that another school words otherwise', () => {
    const own = studyChoice(study);
    const answer = answerResults(study, { ...own, scatter: 'separate' });
    const expected = changedVerdicts(compareStudy(study, own), compareStudy(study, { ...own, scatter: 'separate' }));
    expect(answer.changed).toEqual(expected);
    expect(answerResults(study, own).changed).toEqual([]);
  });
  it('tells both answers where a mount was left out', () => {
    const cut = { ...study, runs: study.runs.map((r) => (r.mount === 4 ? { ...r, mount_reason: 'tilted' } : r)) };
    const answer = answerResults(cut, studyChoice(cut));
    expect(answer.analysis?.pairs[0].verdict).toBe('warmer');
    expect(answer.restored).toEqual([
      { a: 'A', b: 'R', before: expect.stringContaining('A runs 0.8 K cooler'), after: expect.stringContaining('not distinguishable') },
    ]);
    expect(answerResults(study, studyChoice(study)).restored).toBeNull();
  });
});

describe('before and after', () => {
  const before = {
    censored: true,
    valid: false,
    power_w: 120,
    exhaust_rise_k: 14,
    values: { r_k_per_w: 0.55, clock: 1900, throttle_share: 100, fan_speed: 1000 },
    events: [{ event: 'throttle', s: 300, reached: true }],
  };
  const after = {
    exhaust_rise_k: 12,
    values: { clock: 2100, throttle_share: 0, fan_speed: 1200 },
    events: [{ event: 'throttle', s: 1200, reached: false }],
  };
  const runs = [1, 2, 3].map((n) => ({ ...run('Before', 1, 68 + n / 10, before), run: n }));
  const study = facts([...runs, ...three('After', 42, after)], { reference: 'Before', design: 'before_after' });
  study.specimens[0].fixed = true;
  const [told] = beforeAndAfter(study);
  const of = (key: string) => told.changes.find((c) => c.outcome === key);

  it('looks at the resistance first, as the state before has no rise', () => {
    expect(leadingChoice(study).outcome).toBe('r_k_per_w');
    expect(leadingChoice(facts([...three('R', 41), ...three('A', 40)])).outcome).toBe('rise');
  });
  it('tells K/W, clock and throttled share with their change and interval, and the rise as at or above', () => {
    expect(of('rise')).toMatchObject({ before: { mean: null, at_or_above: 68.3 }, change: null, pair: null });
    expect(of('r_k_per_w')?.change).toBeCloseTo(42.033 / 140 - 0.55, 3);
    expect(of('clock')).toMatchObject({ change: 200 });
    expect(of('throttle_share')).toMatchObject({ change: -100 });
    expect(changeWords(of('clock') as never)).toBe('+200 MHz (no interval)');
  });
  it('says why the temperature alone understates it', () => {
    const note = told.notes.find((n) => n.code === 'throttled_before')?.message;
    expect(note).toContain('68.3 K is a lower bound, and the temperature alone understates');
    expect(note).toContain('at the 140 W that After runs at, the K/W say 35.0 K');
    expect(note).toContain('The clock came back by 200 MHz.');
  });
  it('explains the exhaust with the difference to expect', () => {
    // 14 K · 140/120 · 1000/1200 = 13.6 K
    const note = told.notes.find((n) => n.code === 'exhaust')?.message;
    expect(note).toContain('2.0 K cooler after');
    expect(note).toContain('alone −0.4 K are to be expected');
    expect(note).toContain('The other −1.6 K say that more air went through than the fan speed suggests.');
    expect(told.notes.map((n) => n.code)).toContain('fan_differs');
  });
  it('compares a time that was not reached as longer', () => {
    expect(of('time_to_event')).toMatchObject({ before: { mean: 300 }, after: { mean: null, at_or_above: 1200 } });
    expect(of('time_to_event')?.words).toMatch(
      /^Time to throttle, Before against After: log-rank p = 0\.250, exact \(1 against 3 mounts\)\.$/,
    );
  });
});

describe('interactions', () => {
  it('of loads compare the gain within mounts', () => {
    const runs = ['R', 'A'].flatMap((s) =>
      [1, 2, 3].flatMap((m) => [
        run(s, m, (s === 'R' ? 40 : 38) + m / 10, { load: 'Part' }),
        run(s, m, (s === 'R' ? 62 : 55) + m / 9, { load: 'Full' }),
      ]),
    );
    const [only] = interactions(facts(runs, { loads: ['Part', 'Full'] }), studyChoice(facts(runs, { loads: ['Part', 'Full'] })));
    expect(only).toMatchObject({ by: 'load', specimen: 'A', first: 'Part', second: 'Full' });
    expect(only.value).toBeCloseTo(5, 10);
    expect(only.sentence).toMatch(/^A gains 5\.0 K more over R under Full than under Part/);
  });
  it('of rigs compare mounts apart, and say what is not told', () => {
    const on = (rig: string) => [...three('R', 41, { rig }), ...three('A', 39.1, { rig })];
    const two = facts([...on('North'), ...on('South').map((r) => ({ ...r, mount: r.mount + 3, mount_id: r.mount_id + 3 }))]);
    const [only] = interactions(two, studyChoice(two));
    expect(only).toMatchObject({ by: 'rig', value: expect.closeTo(0, 9) });
    expect(only.sentence).toMatch(/^Whether A gains more on North or on South is not settled/);
  });
  it.each([
    ['two rigs', 2, 1],
    ['three rigs', 3, 1],
    ['three loads', 1, 3],
  ])('of seven specimens that do not differ tell one in at most 5 of 100 studies: %s', (_, rigs, loads) => {
    const random = seededRandom(11);
    const studies = 300;
    let wrong = 0;
    for (let k = 0; k < studies; k++) {
      const runs = ['R', 'A', 'B', 'C', 'D', 'E', 'F'].flatMap((s) =>
        Array.from({ length: 3 * rigs }, (_m, m) => {
          const mount = 40 + 0.5 * random.normal();
          const rig = `Rig ${m % rigs}`;
          return Array.from({ length: loads }, (_l, l) =>
            run(s, m + 1, mount + 10 * l + 0.3 * random.normal(), { rig, load: loads > 1 ? `Load ${l}` : null }),
          );
        }).flat(),
      );
      const study = facts(runs, { loads: loads > 1 ? ['Load 0', 'Load 1', 'Load 2'] : [], family: 'reference' });
      if (interactions(study, studyChoice(study)).some((i) => i.ci[0] > 0 || i.ci[1] < 0)) wrong++;
    }
    // three standard errors of the simulation
    expect(wrong / studies).toBeLessThanOrEqual(0.05 + 3 * Math.sqrt((0.05 * 0.95) / studies));
  });
  it('say where a scatter is assumed', () => {
    const on = (rig: string, mounts: number) =>
      ['R', 'A'].flatMap((s) => [1, 2, 3].slice(0, mounts).map((m) => run(s, m, 40 + (s === 'R' ? 2 : 0) + m / 10, { rig })));
    const study = facts([...on('North', 3), ...on('South', 1).map((r) => ({ ...r, mount: 9, mount_id: r.mount_id + 900 }))]);
    const [only] = interactions(study, studyChoice(study));
    expect(only).toMatchObject({
      assumed: true,
      sentence: expect.stringMatching(/^With one mount only on North or South the scatter between mounts is assumed: /),
    });
  });
});

describe('the reference over the days', () => {
  it('says within or beyond its own scatter, and its drift', () => {
    const drifting = facts([1, 2, 3, 4, 5].map((d) => run('R', d, 40 + d + (d % 2) / 50)));
    expect(referenceDrift(drifting, studyChoice(drifting))?.sentence).toMatch(/It drifts, by 9\.\d+ to 10\.\d+ K in ten days/);
    const calm = facts([41, 41.2, 40.9].map((v, i) => run('R', i + 1, v)));
    expect(referenceDrift(calm, studyChoice(calm))?.sentence).toMatch(/All 3 mounts of R lie within.*No drift detected/);
    expect(referenceDrift(facts([run('R', 1, 40)]), studyChoice(calm))).toBeNull();
  });
});

describe('a time of which some mounts were stopped without the event', () => {
  const after = [900, 950].map((s, i) => [s, true, i] as const);
  const stopped = [1200, 1200, 1200].map((s, i) => [s, false, i + 2] as const);
  const timed = (specimen: string, s: number, reached: boolean, i: number) =>
    run(specimen, i + 1, 40, { events: [{ event: 'first warning', s, reached }] });
  const study = facts([
    ...[200, 210, 220, 230, 240].map((s, i) => timed('R', s, true, i)),
    ...[...after, ...stopped].map(([s, reached, i]) => timed('New', s, reached, i)),
  ]);
  const choice = { ...studyChoice(study), outcome: 'time_to_event' as const, event: 'first warning' };
  const change = beforeAndAfter(study, choice)[0].changes.find((c) => c.outcome === 'time_to_event');
  it('is told as such: nothing throttled, and seconds are not compared by K/W', () => {
    const analysis = compareStudy(study, choice);
    expect(analysis?.pairs[0].sentence).toMatch(/^New holds at least \d+ s longer than R .*New ended without the event in some mounts/);
    expect(analysis?.findings.map((f) => f.code)).toContain('partly_without_event');
    expect(JSON.stringify(analysis)).not.toMatch(/throttled in|K\/W/);
  });
  it('has the exact log-rank test beside the verdict: 2 of 252 ways lie as far', () => {
    expect(change?.pair).not.toBeNull();
    expect(change?.words).toMatch(/log-rank p = 0\.008, exact \(5 against 5 mounts\)/);
    const whole = facts([...[200, 210].map((s, i) => timed('R', s, true, i)), ...[300, 310].map((s, i) => timed('New', s, true, i))]);
    expect(beforeAndAfter(whole, choice)[0].changes.find((c) => c.outcome === 'time_to_event')?.words).toBeNull();
  });
});

describe('the budget of a study', () => {
  const instruments = [
    { name: 'Part', reads: 'sensor' as const, accuracy_k: 2, resolution_k: 0.1 },
    ...['Left', 'Right'].map((name) => ({ name, reads: 'ambient' as const, accuracy_k: 0.4, resolution_k: null })),
  ];
  // each specimen on both rigs, three mounts on each
  const both = (specimen: string, centre: number) =>
    ['North', 'South'].flatMap((rig, k) => [0, 0.3, -0.2].map((d, i) => run(specimen, 3 * k + i + 1, centre + 0.8 * k + d, { rig })));
  const differences = (runs: RunFact[], more: Partial<ReturnType<typeof facts>>) => {
    const study = facts(runs, { instruments, ...more });
    return studyBudget(study, compareStudy(study, studyChoice(study)) as never)?.difference.map((d) => [
      d.cancels,
      d.budget.expanded < 0.6,
    ]);
  };
  it('lets offsets cancel over several rigs where each specimen was on each of them, and only there', () => {
    expect(differences([...both('R', 41), ...both('A', 39)], { block: 'rig' })).toEqual([[true, true]]);
    const part = both('A', 39);
    // a near miss: one mount is missing on one rig, and the rigs are not taken out
    expect(differences([...both('R', 41), ...part.slice(0, 5)], { block: null })).toEqual([[false, false]]);
    expect(differences([...both('R', 41), ...part.slice(0, 5)], { block: 'rig' })).toEqual([[true, true]]);
  });
  it('averages probes that read the same', () => {
    const study = facts([...three('R', 41), ...three('A', 39)], { instruments });
    const budget = studyBudget(study, compareStudy(study, studyChoice(study)) as never)?.absolute[0].budget;
    const room = budget?.components.filter((c) => /Left|Right/.test(c.name)).map((c) => Math.abs(c.contribution));
    expect(room?.[0]).toBeCloseTo(0.2 / Math.sqrt(3), 12);
    expect(room).toHaveLength(2);
  });
  it('keeps what the instruments are off by in absolute values and lets it cancel in differences', () => {
    const study = facts([...three('R', 41), ...three('A', 39)], {
      instruments: [{ name: 'Part', reads: 'sensor', accuracy_k: 2, resolution_k: 0.1 }],
    });
    const budget = studyBudget(study, compareStudy(study, studyChoice(study)) as never);
    expect(budget?.absolute[0].budget.expanded).toBeGreaterThan(2);
    expect(budget?.difference[0].budget.expanded).toBeLessThan(0.5);
  });
});

describe('recommendations', () => {
  const before = facts([...three('R', 41), ...three('A', 39)]);
  const rests = restsNow(
    before,
    [
      { outcome: 'rise', load: null, a: 'R', b: 'A' },
      { outcome: 'rise', load: null, a: 'R', b: 'Nobody' },
    ],
    0.95,
  );
  it('rest on the verdicts of now', () => {
    expect(rests).toEqual([
      expect.objectContaining({ verdict: 'warmer', firm: true, sentence: expect.stringContaining('A runs 2.0 K cooler') }),
    ]);
    expect(checkRests(before, rests, 0.95)[0].state).toBe('stands');
  });
  it('are flagged where a new run turns the verdict, and not where only a figure moves', () => {
    expect(checkRests(facts([...before.runs, run('A', 4, 39.1)]), rests, 0.95)[0].state).toBe('moved');
    const turned = checkRests(facts([...before.runs, run('A', 4, 47), run('A', 5, 35)]), rests, 0.95)[0];
    expect(turned).toMatchObject({ state: 'changed', now: expect.stringContaining('not distinguishable') });
    expect(checkRests(facts(three('R', 41)), rests, 0.95)[0]).toMatchObject({ state: 'gone', now: null });
  });
});

describe('the budget of differences', () => {
  it('tells each specimen less the reference, whichever of the two a pair names first', () => {
    const runs = [...[41, 41.2, 40.9].map((v, i) => run('R', i + 1, v)), ...[38, 38.2, 37.9].map((v, i) => run('A', i + 1, v))];
    for (const given of [runs, [...runs.slice(3), ...runs.slice(0, 3)]]) {
      const study = { ...facts(given), reference: 'R', specimens: facts(given).specimens };
      const analysis = compareStudy(study, studyChoice(study));
      const budget = analysis && studyBudget(study, analysis);
      expect(budget?.difference.map((d) => [d.specimen, Number(d.difference.toFixed(3))])).toEqual([['A', -3]]);
    }
  });
});

describe('the scatter that is assumed where nothing tells it', () => {
  it('is that of the kind of material', () => {
    const one = { ...facts([run('R', 1, 41), run('A', 1, 38)]), default_mount_sd: DEFAULT_MOUNT_SD.liquid_metal };
    const [pair] = compareStudy(one, studyChoice(one))?.pairs ?? [];
    expect(pair.sentence).toMatch(/^Assuming a mount-to-mount scatter of 1\.00 K/);
    expect(Object.entries(DEFAULT_MOUNT_SD).slice(0, 5)).toEqual([
      ['paste', 0.5],
      ['pad', 0.8],
      ['phase_change', 0.3],
      ['liquid_metal', 1],
      ['graphite', 0.6],
    ]);
  });
});

describe('runs that wait for a decision', () => {
  const waiting = (rise: number) => run('A', 9, rise, { valid: false, undecided: ['ambient_disagree'] });
  const study = facts([
    ...[41, 41.2, 40.9, 41.1].map((v, i) => run('R', i + 1, v)),
    ...[38, 38.2, 37.9].map((v, i) => run('A', i + 1, v)),
    waiting(60),
  ]);
  it('stay out of means, are named, and the answer with them stands beside', () => {
    const answer = answerResults(study, studyChoice(study), 0.95, false);
    expect(answer.analysis?.specimens.find((s) => s.specimen === 'A')).toMatchObject({ mounts: 3 });
    expect(answer.undecided?.runs.map((r) => r.codes)).toEqual([['ambient_disagree']]);
    expect(answer.undecided?.changed).toHaveLength(1);
    expect(answer.analysis?.findings.find((f) => f.code === 'excluded_mounts')?.message).toContain('needs a decision');
    const with_them = compareStudy(study, { ...studyChoice(study), with_undecided: true });
    expect(with_them?.specimens.find((s) => s.specimen === 'A')).toMatchObject({ mounts: 4 });
  });
});

describe('how the level of a rise is told', () => {
  const runs = [...[41, 41.2, 40.9].map((v, i) => run('R', i + 1, v)), ...[38, 38.2, 37.9].map((v, i) => run('A', i + 1, v))];
  it('referred to 20 °C adds as much to every level and its axis, and leaves differences as they are', () => {
    const [plain, referred] = (['difference', 'referred'] as const).map((ambient_school) => {
      const study = { ...facts(runs), ambient_school };
      return answerResults(study, studyChoice(study), 0.95, false);
    });
    expect(referred.scale).toMatchObject({ unit: '°C', plus: 20 });
    expect(referred.rungs.map((r) => r.mean)).toEqual(plain.rungs.map((r) => r.mean + 20));
    expect(referred.figures.map((m) => m.value)).toEqual(plain.figures.map((m) => (m.value as number) + 20));
    expect(referred.range.low).toBeGreaterThan(plain.range.low + 15);
    expect(referred.analysis?.sentences).toEqual(plain.analysis?.sentences);
    expect(levelScale('referred', 'clock')).toMatchObject({ unit: 'MHz', plus: 0 });
    expect(levelScale('absolute', 'rise')).toMatchObject({ unit: '°C', plus: 0, behind: '' });
  });
});
