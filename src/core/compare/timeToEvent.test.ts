import { describe, expect, it } from 'vitest';
import { logRank } from './timeToEvent';

const times = (...s: (number | string)[]) => s.map((t) => ({ s: Number.parseFloat(String(t)), reached: !String(t).endsWith('+') }));

describe('log-rank test', () => {
  it('gives the published figures of the remission times of Gehan (1965)', () => {
    const treated = times(6, 6, 6, '6+', 7, '9+', 10, '10+', '11+', 13, 16, '17+', '19+', '20+', 22, 23, '25+', '32+', '32+', '34+', '35+');
    const control = times(1, 1, 2, 2, 3, 4, 4, 5, 5, 8, 8, 8, 8, 11, 11, 12, 12, 15, 17, 22, 23);
    const test = logRank(treated, control);
    expect(test.chi_squared).toBeCloseTo(16.79, 2);
    expect(test.observed).toEqual([9, 21]);
    expect(test.expected[0]).toBeCloseTo(19.25, 2);
    expect(test.exact).toBe(false);
    expect(test.p).toBeLessThan(1e-4);
  });
  it('is exact for a handful of runs: three against three cannot go below a tenth', () => {
    const test = logRank(times(10, 12, 14), times(30, 32, '40+'));
    expect(test.exact).toBe(true);
    expect(test.p).toBeCloseTo(2 / 20, 9);
  });
  it('says nothing where nothing happened', () => {
    expect(logRank(times('60+', '60+'), times('60+'))).toMatchObject({ chi_squared: null, p: null });
  });
  it('is the same either way round', () => {
    const a = times(5, 9, '12+', 20);
    const b = times(7, 15, 30, '31+');
    expect(logRank(a, b).p).toBeCloseTo(logRank(b, a).p ?? Number.NaN, 12);
  });
});
