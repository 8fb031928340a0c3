import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { leastSquares } from './leastSquares';

const coefficient = fc.double({ min: -50, max: 50, noNaN: true });

describe('least squares', () => {
  it('recovers exact coefficients and leaves no residual', () => {
    fc.assert(
      fc.property(coefficient, coefficient, coefficient, (a, b, c) => {
        const x = Float64Array.from({ length: 12 }, (_, i) => i - 4);
        const columns = [x.map(() => 1), x, x.map((v) => v * v)];
        const fit = leastSquares(
          columns,
          x.map((v) => a + b * v + c * v * v),
        );
        [a, b, c].forEach((want, k) => {
          expect(fit?.coefficients[k]).toBeCloseTo(want, 8);
        });
        expect(fit?.rss).toBeLessThan(1e-15 * (1 + a * a + b * b + c * c) * 1e4);
      }),
    );
  });
  it('gives the covariance of a straight line', () => {
    const x = Float64Array.of(0, 1, 2, 3);
    const fit = leastSquares([x.map(() => 1), x], Float64Array.of(1, 3, 2, 5));
    // (XᵀX)⁻¹ of 1, x with Σx = 6, Σx² = 14, n = 4: determinant 20
    expect(fit?.inverse().map((r) => Array.from(r, (v) => Number(v.toFixed(12))))).toEqual([
      [0.7, -0.3],
      [-0.3, 0.2],
    ]);
  });
  it('refuses columns that hold what is no finite number', () => {
    const x = Float64Array.from({ length: 6 }, (_, i) => i);
    for (const bad of [Number.NaN, Number.POSITIVE_INFINITY])
      expect(
        leastSquares(
          [x.map(() => 1), x.map((v) => (v === 3 ? bad : v))],
          x.map((v) => 2 * v),
        ),
      ).toBeNull();
  });
  it('refuses columns that depend on each other', () => {
    const x = Float64Array.of(1, 2, 3, 4);
    expect(leastSquares([x, x.map((v) => 2 * v)], x)).toBeNull();
  });
});
