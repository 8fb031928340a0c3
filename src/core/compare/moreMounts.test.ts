import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { analyse } from './analyse';

/** Mounts whose mean and standard deviation are as given, to the last digit. */
function exactly(n: number, mean: number, sd: number): number[] {
  const raw = Array.from({ length: n }, (_, i) => i - (n - 1) / 2);
  const scale = sd / Math.sqrt(raw.reduce((sum, v) => sum + v * v, 0) / (n - 1));
  return raw.map((v) => mean + scale * v);
}

const rows = (groups: Record<string, number[]>) =>
  Object.entries(groups).flatMap(([specimen, values]) => values.map((value, i) => ({ specimen, mount: String(i + 1), value })));
const pairOf = (groups: Record<string, number[]>, options = {}) =>
  analyse(rows(groups), { margin: 1, scatter: 'pooled', chances: false, ...options }).pairs[0];

describe('further mounts that settle a pair with 80 % chance', () => {
  it.each([
    [4, 0.7, 0.5, 9],
    [3, 0.7, 0.5, 10],
    [5, 0.5, 0.5, 3],
    // 7 give 80.2 %: 400,000 drawn studies agree
    [4, 0.7, 0.25, 7],
    [4, 0.7, 1, 3],
    [4, 0.7, 0, 6],
  ])('%i mounts each, scatter %f K, %f K apart: %i more', (n, sd, apart, more) => {
    const pair = pairOf({ A: exactly(n, 40, sd), B: exactly(n, 40 + apart, sd) });
    expect(pair.verdict).toBe('unresolved');
    expect(pair.more_mounts).toBe(more);
    expect(pair.sentence).toContain(`about ${more} more mounts each would settle it`);
  });

  it.each(['pooled', 'separate', 'strict'] as const)('so many more do settle 80 %% of drawn studies, one fewer does not: %s', (scatter) => {
    const settled = (groups: Record<string, number[]>, more: number) => {
      const random = seededRandom(7);
      let count = 0;
      for (let k = 0; k < 600; k++) {
        const grown = Object.fromEntries(
          Object.entries(groups).map(([name, values]) => {
            const mean = values.reduce((a, b) => a + b, 0) / values.length;
            return [name, [...values, ...Array.from({ length: more }, () => mean + SD[name] * random.normal())]];
          }),
        );
        if (pairOf(grown, { scatter }).verdict !== 'unresolved') count++;
      }
      return count / 600;
    };
    const SD: Record<string, number> = { A: 0.8, B: 0.4, C: 0.6 };
    const groups = { A: exactly(4, 40, SD.A), B: exactly(5, 40.9, SD.B), C: exactly(4, 45, SD.C) };
    if (scatter === 'pooled') for (const name of ['A', 'B']) SD[name] = 0.6;
    const even = scatter === 'pooled' ? { A: exactly(4, 40, 0.6), B: exactly(5, 40.9, 0.6), C: groups.C } : groups;
    const more = pairOf(even, { scatter }).more_mounts as number;
    expect(more).toBeGreaterThan(1);
    expect(settled(even, more)).toBeGreaterThan(0.75);
    expect(settled(even, more - 1)).toBeLessThan(0.85);
  });

  it('says where thirty would not do, and counts on no mounts of a state that cannot come back', () => {
    const far = pairOf({ A: exactly(3, 40, 3), B: exactly(3, 40.9, 3) });
    expect(far.more_mounts).toBeNull();
    expect(far.sentence).toContain('more than 30 more mounts of each would be needed to settle it');
    // what the mounts share is not taken away by more of them
    const shared = pairOf(
      { A: exactly(4, 40, 0.7), B: exactly(4, 41, 0.7) },
      { shared_errors: { A: { se: 0.8, df: 40 }, B: { se: 0.8, df: 40 } } },
    );
    expect(shared.verdict).toBe('unresolved');
    expect(shared.more_mounts).toBeNull();
  });
});
