import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { expectWithin, vectors } from '../../../tests/vectors.ts';
import { setupsAgainstOthers } from './againstOthers';
import { drawnPredictions } from './drawnPrediction';
import { againstReference, allPairs, difference, rankMaterials } from './rankMaterials';
import type { RankingRow } from './types';

const file = vectors<{ reference: string; rows: RankingRow[] }, object>('ranking');

describe('materials over several set-ups', () => {
  it.each(file.cases.map((c) => [c.name, c] as const))('%s', (_, { input, expected }) => {
    const ranking = rankMaterials(input.rows, input.reference);
    const { parameters, df, tau, Q, Q_p, knapp_hartung } = ranking;
    const got = {
      ...{ rows: input.rows.length, parameters, df, tau, Q, Q_p, knapp_hartung },
      against_reference: againstReference(ranking),
      pairs: allPairs(ranking),
      each_setup_against_the_others: setupsAgainstOthers(input.rows),
    };
    expectWithin(got, expected, file.tolerance);
  });

  it('does not hang on the order of the rows, nor on a constant of a set-up', () => {
    const { rows, reference } = file.cases[0].input;
    const other = [...rows].reverse().map((r) => (r.setup === 'S2' ? { ...r, mean: r.mean + 1000 } : r));
    const [a, b] = [rankMaterials(rows, reference), rankMaterials(other, reference)];
    expect(b.tau).toBeCloseTo(a.tau as number, 6);
    expect(difference(b, 'M2', 'M1').difference).toBeCloseTo(difference(a, 'M2', 'M1').difference, 8);
    expect(difference(b, 'M2', 'M1').difference).toBeCloseTo(-difference(a, 'M1', 'M2').difference, 8);
  });

  it('sets materials apart that nothing connects to the reference, and refuses a reference nobody measured', () => {
    const row = (setup: string, material: string, mean: number): RankingRow => ({ setup, material, mean, variance: 1 });
    const rows = [row('S1', 'A', 10), row('S1', 'B', 12), row('S2', 'C', 20), row('S2', 'D', 25)];
    expect(rankMaterials(rows, 'A').apart).toEqual(['C', 'D']);
    expect(againstReference(rankMaterials(rows, 'A')).map((d) => d.a)).toEqual(['B']);
    expect(() => rankMaterials(rows, 'E')).toThrow('No set-up has the reference E.');
  });
});

describe('intervals over several set-ups', () => {
  /** Rows of a planted truth: materials lie 0, 2, 4 … apart, and each lead differs by τ from set-up to set-up. */
  function planted(random: ReturnType<typeof seededRandom>, setups: number, tau: number): RankingRow[] {
    return Array.from({ length: setups }, (_, s) =>
      Array.from({ length: 4 }, (__, m) => {
        const variance = 0.2 + 0.6 * random.uniform();
        const mean = 100 * s + 2 * m + tau * random.normal() + Math.sqrt(variance) * random.normal();
        return { setup: `S${s}`, material: `M${m}`, mean, variance };
      }),
    ).flat();
  }

  it.each([
    [3, 0.7],
    [5, 0.7],
    [5, 0],
  ])('hold the planted truth and a new set-up: %i set-ups, τ %f', (setups, tau) => {
    const random = seededRandom(100 * setups + 10 * tau);
    const times = 160;
    let held = 0;
    let foreseen = 0;
    for (let n = 0; n < times; n++) {
      const ranking = rankMaterials(planted(random, setups, tau), 'M0');
      const { ci95 } = difference(ranking, 'M1', 'M0');
      if (ci95[0] <= 2 && 2 <= ci95[1]) held++;
      const [interval] = drawnPredictions(ranking, [['M1', 'M0']], n, 600);
      const next = 2 + Math.SQRT2 * tau * random.normal();
      if (interval && interval[0] <= next && next <= interval[1]) foreseen++;
    }
    // 95 % of 160 is 152 ± 2.8; with no τ the intervals are wide
    expect(held).toBeGreaterThan(143);
    expect(foreseen).toBeGreaterThan(143);
    expect(foreseen).toBeLessThan(tau === 0 ? 161 : 159);
  });

  it('are drawn the same for the same seed, and none without degrees of freedom', () => {
    const ranking = rankMaterials(planted(seededRandom(5), 4, 0.5), 'M0');
    const drawn = (seed: number) => drawnPredictions(ranking, [['M1', 'M0']], seed);
    expect(drawn(3)).toEqual(drawn(3));
    expect(drawn(3)).not.toEqual(drawn(4));
    const [, turned] = drawnPredictions(
      ranking,
      [
        ['M3', 'M2'],
        ['M0', 'M1'],
      ],
      3,
    ) as [number, number][];
    expect(drawn(3)).toEqual([[-turned[1], -turned[0]]]);
    const [[low, high]] = drawn(3) as [number, number][];
    const { prediction95 } = difference(ranking, 'M1', 'M0');
    // near the plug-in interval, and not inside it
    expect(high - low).toBeGreaterThan(0.8 * ((prediction95 as number[])[1] - (prediction95 as number[])[0]));
    const alone = rankMaterials(
      ranking.design.rows.filter((r) => r.setup === 'S0'),
      'M0',
    );
    expect(drawnPredictions(alone, [['M1', 'M0']])).toEqual([null]);
  });
});
