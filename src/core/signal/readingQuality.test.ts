import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { readingQuality } from './readingQuality';

const t = Array.from({ length: 600 }, (_, i) => i / 10);

describe('readings of something that does not change', () => {
  it('give back the noise, step and drift that were planted', () => {
    const random = seededRandom(4);
    const values = t.map((s) => Math.round(100 * (22 + (0.3 * s) / 60 + 0.05 * random.normal())) / 100);
    const q = readingQuality(t, values);
    expect([q.count, q.rate_hz, q.resolution]).toEqual([600, expect.closeTo(10, 6), 0.01]);
    expect(Math.abs((q.noise ?? 0) - 0.05)).toBeLessThan(0.005);
    expect(Math.abs((q.drift_per_min ?? 0) - 0.3)).toBeLessThan(3 * (q.drift_se ?? 0));
    expect(q.mean).toBeCloseTo(22.15, 2);
  });
  it('leave out what was no reading, and say nothing of too few', () => {
    const q = readingQuality([0, 1, 2, 3], [20, Number.NaN, 20, 20]);
    expect(q).toMatchObject({ count: 3, rate_hz: expect.closeTo(2 / 3, 9), mean: 20, noise: null, resolution: null, drift_per_min: null });
    expect(readingQuality([], [])).toMatchObject({ count: 0, rate_hz: null, noise: null });
  });
  it('take no step of storage for one of the instrument', () => {
    expect(readingQuality([0, 1, 2], [0.1 + 0.2, 0.3, 0.3]).resolution).toBeNull();
  });
});
