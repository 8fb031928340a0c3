import { describe, expect, it } from 'vitest';
import type { PlanContext, PlanRig, PlanSpecimen } from './context';
import { comparedNoun } from './factors';
import { findingsWords, planSentence, sectionLines, weekdayWords } from './planWords';
import { resolvePlan } from './resolve';
import type { StudyPlan } from './studyPlan';

const specimen = (name: string, i: number): PlanSpecimen => ({
  ...{ id: i + 1, name, kind: 'paste', position: i, material: null, cooler: null, plan: {}, made: 0, made_mounts: [] },
  ...{ stock_left: null, cost: null, currency: null },
});
const rig = (name: string, i: number): PlanRig => ({
  id: i + 1,
  name,
  sheet: { throttle_limit_c: 92 },
  cooler: null,
  instruments: [],
  coupons_left: null,
});
const context = (names: string[], rigs: string[] = []): PlanContext => ({
  ...{ specimens: names.map(specimen), rigs: rigs.map(rig), history: [], today: '2026-05-04' },
});
const sentence = (plan: StudyPlan, names: string[], rigs: string[] = [], timed: object[] = []) =>
  planSentence(resolvePlan(plan, context(names, rigs)), timed as never)
    .map((p) => p.text)
    .join('');

describe('a plan in a sentence', () => {
  it('says what is compared by its own name, none, one or many', () => {
    expect(sentence({}, [])).toBe('No material yet, 5 mounts of each with 3 runs; no rig chosen yet; no schedule yet.');
    expect(sentence({ mounts: 1, runs: 1, varies: 'cooler' }, ['Heron'])).toBe(
      '1 cooler, 1 mount of each with 1 run; no rig chosen yet; no schedule yet.',
    );
    expect(sentence({ design: 'two_by_two' }, ['a', 'b', 'c', 'd'])).toMatch(/^4 combinations, /);
    expect(comparedNoun({ varies: 'amount' })).toBe('method');
  });

  it('says where, how long and from when', () => {
    const timed = [
      { specimen: 'A', mount: 1, day: 1, runs_day: 1, start_min: 0, hands_end_min: 25, end_min: 150 },
      { specimen: 'B', mount: 1, day: 2, runs_day: 2, start_min: 1440, hands_end_min: 1465, end_min: 1590 },
    ];
    const two = { rigs: [1, 2], start_on: '2026-06-02' };
    expect(sentence(two, ['A', 'B'], ['North bench', 'South bench'], timed)).toBe(
      '2 materials, 5 mounts of each with 3 runs on North bench and South bench: 5.0 hours over 2 days from Tue 2 Jun 2026.',
    );
    expect(sentence({ rigs: [1] }, ['A', 'B'], ['North bench'], timed.slice(0, 1))).toMatch(/on North bench: 2\.5 hours over 1 day\.$/);
    const long = [{ ...timed[0], end_min: 1320 }];
    expect(sentence({ rigs: [1] }, ['A', 'B'], ['North bench'], long)).toMatch(/: 22 hours over 1 day\.$/);
  });

  it('counts what stands against it, the gravest first', () => {
    expect(findingsWords([])).toBeNull();
    expect(findingsWords([{ severity: 'warn' }])).toBe('1 warning');
    expect(findingsWords([{ severity: 'note' }, { severity: 'reject' }, { severity: 'warn' }, { severity: 'note' }])).toBe(
      '1 not possible, 1 warning, 2 notes',
    );
  });

  it('names working days in short', () => {
    expect(weekdayWords([1, 2, 3, 4, 5])).toBe('Mon to Fri');
    expect(weekdayWords([3, 1])).toBe('Mon, Wed');
    expect(weekdayWords([1, 2])).toBe('Mon, Tue');
    expect(weekdayWords([])).toBe('every day');
    expect(weekdayWords([1, 2, 3, 4, 5, 6, 7])).toBe('every day');
  });
});

describe('the sections of a plan', () => {
  const lines = (plan: StudyPlan) => sectionLines(resolvePlan(plan, context(['A', 'B'], ['North bench'])), plan);

  it('tell their state in one line, set or not', () => {
    const none = lines({});
    expect(none.loads).toBe('none named: one run of 40 min');
    expect(none.interim).toBe('none planned: judged once, at the end');
    expect(none.expected).toBe('no expected ΔT');
    expect(none.power).toMatch(/^80 % power, 95 % confidence, all pairs · scatter between mounts 0\.50 K/);
    const set = lines({
      ...{ looks: [2, 3], confidence: 0.999, family: 'reference', ages: '0, 30' },
      held: [{ what: 'Fan', value: '1200 rpm' }, { what: 'Room' }],
      loads: [{ name: 'Correlate', steps: [{ stage: 'load', minutes: 12.5 }] }],
    });
    expect(set).toMatchObject({
      ...{ conditions: 'Fan 1200 rpm · Room', loads: 'Correlate, 12.5 min' },
      ...{ interim: 'after 2 and 3 mounts of each', ageing: 'each mount measured at 0, 30 days' },
    });
    expect(none.headroom).toMatch(/^needs /);
    expect(lines({ rigs: [1], warmest_c: 30, worst_k_per_w: 0.4 }).headroom).toBe('highest safe load 142 W in a room of 30 °C');
    expect(set.power).toMatch(/99\.9 % confidence, each with the reference/);
  });
});
