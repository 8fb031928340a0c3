import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalCdf } from '#core/stats/distributions/normal';
import { maximumModulus } from '#core/stats/distributions/studentizedMaximumModulus';
import { tQuantile } from '#core/stats/distributions/t';
import { analyse } from './analyse';
import { chooseSchool } from './measuredLimits';
import { fitOneWay } from './oneWay';
import { dunnettT3, gamesHowell } from './rangeTests';
import type { AnalysisRow } from './rows';
import type { MountValue } from './types';

/** P(max|T| > q) for a few whole degrees of freedom, by Simpson's rule on the density of the scatter alone. */
function tailByHand(q: number, count: number, df: 2 | 4 | 6): number {
  // density of S = √(χ²/ν) for even ν: 2 (ν/2)^(ν/2) / (ν/2 − 1)! · s^(ν−1) · exp(−ν s²/2)
  const half = df / 2;
  const constant = (2 * half ** half) / [1, 1, 2][half - 1];
  const steps = 4000;
  const width = 6 / steps;
  let sum = 0;
  for (let i = 0; i <= steps; i++) {
    const s = i * width;
    const weight = i === 0 || i === steps ? 1 : i % 2 === 1 ? 4 : 2;
    const density = constant * s ** (df - 1) * Math.exp(-half * s * s);
    sum += weight * density * (1 - (2 * normalCdf(q * s) - 1) ** count);
  }
  return (sum * width) / 3;
}

const study = fc
  .array(fc.array(fc.integer({ min: 3000, max: 6000 }), { minLength: 2, maxLength: 6 }), { minLength: 2, maxLength: 6 })
  .map((groups) =>
    groups.flatMap((values, s) =>
      values.map((v, m): MountValue & AnalysisRow => ({ specimen: `S${s}`, mount: String(m), value: v / 100 })),
    ),
  );

describe('the studentised maximum modulus', () => {
  it('is that of one t for one statistic, and of independent normals where the scatter is known', () => {
    for (const df of [1, 3, 7.5, 40]) expect(maximumModulus(1).quantile(0.95, df)).toBeCloseTo(tQuantile(0.975, df), 8);
    expect(1 - maximumModulus(6).upperTail(2.5, Number.POSITIVE_INFINITY)).toBeCloseTo((2 * normalCdf(2.5) - 1) ** 6, 9);
  });
  it('agrees with a quadrature of its definition', () => {
    for (const df of [2, 4, 6] as const)
      for (const count of [3, 10, 28])
        for (const q of [1, 3, 6]) expect(maximumModulus(count).upperTail(q, df)).toBeCloseTo(tailByHand(q, count, df), 8);
  });
  it('lies between one t and the t of Šidák, whose statistics share no scatter', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 100 }), fc.integer({ min: 1, max: 60 }), (count, df) => {
        const q = maximumModulus(count).quantile(0.95, df);
        expect(q).toBeGreaterThan(tQuantile(0.975, df));
        expect(q).toBeLessThanOrEqual(tQuantile(1 - (1 - 0.95 ** (1 / count)) / 2, df) * (1 + 1e-9));
      }),
    );
  });
});

describe('the strict school', () => {
  it('is never narrower than Games–Howell, and differs from it in its limits alone', () => {
    fc.assert(
      fc.property(study, (mounts) => {
        const fit = fitOneWay(mounts);
        const loose = gamesHowell(fit, 0.95);
        dunnettT3(fit, 0.95).forEach((p, i) => {
          const q = loose[i];
          expect(p === null).toBe(q === null);
          if (!p || !q) return;
          expect([p.a, p.b, p.difference, p.se]).toEqual([q.a, q.b, q.difference, q.se]);
          expect(p.ci[1] - p.ci[0]).toBeGreaterThanOrEqual((q.ci[1] - q.ci[0]) * (1 - 1e-9));
          expect(p.p_adjusted).toBeGreaterThanOrEqual(q.p_adjusted - 1e-9);
        });
      }),
      { numRuns: 60 },
    );
  });
  it('judges, and what is firm is said by all schools alike', () => {
    fc.assert(
      fc.property(study, (rows) => {
        const result = analyse(rows, { chances: false, scatter: 'strict' });
        expect(result.scatter.school).toBe('strict');
        for (const p of result.pairs) if (p.firm) expect([p.pooled?.verdict, p.separate?.verdict]).toEqual([p.verdict, p.verdict]);
      }),
      { numRuns: 40 },
    );
  });
});

describe('the choice of school', () => {
  const six = { blocked: false, family: 'all' as const, one_kind: false, specimens: 6, fewest: 5 };
  it('goes by the number of mounts, or by what was measured of such a design', () => {
    const by = (choice: 'auto' | 'measured', change: Partial<Parameters<typeof chooseSchool>[1]>) =>
      chooseSchool(choice, { ...six, ...change });
    expect([2, 3, 4, 12].map((fewest) => by('auto', { fewest }))).toEqual(['pooled', 'pooled', 'separate', 'separate']);
    expect([1, 3, 4, 12].map((fewest) => by('measured', { fewest }))).toEqual(['pooled', 'strict', 'strict', 'separate']);
    expect([1, 3, 4, 12].map((fewest) => by('measured', { fewest, one_kind: true }))).toEqual(['pooled', 'pooled', 'strict', 'separate']);
    expect([3, 5].map((fewest) => by('measured', { fewest, specimens: 2 }))).toEqual(['separate', 'separate']);
    expect([3, 5].map((fewest) => by('measured', { fewest, family: 'reference' }))).toEqual(['separate', 'separate']);
    expect(by('measured', { blocked: true })).toBe('pooled');
    expect(chooseSchool('separate', six)).toBe('separate');
  });
});
