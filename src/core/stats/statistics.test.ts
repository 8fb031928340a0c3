import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { expectWithin, vectors } from '../../../tests/vectors.ts';
import { effectiveSize } from './autocorrelation';
import { noncentralTCdf } from './distributions/noncentralT';
import { studentizedRangeCdf, studentizedRangeQuantile } from './distributions/studentizedRange';
import { tCdf, tQuantile } from './distributions/t';
import { fitLine } from './line';
import { mean, standardDeviation } from './moments';
import { median, quantile, runningMedian } from './quantiles';
import { seededRandom } from './random';

describe('effective number of readings', () => {
  const file = vectors<{ values: number[] }, Record<string, unknown>>('autocorrelation');
  it.each(file.cases)('$name', ({ input, expected }) => {
    expectWithin(effectiveSize(input.values), expected, file.tolerance);
  });
});

describe('noncentral t', () => {
  const file = vectors<{ kind: string; grid: Record<string, number>[] }, { grid: Record<string, number>[] }>('power');
  const named = (kind: string) => file.cases.filter((c) => c.input.kind === kind);
  it.each(named('noncentral_t_cdf'))('$name', ({ input, expected }) => {
    expectWithin(
      input.grid.map((g) => ({ p: noncentralTCdf(g.x, g.df, g.ncp) })),
      expected.grid,
      file.tolerance,
      ['grid'],
    );
  });
});

describe('studentised range', () => {
  it('meets exact values at few degrees of freedom', () => {
    expect(studentizedRangeCdf(6, 2, 2)).toBeCloseTo(0.948683, 6);
    expect(studentizedRangeQuantile(0.95, 2, 2)).toBeCloseTo(6.08487, 5);
    expect(studentizedRangeCdf(3.5, 3, 10)).toBeCloseTo(0.9228967, 6);
    expect(studentizedRangeQuantile(0.95, 3, 10)).toBeCloseTo(3.8768, 4);
  });
  it('is the two-sided t distribution for two means', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 12, noNaN: true }), fc.double({ min: 1, max: 200, noNaN: true }), (t, df) => {
        expect(studentizedRangeCdf(t * Math.SQRT2, 2, df)).toBeCloseTo(1 - 2 * tCdf(-t, df), 9);
      }),
    );
  });
  it('gives back its quantile, and grows with the number of means', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 60 }),
        fc.double({ min: 1, max: 500, noNaN: true }),
        fc.double({ min: 0.5, max: 0.999, noNaN: true }),
        (k, df, p) => {
          const q = studentizedRangeQuantile(p, k, df);
          expect(studentizedRangeCdf(q, k, df)).toBeCloseTo(p, 8);
          expect(studentizedRangeCdf(q, k + 1, df)).toBeLessThan(p);
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('t distribution', () => {
  it('meets published critical values', () => {
    // NIST/SEMATECH e-Handbook, table 1.3.6.7.2
    expect(tQuantile(0.975, 8)).toBeCloseTo(2.306, 3);
    expect(tQuantile(0.95, 1)).toBeCloseTo(6.314, 3);
  });
});

describe('moments and order statistics', () => {
  it('lose nothing to a common offset', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 2, maxLength: 40 }), (steps) => {
        const shifted = steps.map((s) => s + 2 ** 40);
        expect(mean(shifted) - 2 ** 40).toBeCloseTo(mean(steps), 3);
        expect(standardDeviation(shifted)).toBeCloseTo(standardDeviation(steps), 6);
      }),
    );
  });
  it('follow the textbook', () => {
    expect(median([3, 1, Number.NaN, 2])).toBe(2);
    expect(quantile([1, 2, 3, 4], 0.25)).toBe(1.75);
    expect(Array.from(runningMedian([1, 9, 2, 8, 3], 1))).toEqual([5, 2, 8, 3, 5.5]);
  });
  it('a line is recovered with its scatter', () => {
    const line = fitLine([0, 1, 2, 3], [1, 3.1, 4.9, 7]);
    expect(line?.slope).toBeCloseTo(1.98, 10);
    expect(line?.slope_se).toBeCloseTo(0.0424264, 6);
    expect(fitLine([2, 2], [1, 3])).toBeNull();
  });
  it('random numbers repeat for a seed and are standard normal', () => {
    const draws = (seed: number) => {
      const random = seededRandom(seed);
      return Array.from({ length: 20000 }, () => random.normal());
    };
    const values = draws(7);
    expect(values.slice(0, 5)).toEqual(draws(7).slice(0, 5));
    expect(values[0]).not.toBe(draws(8)[0]);
    expect(Math.abs(mean(values))).toBeLessThan(0.03);
    expect(standardDeviation(values)).toBeCloseTo(1, 1);
  });
});
