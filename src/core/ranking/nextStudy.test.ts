import { describe, expect, it } from 'vitest';
import { through } from './evidence';
import { rankedPairs, rankingGroups } from './groups';
import { nextStudies, openPairs } from './nextStudy';
import { rankMaterials } from './rankMaterials';
import type { RankingRow } from './types';

const row = (setup: string, material: string, mean: number, variance = 0.2): RankingRow => ({ setup, material, mean, variance });
/** A and B are compared through R alone; both lie far below it, and so does C beside them. */
const rows = [
  ...[row('S1', 'R', 20), row('S1', 'A', 10)],
  ...[row('S2', 'R', 30), row('S2', 'B', 20.4)],
  ...[row('S3', 'R', 40), row('S3', 'A', 30.2), row('S3', 'C', 55)],
  ...[row('S4', 'R', 20), row('S4', 'B', 10.6), row('S4', 'C', 35.3)],
];
const ranking = rankMaterials(rows, 'R');

describe('what a ranking leaves open', () => {
  it('are the pairs that share the leading letter', () => {
    expect(rankingGroups(ranking)).toEqual(
      new Map([
        ['A', 'a'],
        ['B', 'a'],
        ['R', 'b'],
        ['C', 'c'],
      ]),
    );
    expect(openPairs(ranking)).toEqual([['A', 'B']]);
    expect(rankedPairs(ranking).every((p) => p.p_adjusted >= p.p)).toBe(true);
  });

  it('is told with what it is compared through', () => {
    expect(through(rows, 'A', 'R')).toEqual([]);
    expect(through(rows, 'A', 'B')).toHaveLength(1);
    expect(through([...rows, row('S9', 'X', 1)], 'A', 'X')).toBeNull();
  });
});

describe('the next study', () => {
  const question = {
    ranking,
    candidates: ['A', 'B', 'C', 'R'],
    pairs: openPairs(ranking),
    setups: [
      { name: 'S1', mount_sd: 0.5 },
      { name: 'new', mount_sd: 0.5 },
    ],
    ...{ mounts: 4, hours: 20, hours_per_mount: 1 },
  };

  it('puts side by side what nobody measured side by side', () => {
    const [first, second] = nextStudies(question);
    expect(first.materials).toEqual(expect.arrayContaining(['A', 'B']));
    expect(first.after).toBeLessThan(first.before);
    expect(first.after).toBeLessThanOrEqual(second.after);
    expect(first.most).toMatchObject({ a: 'A', b: 'B' });
    // the interval becomes narrower as the root of its variance
    expect(first.most.share).toBeCloseTo(Math.sqrt(first.after / first.before), 12);
  });

  it('fits into the hours: a set more than there is time for is not told, at the hour it is', () => {
    const sizes = (hours: number) => nextStudies({ ...question, hours }, 1000).map((s) => s.materials.length);
    expect(Math.max(...sizes(8))).toBe(2);
    expect(Math.max(...sizes(11.9))).toBe(2);
    expect(Math.max(...sizes(12))).toBe(3);
    expect(nextStudies({ ...question, hours: 7.9 })).toEqual([]);
    expect(nextStudies({ ...question, pairs: [] })).toEqual([]);
  });

  it('gains by a set-up measured again only what its mounts scatter, by a new one what leads differ by too', () => {
    const noisy = rankMaterials(
      rows.map((r, i) => ({ ...r, mean: r.mean + (i % 3) * 1.5, variance: 0.01 })),
      'R',
    );
    expect(noisy.tau).toBeGreaterThan(0.5);
    const of = (name: string, materials: string[]) =>
      nextStudies({ ...question, ranking: noisy, pairs: [['A', 'R']], setups: [{ name, mount_sd: 0.1 }], candidates: materials }, 1)[0];
    // S1 has both already, and surely
    expect(of('S1', ['A', 'R']).after / of('S1', ['A', 'R']).before).toBeGreaterThan(0.95);
    expect(of('new', ['A', 'R']).after / of('new', ['A', 'R']).before).toBeLessThan(0.75);
  });

  it('finds by exchange what trying all finds, where both can be done', () => {
    const many = Array.from({ length: 14 }, (_, i) => [row(`S${i % 3}`, `M${i}`, 10 + i), row(`S${(i + 1) % 3}`, `M${i}`, 20 + i)]).flat();
    const large = rankMaterials(many, 'M0');
    const asked = {
      ...question,
      ranking: large,
      pairs: [['M3', 'M7']] as [string, string][],
      hours: 8,
      setups: [{ name: 'new', mount_sd: 0.3 }],
    };
    const [exchanged] = nextStudies({ ...asked, candidates: large.design.materials });
    const [tried] = nextStudies({ ...asked, candidates: large.design.materials.slice(0, 12) });
    expect(exchanged.materials.sort()).toEqual(['M3', 'M7']);
    expect(exchanged.after).toBeCloseTo(tried.after, 10);
  });
});
