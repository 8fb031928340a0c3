import { describe, expect, it } from 'vitest';
import type { OutcomeKey } from '#core/compare/outcomes';
import { worthOf } from '#core/compare/worth';
import { beforeAndAfter } from '#features/results/model/beforeAfter';
import { studyBudget } from '#features/results/model/budget';
import { compareStudy, studyChoice } from '#features/results/model/choice';
import type { RunFact, StudyFacts } from '#features/results/model/facts';
import { answerResults } from '#features/results/model/resultsAnswer';
import { textOf } from '../../../../tests/markup.ts';
import { runFact, studyFacts } from '../../../../tests/studyFacts.ts';
import { ResultsDesk } from './ResultsDesk.tsx';
import { ScatterFigures } from './ScatterFigures.tsx';
import { WorthTable } from './WorthTable.tsx';

const mounts = (specimen: string, rises: number[], more: Partial<RunFact> = {}) => rises.map((r, i) => runFact(specimen, i + 1, r, more));

function shown(facts: StudyFacts, outcome: OutcomeKey = 'rise'): string {
  const answer = answerResults(facts, { ...studyChoice(facts), outcome });
  const budget = answer.analysis && studyBudget(facts, answer.analysis);
  const beforeAfter = facts.design === 'before_after' ? beforeAndAfter(facts) : [];
  return textOf(ResultsDesk, {
    facts,
    initial: answer,
    confidence: 0.95,
    look: '',
    worth: [],
    beforeAfter,
    budget,
    recommendations: [],
    making: [],
  });
}

describe('the results of a study that tells little', () => {
  it('with one specimen say what it reads, and how the first verdict comes', () => {
    const text = shown(studyFacts(mounts('R', [41, 41.2, 40.9])));
    expect(text).toContain('R runs 41.0 K over ambient (3 mounts); nothing to compare it with yet.');
    expect(text).toContain('A second specimen brings the first verdict');
  });
  it('with one mount each assume a scatter, and say at which it would flip', () => {
    const text = shown(studyFacts([...mounts('R', [41]), ...mounts('A', [38])]));
    expect(text).toMatch(/assuming a mount-to-mount scatter of/i);
  });
  it('with mounts equal to the last digit say how far apart they read, and that no interval can be given', () => {
    expect(shown(studyFacts([...mounts('R', [41, 41, 41]), ...mounts('A', [40.5, 40.5, 40.5])]))).toMatch(
      /A and R read 0\.5 K apart .* no interval can be given/,
    );
    expect(shown(studyFacts([...mounts('R', [41, 41]), ...mounts('A', [41, 41])]))).toContain('0.0 K apart');
  });
  it('draw what throttled as at or above, and keep it out of the means', () => {
    const hot = { valid: false, censored: true, values: { rise: 68.4 } };
    const text = shown(studyFacts([...mounts('R', [41, 41.2, 40.9]), ...mounts('A', [68, 68.4], hot)]));
    expect(text).toContain('A, throttled at or above 68.4 K');
  });
  it('with nothing valid say so', () => {
    expect(shown(studyFacts(mounts('R', [41, 42], { valid: false })))).toMatch(/^No run has a valid ΔT over ambient yet/);
    expect(shown(studyFacts([]))).toContain('No run has a valid');
  });
  it('without power have no resistance to tell', () => {
    const dead = studyFacts([
      ...mounts('R', [41, 42], { power_w: 0, r_valid: false }),
      ...mounts('A', [39, 40], { power_w: 0, r_valid: false }),
    ]);
    expect(shown(dead, 'r_k_per_w')).toMatch(/^No run has a valid resistance yet/);
  });
  it('without a reference compare all pairs', () => {
    const text = shown(studyFacts([...mounts('R', [41, 41.2, 40.9]), ...mounts('A', [38, 38.1, 38.3])], { reference: null }));
    expect(text).toContain('A runs 2.9 K cooler than R');
  });
  it('of two rigs that do not cross the specimens refuse to compare across', () => {
    const text = shown(studyFacts([...mounts('R', [41, 41.2]), ...mounts('A', [38, 38.1], { rig: 'South' })]));
    expect(text).toMatch(/rig/i);
    expect(text).not.toMatch(/A runs [\d.]+ K cooler/);
  });
});

describe('the results of a study that tells much', () => {
  const wide = studyFacts(
    [
      ...mounts('R', [41, 41.6, 40.7, 41.1]),
      ...mounts('A', [39.1, 39.4, 38.9, 39.3]),
      ...mounts('B', [40.9, 41.3, 41.2, 40.8]),
      ...mounts('C', [44.8, 45.2, 44.9, 45.5]),
    ],
    { currency: 'EUR' },
  );
  it('stand best first, against the reference, each with its letter and interval', () => {
    const text = shown(wide);
    expect(text).toContain('Against R');
    expect(text.indexOf('39.2')).toBeLessThan(text.indexOf('45.1'));
    expect(text).toMatch(/A runs 1\.9 K cooler than R \(95 % 1\.\d to 2\.\d, 4 mounts each\); firm\./);
    expect(text).toContain('The intervals hold together: 95 % for all 6 pairs at once.');
    expect(text).toMatch(/Chance to be truly the lowest: A over 99 %/);
  });
  it('tell scatter and its limits from mount to mount', () => {
    const analysis = compareStudy(wide, studyChoice(wide));
    if (!analysis) throw new Error('the study has an analysis');
    expect(textOf(ScatterFigures, { analysis })).toMatch(/Pooled standard deviation of mount values, \d+ degrees of freedom 0\.\d\d K/);
  });
  it('set price and effort beside, and mark what nothing else beats', () => {
    const worth = worthOf(
      [
        { specimen: 'R', cost: 1, value: 41.1 },
        { specimen: 'A', cost: 3, value: 39.2 },
        { specimen: 'C', cost: 4, value: 45.1 },
      ],
      'R',
    );
    const text = textOf(WorthTable, { worth, currency: 'EUR', reference: 'R', minutes: { R: 30, A: 30, C: 95 } });
    expect(text).toMatch(/A .*3\.00/);
    expect(text).toMatch(/C .*95/);
    expect(text).toContain('EUR');
  });
  it('of a state that throttled before lead by the resistance', () => {
    const before = { censored: true, valid: false, power_w: 120, values: { r_k_per_w: 0.55, throttle_share: 100 } };
    const runs = [
      ...[1, 2, 3].map((n) => ({ ...runFact('Before', 1, 68 + n / 10, before), run: n })),
      ...mounts('After', [42, 42.3, 41.9], { values: { throttle_share: 0 } }),
    ];
    const facts = studyFacts(runs, { design: 'before_after' });
    facts.specimens[0].fixed = true;
    const text = shown(facts, 'r_k_per_w');
    expect(text).toContain('Before and after');
    expect(text).toMatch(/temperature alone understates/);
  });
  it('miss a sensor that has a limit by its name', () => {
    expect(shown(studyFacts(mounts('R', [41, 41.2]), { limits_room_c: 35, limits_unread: 'No run has the sensor "Foo".' }))).toContain(
      'Parts and their limits No run has the sensor "Foo".',
    );
  });
  it('of parts with own limits say which decides', () => {
    const limited = (part: string, margin_k: number) => ({
      margins: [{ part, sensor: 'S', rise_k: 40, margin_k }],
      values: { limit_room: margin_k },
    });
    const facts = studyFacts([...mounts('R', [41, 41.2], limited('Memory', 8)), ...mounts('A', [39, 39.2], limited('Regulator', 3))], {
      limits_room_c: 35,
    });
    expect(shown(facts)).toContain(
      'By ΔT alone A leads; by the nearest limit R does, with 8.0 K against 3.0 K: Regulator under A decides.',
    );
  });
});
