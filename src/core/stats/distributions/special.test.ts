import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { incompleteBeta } from './beta';
import { incompleteGamma, logBeta, logGamma } from './gamma';
import { normalCdf, normalQuantile } from './normal';
import { tCdf, tQuantile } from './t';

const near = (got: number, wanted: number, relative = 1e-13) =>
  expect(Math.abs(got - wanted)).toBeLessThanOrEqual(relative * Math.abs(wanted));

describe('gamma and beta', () => {
  it('have the values that are known in closed form', () => {
    near(logGamma(0.5), Math.log(Math.sqrt(Math.PI)));
    near(
      logGamma(171),
      Array.from({ length: 170 }, (_, i) => Math.log(i + 1)).reduce((a, b) => a + b),
    );
    near(Math.exp(logBeta(1e7, 1)), 1e-7, 1e-12);
    near(Math.exp(logBeta(3, 4)), 1 / 60);
  });

  it('rise by their recurrence', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 500, noNaN: true }),
        (z) => Math.abs(logGamma(z + 1) - logGamma(z) - Math.log(z)) < 1e-12 * (1 + z),
      ),
    );
  });

  it('are exponentials and powers where one parameter is 1', () => {
    for (const x of [1e-9, 0.3, 0.9999, 2, 30]) near(1 - incompleteGamma(1, x), Math.exp(-x), 1e-12 * Math.exp(x));
    for (const x of [1e-12, 0.2, 0.7]) near(incompleteBeta(x, 1 - x, 1, 7.5), -Math.expm1(7.5 * Math.log1p(-x)), 1e-12);
  });

  it('are mirrored, also where one side is tiny', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 0.999, noNaN: true }),
        fc.double({ min: 0.1, max: 300, noNaN: true }),
        fc.double({ min: 0.1, max: 300, noNaN: true }),
        (x, a, b) => {
          const both = incompleteBeta(x, 1 - x, a, b) + incompleteBeta(1 - x, x, b, a);
          return Math.abs(both - 1) < 1e-12;
        },
      ),
    );
  });
});

describe('quantiles', () => {
  it('of the normal give their probability back, far out too', () => {
    for (let log = -300; log < -0.4; log += 0.9) near(normalCdf(normalQuantile(10 ** log)), 10 ** log, 1e-11);
    expect(normalQuantile(0.975)).toBeCloseTo(1.959963984540054, 14);
    expect([normalQuantile(0), normalQuantile(1), normalQuantile(2), normalCdf(Number.NaN)]).toEqual([
      -Infinity,
      Infinity,
      Number.NaN,
      Number.NaN,
    ]);
  });

  it('of t give their probability back, for any degrees of freedom', () => {
    fc.assert(
      fc.property(fc.double({ min: -12, max: -0.31, noNaN: true }), fc.double({ min: 0.2, max: 5000, noNaN: true }), (log, df) => {
        const p = 10 ** log;
        return Math.abs(tCdf(tQuantile(p, df), df) - p) < 1e-11 * p;
      }),
    );
    // one degree of freedom is Cauchy's, infinitely many are the normal's
    near(tQuantile(0.999, 1), Math.tan(Math.PI * 0.499), 1e-12);
    near(tQuantile(0.975, Number.POSITIVE_INFINITY), normalQuantile(0.975));
  });
});
