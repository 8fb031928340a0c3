import { describe, expect, it } from 'vitest';
import { analyse } from '#core/compare/analyse';
import { seededRandom } from '#core/stats/random';
import { CONDITIONS, drawStudy } from './conditions';
import { count, empty, judged } from './tally';

const pair = { truth: 0, verdict: 'unresolved' as const, ci: [-1, 1] as [number, number], isFirstToLast: true };

describe('counting a study', () => {
  it('calls a direction false where nothing differs, and the wrong way where something does', () => {
    const t = empty();
    count(t, [{ ...pair, verdict: 'cooler', ci: [-2, -1] }], 1);
    count(t, [{ ...pair, truth: -3, verdict: 'warmer', ci: [1, 2] }], 1);
    count(t, [{ ...pair, truth: -3, verdict: 'cooler', ci: [-4, -2] }], 1);
    count(t, [pair, pair, pair], 1);
    expect(t).toMatchObject({ studies: 4, false_call: 2, covered: 2, intervals: 4, found: 1 });
  });
  it('counts a study once, however many of its pairs err', () => {
    const t = empty();
    count(
      t,
      [
        { ...pair, verdict: 'cooler' },
        { ...pair, verdict: 'warmer' },
      ],
      1,
    );
    expect(t.false_call).toBe(1);
  });
  it('calls a tie false only where the truth is the margin or more', () => {
    const t = empty();
    count(t, [{ ...pair, truth: 0.9, verdict: 'tied' }], 1);
    expect(t.false_tie).toBe(0);
    count(t, [{ ...pair, truth: -1, verdict: 'cooler_within_margin' }], 1);
    expect(t.false_tie).toBe(1);
  });
  it('does not count intervals that are not claimed', () => {
    const t = empty();
    count(t, [{ ...pair, ci: null }], 1);
    expect(t).toMatchObject({ studies: 1, intervals: 0, covered: 0 });
  });
});

describe('judges', () => {
  const of = (key: string) => CONDITIONS.find((c) => c.key === key) as (typeof CONDITIONS)[number];
  it('see the same pairs by their own schools, and only firm ones as calls', () => {
    const truth = new Map([
      ['S1', 40],
      ['S2', 40],
    ]);
    const rows = [40, 40.1, 39.9, 40, 42, 47, 41, 44].map((value, i) => ({ specimen: i < 4 ? 'S1' : 'S2', mount: String(i % 4), value }));
    const analysis = analyse(rows, { chances: false });
    const [pooled] = judged(analysis, 'pooled', truth);
    const [separate] = judged(analysis, 'separate', truth);
    expect(pooled.verdict).not.toBe(separate.verdict);
    expect(judged(analysis, 'firm', truth)[0].verdict).toBe('unresolved');
    expect(judged(analysis, 'default', truth)[0].verdict).toBe(separate.verdict);
  });
  it('are given studies as their condition says', () => {
    const random = seededRandom(2);
    const days = drawStudy(of('days_incomplete'), random);
    expect(days.length).toBe(4 * 6 * 3 - 6 * 3);
    const throttled = drawStudy(of('throttled'), random);
    expect(throttled.filter((r) => r.censored).every((r) => r.value >= 45 && r.valid === false)).toBe(true);
    expect(throttled.some((r) => r.censored)).toBe(true);
    expect(drawStudy(of('one_mount'), seededRandom(1))).toEqual(drawStudy(of('one_mount'), seededRandom(1)));
  });
});
