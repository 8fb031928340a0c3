import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { vectors } from '../../../../tests/vectors.ts';
import { fitApproach, fitTerms } from './approach';

interface StepInput {
  model: string;
  x: number[];
  y: number[];
}
interface StepExpected {
  coefficients: { name?: string; value: number }[];
  plateau?: { value: number };
  rss: number;
}

describe('exponential approach against fits of other software', () => {
  const file = vectors<StepInput, StepExpected>('step');
  const cases = file.cases.filter((c) => c.expected.plateau);
  it.each(cases)('$name', ({ input, expected }) => {
    const count = input.model.includes('tau2') ? 2 : 1;
    const fit = fitTerms(Float64Array.from(input.x), Float64Array.from(input.y), count);
    const want = expected.plateau?.value ?? Number.NaN;
    expect(Math.abs((fit?.plateau ?? Number.NaN) - want)).toBeLessThan(1e-5 * Math.abs(want));
    expect(Math.abs((fit?.rss ?? Number.NaN) - expected.rss)).toBeLessThan(1e-6 * expected.rss);
  });
});

describe('choice of terms', () => {
  const t = Float64Array.from({ length: 600 }, (_, i) => 2 * i);
  const random = seededRandom(11);
  const noisy = (f: (s: number) => number) => t.map((s) => f(s) + 0.05 * random.normal());
  it('takes one term where there is one, and finds its end value', () => {
    const fit = fitApproach(
      t,
      noisy((s) => 40 - 30 * Math.exp(-s / 150)),
    );
    expect(fit?.plateau).toBeCloseTo(40, 1);
    expect(fit?.terms.at(-1)?.tau_s).toBeCloseTo(150, -1);
  });
  it('takes two terms where there are two', () => {
    const fit = fitApproach(
      t,
      noisy((s) => 40 - 20 * Math.exp(-s / 12) - 15 * Math.exp(-s / 300)),
    );
    expect(fit?.terms).toHaveLength(2);
    expect(fit?.plateau).toBeCloseTo(40, 0);
  });
  it('follows an approach from above', () => {
    const fit = fitApproach(
      t,
      noisy((s) => 38 + 6 * Math.exp(-s / 90)),
    );
    expect(fit?.plateau).toBeCloseTo(38, 1);
    expect(fit?.terms[0].a).toBeLessThan(0);
  });
  it('says nothing on a handful of samples', () => {
    expect(fitApproach(t.subarray(0, 8), t.subarray(0, 8))).toBeNull();
  });
});
