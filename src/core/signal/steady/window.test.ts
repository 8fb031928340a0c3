import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { slopeTest } from './slopeTest';
import { findWindow } from './window';

const t = Float64Array.from({ length: 1500 }, (_, i) => i);
const random = seededRandom(12);
const noisy = (f: (s: number) => number, sd = 0.05) => t.map((s) => f(s) + sd * random.normal());
const stage = { start_s: 0, end_s: 1500 };
const find = (values: Float64Array, limit = 0.2, length = 120) => findWindow(t, values, stage, length, limit, 1);

describe('slope test', () => {
  it('finds a slope and its uncertainty', () => {
    const test = slopeTest(t.subarray(0, 120), noisy((s) => 40 + s / 60).subarray(0, 120), 0.2);
    expect(test?.slope).toBeCloseTo(1, 0);
    expect(test?.steady).toBe(false);
  });
  it('credits autocorrelated noise with fewer readings', () => {
    let level = 0;
    const slow = t.map(() => {
      level = 0.95 * level + 0.05 * random.normal();
      return 40 + level;
    });
    const white = noisy(() => 40, 0.16);
    const a = slopeTest(t.subarray(0, 600), slow.subarray(0, 600), 0.2);
    const b = slopeTest(t.subarray(0, 600), white.subarray(0, 600), 0.2);
    expect(a?.n_eff).toBeLessThan(120);
    expect(b?.n_eff).toBeGreaterThan(300);
  });
  it('a constant reading is flat, a handful of readings is nothing', () => {
    expect(slopeTest(t.subarray(0, 60), new Float64Array(60).fill(40.1), 0.2)).toMatchObject({ slope: 0, reach: 0, steady: true });
    expect(slopeTest(t.subarray(0, 4), t.subarray(0, 4), 0.2)).toBeNull();
  });
});

describe('the averaging window', () => {
  it('is the last of a run that has come to rest, with the time since when', () => {
    const found = find(noisy((s) => 40 - 30 * Math.exp(-s / 120)));
    expect(found.window).toEqual({ start_s: 1380, end_s: 1500 });
    expect(found.steady).toBe(true);
    expect(found.steady_at_s).toBeGreaterThan(500);
    expect(found.steady_at_s).toBeLessThan(1100);
  });
  it('is an earlier one where the end is disturbed', () => {
    const found = find(noisy((s) => (s < 1450 ? 40 : 40 - (s - 1450) / 10)));
    expect(found.steady).toBe(true);
    expect(found.window.end_s).toBeGreaterThan(1400);
    expect(found.window.end_s).toBeLessThan(1465);
    expect(found.steady_at_s).toBeNull();
  });
  it('is the last, marked unsteady, where none is flat', () => {
    const found = find(noisy((s) => 30 + s / 120));
    expect(found).toMatchObject({ steady: false, steady_at_s: null, window: { start_s: 1380, end_s: 1500 } });
    expect(found.test?.slope).toBeCloseTo(0.5, 1);
  });
  it('judges an approach from above by the same test', () => {
    const found = find(noisy((s) => 40 + 8 * Math.exp(-s / 150)));
    expect(found.steady).toBe(true);
    expect(found.steady_at_s).toBeGreaterThan(400);
  });
  it('is the whole stage where that is shorter', () => {
    expect(
      findWindow(
        t,
        noisy(() => 40),
        { start_s: 100, end_s: 160 },
        120,
        0.2,
        1,
      ).window,
    ).toEqual({ start_s: 100, end_s: 160 });
  });
  it('of a stage of many hours is found as finely as at every step', () => {
    const long = Float64Array.from({ length: 30_000 }, (_, i) => i);
    const noise = seededRandom(3);
    const course = (rest: number) =>
      long.map((at) => 40 - 30 * Math.exp(-at / 400) + (at > rest ? (at - rest) / 20 : 0) + 0.05 * noise.normal());
    const whole = { start_s: 0, end_s: 30_000 };
    const steady = findWindow(long, course(40_000), whole, 120, 0.2, 1);
    // 4.5 K/min at the start fall below 0.2 K/min after some three time constants
    expect(steady.window.end_s).toBe(30_000);
    expect(steady.steady_at_s).toBeGreaterThan(900);
    expect(steady.steady_at_s).toBeLessThan(2600);
    // far from the end, the last steady window still ends within a step of where the rest is disturbed
    const disturbed = findWindow(long, course(20_000), whole, 120, 0.2, 1);
    expect(disturbed.steady).toBe(true);
    expect(disturbed.window.end_s).toBeGreaterThan(19_990);
    expect(disturbed.window.end_s).toBeLessThan(20_030);
    expect(disturbed.steady_at_s).toBeNull();
  });
});
