import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { withinGroups } from './withinGroups';

describe('withinGroups', () => {
  it('gives the common slope of two groups, by hand', () => {
    // group means taken out: x −1, 0, 1 in each; y −2, 0, 2 and −1, −1, 2: Sxx = 4, Sxy = 4 + 3 = 7, Syy = 8 + 6 = 14
    const line = withinGroups([
      { x: [1, 2, 3], y: [8, 10, 12] },
      { x: [5, 6, 7], y: [0, 0, 3] },
    ]);
    expect(line?.slope).toBeCloseTo(1.75, 12);
    expect(line?.r).toBeCloseTo(7 / Math.sqrt(56), 12);
    expect(line?.df).toBe(3);
    // residual 14 − 12.25 = 1.75 on 3; se = √(1.75/3/4) = 0.381881; t(0.975, 3) = 3.182446
    expect(line?.high).toBeCloseTo(1.75 + 3.182446 * 0.381881, 5);
  });
  it('does not mind where the groups lie', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })), { minLength: 5, maxLength: 12 }),
        fc.integer({ min: -900, max: 900 }),
        (points, shift) => {
          const group = (d: number) => ({ x: points.map((p) => p[0] + d), y: points.map((p) => p[1] - 3 * d) });
          const one = withinGroups([group(0), group(0)]);
          const other = withinGroups([group(0), group(shift)]);
          expect(other === null).toBe(one === null);
          if (one && other) expect(other.slope).toBeCloseTo(one.slope, 8);
        },
      ),
    );
  });
  it('says nothing where there is nothing to say', () => {
    expect(withinGroups([{ x: [1, 2, 3], y: [1, 2, 3] }])).toBeNull();
    expect(withinGroups([{ x: [2, 2, 2, 2, 2], y: [1, 2, 3, 4, 5] }])).toBeNull();
    expect(
      withinGroups([
        { x: [1], y: [1] },
        { x: [1], y: [2] },
      ]),
    ).toBeNull();
  });
});
