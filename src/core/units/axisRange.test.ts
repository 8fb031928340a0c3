import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axisRange, kelvinRange } from './axisRange';

describe('the range of an axis', () => {
  it('holds all values with room, and has a readable number of round ticks inside', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -1e5, max: 1e5, noNaN: true }), { minLength: 1, maxLength: 20 }), (values) => {
        const { low, high, ticks } = axisRange(values);
        expect(low).toBeLessThan(Math.min(...values) + 1e-9);
        expect(high).toBeGreaterThan(Math.max(...values) - 1e-9);
        expect(ticks.length).toBeGreaterThanOrEqual(1);
        expect(ticks.length).toBeLessThanOrEqual(11);
        for (const t of ticks) {
          expect(t).toBeGreaterThanOrEqual(low - 1e-9 * Math.abs(low));
          expect(t).toBeLessThanOrEqual(high + 1e-9 * Math.abs(high));
        }
      }),
      { numRuns: 200 },
    );
  });
  it.each([
    [
      [0.296, 0.577],
      [0.3, 0.35, 0.4, 0.45, 0.5, 0.55],
    ],
    [
      [1934, 2100],
      [1940, 1960, 1980, 2000, 2020, 2040, 2060, 2080, 2100],
    ],
  ] as [number[], number[]][])('of %j has ticks %j', (values, ticks) => {
    expect(axisRange(values).ticks).toEqual(ticks);
  });
  it('of one value, and of none, is still a range', () => {
    expect(axisRange([0]).high).toBeGreaterThan(axisRange([0]).low);
    expect(axisRange([40]).ticks.length).toBeGreaterThan(0);
    expect(axisRange([])).toEqual({ low: 0, high: 10, ticks: [0, 5, 10] });
  });
  it('of kelvin leaves half a kelvin at least', () => {
    expect(kelvinRange([41, 41.1])).toMatchObject({ low: 40.5, high: 41.6 });
  });
});
