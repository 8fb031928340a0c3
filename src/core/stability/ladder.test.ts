import { describe, expect, it } from 'vitest';
import { analyse } from '#core/compare/analyse';
import { seededRandom } from '#core/stats/random';
import { clocksOfSeveralVoltages, highestClock, lowestVoltage, meanClock, type StepEnd, type TriedStep } from './ladder';

const step = (clock_mhz: number, end: StepEnd, voltage_v: number | null = null): TriedStep => ({
  ...{ clock_mhz, voltage_v, end, temperature_c: null, held_s: null },
});
const climb = (ends: StepEnd[], voltage_v: number | null = null, from = 2000) => ends.map((end, i) => step(from + 50 * i, end, voltage_v));

describe('how far a ladder was climbed', () => {
  it.each<[StepEnd[], Partial<ReturnType<typeof highestClock>>]>([
    [['passed', 'passed', 'hung'], { value: 2050, beyond: false, not_monotone: false, step: 50 }],
    [['passed', 'passed'], { value: 2050, beyond: true, short_of: null }],
    [['did_not_start', 'failed'], { value: null, beyond: false, short_of: 2000 }],
    // a pass above a failure is told, and the lower one counts
    [['passed', 'failed', 'passed', 'failed'], { value: 2000, not_monotone: true }],
  ])('%j', (ends, reached) => {
    expect(highestClock(climb(ends), null)).toMatchObject(reached as object);
    // the order in which steps were tried does not matter
    expect(highestClock(climb(ends).reverse(), null)).toMatchObject(reached as object);
  });
  it('counts a step that was tried twice as passed only where it passed twice', () => {
    expect(highestClock([...climb(['passed', 'passed', 'failed']), step(2050, 'hung')], null)?.value).toBe(2000);
  });
  it('tells each voltage by itself, the mean over them by the area, and the lowest voltage of a clock', () => {
    const steps = [
      ...climb(['passed', 'failed'], 0.9),
      ...climb(['passed', 'passed', 'failed'], 0.95),
      ...climb(['passed', 'passed', 'passed'], 1.05),
    ];
    expect([0.9, 0.95, 1.05].map((v) => highestClock(steps, v)?.value)).toEqual([2000, 2050, 2100]);
    // trapezes: 0.05 V at 2025 and 0.1 V at 2075
    expect(meanClock(steps, [0.9, 0.95, 1.05])).toMatchObject({
      value: expect.closeTo((0.05 * 2025 + 0.1 * 2075) / 0.15, 9),
      beyond: true,
    });
    expect(meanClock(steps, [0.9, 1])).toBeNull();
    expect(clocksOfSeveralVoltages(steps)).toEqual([2000, 2050, 2100]);
    expect(lowestVoltage(steps, 2050)).toMatchObject({ value: 0.95, beyond: false });
    expect(lowestVoltage(steps, 2000)).toMatchObject({ value: 0.9, beyond: true });
    expect(lowestVoltage(steps, 2150)).toBeNull();
  });
});

describe('clocks that are known to a step', () => {
  it.each([0.05, 0.3, 1])('have intervals that hold where mounts scatter by %f steps', (share) => {
    const random = seededRandom(19);
    const size = 50;
    let missed = 0;
    const draws = 400;
    for (let t = 0; t < draws; t++) {
      const truths = [2000 + 200 * random.uniform(), 2000 + 200 * random.uniform()];
      const rows = truths.flatMap((m, i) =>
        [1, 2, 3, 4].map((mount) => ({
          specimen: String(i),
          mount: String(mount),
          value: Math.floor((m + share * size * random.normal()) / size) * size,
        })),
      );
      const shared = { se: size / Math.sqrt(12), df: 10_000 };
      const { pairs } = analyse(rows, {
        ...{ outcome: 'highest_clock', margin: 25, chances: false, outlook: false, default_mount_sd: 0 },
        shared_errors: { 0: shared, 1: shared },
      });
      const [low, high] = pairs[0].ci ?? [0, 0];
      const truth = (truths[0] - truths[1]) * (pairs[0].a === '0' ? 1 : -1);
      if (truth < low || truth > high) missed++;
    }
    expect(missed / draws).toBeLessThan(0.05);
  });
  it('tell nothing of one mount each, whose scatter nobody knows', () => {
    const rows = [
      { specimen: 'A', mount: '1', value: 2000 },
      { specimen: 'B', mount: '1', value: 2300 },
    ];
    const shared = { se: 14.4, df: 10_000 };
    const { pairs } = analyse(rows, { outcome: 'highest_clock', default_mount_sd: 0, shared_errors: { A: shared, B: shared } });
    expect(pairs[0]).toMatchObject({ verdict: 'unresolved', ci: null });
  });
});
