import { expect, it } from 'vitest';
import { chiSquareCdf } from './chiSquare';

it('chi-square has the tabulated 95 % points, and is exact on few degrees of freedom', () => {
  for (const [df, x] of [
    [1, 3.841459],
    [2, 5.991465],
    [3, 7.814728],
  ])
    expect(chiSquareCdf(x, df)).toBeCloseTo(0.95, 6);
  for (const [df, x] of [
    [4, 9.487729],
    [5, 11.070498],
    [20, 31.410433],
    [100, 124.342113],
  ])
    expect(Math.abs(chiSquareCdf(x, df) - 0.95)).toBeLessThan(0.002);
  expect(chiSquareCdf(3, 2)).toBeCloseTo(1 - Math.exp(-1.5), 12);
  expect([chiSquareCdf(0, 3), chiSquareCdf(-1, 30), chiSquareCdf(1e6, 30)]).toEqual([0, 0, 1]);
});
