import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { findGaps, flagSpikes, isDead, isStuck } from './quality';

const series = (n: number, f: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => f(i));
const count = (flags: Uint8Array) => flags.reduce((n, f) => n + f, 0);

describe('spikes', () => {
  it('are flagged alone, up or down', () => {
    const flags = flagSpikes(
      series(100, (i) => (i === 30 ? 90 : i === 60 ? 0 : 60 + 0.1 * (i % 3))),
      0.1,
    );
    expect(flags[30] + flags[60]).toBe(2);
    expect(count(flags)).toBe(2);
  });
  it('are not the flanks of a load step', () => {
    expect(
      count(
        flagSpikes(
          series(200, (i) => (i < 80 ? 30 : 60 - 20 * Math.exp(-(i - 80) / 6))),
          0.1,
        ),
      ),
    ).toBe(0);
    expect(
      count(
        flagSpikes(
          series(200, (i) => (i < 80 ? 30 : 60)),
          0.1,
        ),
      ),
    ).toBe(0);
  });
  it('are not what noise and coarse steps make', () => {
    const random = seededRandom(4);
    expect(
      count(
        flagSpikes(
          series(2000, () => 60 + 0.15 * random.normal()),
          0.1,
        ),
      ),
    ).toBe(0);
    expect(
      count(
        flagSpikes(
          series(2000, () => Math.round(60.5 + 0.4 * random.normal())),
          1,
        ),
      ),
    ).toBe(0);
  });
  it('leave missing readings alone', () => {
    expect(
      count(
        flagSpikes(
          series(50, (i) => (i % 5 === 0 ? Number.NaN : 60)),
          0.1,
        ),
      ),
    ).toBe(0);
  });
});

describe('dead sensors', () => {
  it('show an impossible value most of the time', () => {
    expect(
      isDead(
        series(10, () => -127),
        () => 60,
      ),
    ).toBe(true);
    expect(
      isDead(
        series(10, () => 655.35),
        () => 60,
      ),
    ).toBe(true);
    expect(
      isDead(
        series(10, () => 0),
        () => 60,
      ),
    ).toBe(true);
  });
  it('are not those in a cold room, or with a few bad readings', () => {
    expect(
      isDead(
        series(10, () => 0),
        () => 2,
      ),
    ).toBe(false);
    expect(
      isDead(
        series(10, (i) => (i < 3 ? -127 : 60)),
        () => 60,
      ),
    ).toBe(false);
  });
});

describe('the six scaled deviations of a spike', () => {
  it('flag what lies just beyond them, and spare what lies just within', () => {
    // neighbours from 39 to 41 in steps of a half: median 40, MAD 0.5, so that the line runs at 40 ± 6 · 1.4826 · 0.5 = ± 4.45
    const spiked = (v: number) => Float64Array.from({ length: 41 }, (_, i) => (i === 20 ? v : 39 + (i % 5) / 2));
    expect(flagSpikes(spiked(44.6), 0.1)[20]).toBe(1);
    expect(flagSpikes(spiked(44.3), 0.1)[20]).toBe(0);
  });
});

describe('stuck sensors', () => {
  const t = series(600, (i) => i);
  const drive = { t, values: series(600, (i) => (i < 200 ? 12 : i < 400 ? 140 : 12)), period_s: 1 };
  it('hold one reading while the load changes', () => {
    expect(isStuck({ t, values: series(600, (i) => (i < 100 ? i : 55)) }, drive)).toBe(true);
    expect(isStuck({ t, values: series(600, (i) => (i < 300 ? 30 + i / 10 : 55)) }, drive)).toBe(true);
  });
  it('are not those that read the same on both sides of a gap', () => {
    const seen = Float64Array.from([...series(300, (i) => i), ...series(200, (i) => 400 + i)]);
    const values = seen.map((x) => (x < 300 ? 30 + x / 10 : x < 410 ? 59.9 : 45 - x / 100));
    const late = { t, values: series(600, (i) => (i < 200 ? 12 : i < 350 ? 140 : 12)), period_s: 1 };
    expect(isStuck({ t: seen, values }, late)).toBe(false);
    // without the gap the same readings are
    expect(isStuck({ t, values: t.map((x) => (x < 300 ? 30 + x / 10 : x < 410 ? 59.9 : 45 - x / 100)) }, late)).toBe(true);
  });
  it('are not those that rest between changes, or hold for a moment only', () => {
    expect(isStuck({ t, values: series(600, (i) => (i < 200 ? 30 : i < 400 ? 60 : 31)) }, drive)).toBe(false);
    expect(isStuck({ t, values: series(600, (i) => (i < 150 ? i : i < 230 ? 55 : i)) }, drive)).toBe(false);
  });
  it('cannot be told where the load never changes', () => {
    expect(isStuck({ t, values: series(600, () => 55) }, { t, values: series(600, () => 140), period_s: 1 })).toBe(false);
  });
});

describe('gaps', () => {
  it('are spans in which over three samples are missing', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), fc.constantFrom(0.5, 1, 2), (missing, period) => {
        const t = series(100, (i) => i * period);
        const values = series(100, (i) => (i >= 40 && i < 40 + missing ? Number.NaN : 60));
        expect(findGaps({ t, values, period_s: period })).toHaveLength(missing > 3 ? 1 : 0);
      }),
    );
  });
  it('count rows that are not there at all', () => {
    const t = Float64Array.of(0, 1, 2, 42, 43);
    expect(findGaps({ t, values: series(5, () => 60), period_s: 1 })).toEqual([{ start_s: 2, end_s: 42 }]);
  });
});
