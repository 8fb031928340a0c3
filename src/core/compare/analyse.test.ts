import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { analyse } from './analyse';
import { chanceCoolest } from './chanceCoolest';
import { OUTCOMES } from './outcomes';
import type { AnalysisRow } from './rows';
import { verdictOf, verdictSentence } from './verdict';

const rows = (values: Record<string, number[]>): AnalysisRow[] =>
  Object.entries(values).flatMap(([specimen, list]) => list.map((value, i) => ({ specimen, mount: String(i + 1), value })));

describe('verdicts', () => {
  it.each([
    [[-2.7, -1.1], 'cooler'],
    [[1.1, 2.7], 'warmer'],
    [[-0.8, -0.1], 'cooler_within_margin'],
    [[0.1, 0.8], 'warmer_within_margin'],
    [[-0.8, 0.7], 'tied'],
    [[-1.2, 0.3], 'unresolved'],
    [[-1, 0.9], 'unresolved'],
    [[-1.2, -0.1], 'cooler'],
  ] as [[number, number], string][])('of %j within 1 K is %s', (ci, verdict) => {
    expect(verdictOf(ci, 1)).toBe(verdict);
  });
});

describe('sentences', () => {
  const base = {
    a: 'Wick 60',
    b: 'Loam White',
    difference: -1.9,
    ci: [-2.7, -1.1] as [number, number],
    confidence: 0.95,
    verdict: 'cooler' as const,
    firm: true,
    mounts: [5, 5] as [number, number],
    margin: 1,
    outcome: OUTCOMES.rise,
    more_mounts: 0,
  };
  it.each([
    [{}, 'Wick 60 runs 1.9 K cooler than Loam White (95 % 1.1 to 2.7, 5 mounts each); firm.'],
    [
      { a: 'Loam White', b: 'Wick 60', difference: 1.9, ci: [1.1, 2.7], verdict: 'warmer' },
      'Wick 60 runs 1.9 K cooler than Loam White (95 % 1.1 to 2.7, 5 mounts each); firm.',
    ],
    [
      { firm: false, mounts: [3, 5] },
      'Wick 60 runs 1.9 K cooler than Loam White (95 % 1.1 to 2.7, 3 mounts of Wick 60, 5 of Loam White); depends on the method.',
    ],
    [
      { verdict: 'tied', difference: -0.2, ci: [-0.7, 0.3] },
      'Wick 60 and Loam White are equivalent within ±1 K: 0.2 K apart (95 % −0.3 to 0.7, 5 mounts each); firm.',
    ],
    [
      { verdict: 'unresolved', difference: -0.6, ci: [-1.21, 0.01], more_mounts: 4 },
      'Wick 60 and Loam White are not distinguishable: 0.6 K apart (95 % −0.01 to 1.21, 5 mounts each); about 4 more mounts each would settle it, whatever the method.',
    ],
    [
      { verdict: 'cooler_within_margin', difference: -0.4, ci: [-0.7, -0.1] },
      'Wick 60 runs 0.4 K cooler than Loam White (95 % 0.1 to 0.7, 5 mounts each), less than the 1 K that matters; firm.',
    ],
    [
      { mounts: [1, 1], assumed: { sd: 0.5, flips_at: 0.71 } },
      'Assuming a mount-to-mount scatter of 0.50 K: Wick 60 runs 1.9 K cooler than Loam White (95 % 1.1 to 2.7, 1 mount each). It would flip at a scatter of 0.71 K.',
    ],
  ])('%#', (change, sentence) => {
    expect(verdictSentence({ ...base, ...change } as Parameters<typeof verdictSentence>[0])).toBe(sentence);
  });
});

describe('one mount each', () => {
  const result = analyse(rows({ A: [40], B: [44] }), { default_mount_sd: 0.5 });
  it('gives a verdict that says what it assumes, never a firm one', () => {
    const [pair] = result.pairs;
    expect(pair).toMatchObject({ verdict: 'cooler', firm: false, separate: null });
    expect(pair.df).toBe(10);
    expect(pair.sentence).toMatch(/^Assuming a mount-to-mount scatter of 0\.50 K: A runs 4\.0 K cooler than B/);
    expect(result.specimens[0]).toMatchObject({ mounts: 1, se: null, ci: null });
  });
  it('flips where it says it flips', () => {
    const flip = Number(/at a scatter of ([\d.]+) K/.exec(result.pairs[0].sentence)?.[1]);
    const at = (sd: number) => analyse(rows({ A: [40], B: [44] }), { default_mount_sd: sd }).pairs[0].verdict;
    expect(at(flip - 0.02)).toBe('cooler');
    expect(at(flip + 0.02)).not.toBe('cooler');
  });
  it("uses the study's own scatter once that rests on four degrees of freedom", () => {
    const { pairs } = analyse(rows({ A: [40, 40.3, 39.9], B: [42, 42.4, 41.9], C: [44] }));
    const withC = pairs.find((p) => p.b === 'C');
    expect(withC?.df).toBe(4);
    expect(withC?.sentence).toMatch(/^Assuming a mount-to-mount scatter of 0\.2/);
  });
});

describe('odd studies', () => {
  it('runs are averaged within their mount and never counted as mounts', () => {
    const result = analyse([
      { specimen: 'A', mount: '1', run: '1', value: 40 },
      { specimen: 'A', mount: '1', run: '2', value: 42 },
      { specimen: 'A', mount: '2', run: '1', value: 43 },
    ]);
    expect(result.specimens[0]).toMatchObject({ mounts: 2, runs: 3, mean: 42 });
  });
  it('mounts equal to the last digit give no interval, no p and no verdict, and say why', () => {
    const result = analyse(rows({ A: [40, 40, 40], B: [40, 40, 40], C: [42, 42, 42] }));
    for (const p of result.pairs) {
      expect(p).toMatchObject({ verdict: 'unresolved', ci: null, p: null, p_adjusted: null, firm: false, more_mounts: null });
      expect(p.sentence).toContain('read the same to the last digit: no interval can be given');
    }
    expect(result.specimens.map((s) => s.ci)).toEqual([null, null, null]);
    expect(JSON.stringify(result)).not.toMatch(/NaN|Infinity/);
  });
  it('an odd mount is found, kept and told', () => {
    const result = analyse(rows({ A: [40, 40.2, 39.9, 40.1, 46], B: [42, 42.2, 41.9, 42.1, 42] }));
    expect(result.odd_mounts).toEqual([expect.objectContaining({ specimen: 'A', mount: '5' })]);
    expect(result.findings.map((f) => f.code)).toContain('odd_mount');
    expect(result.specimens[0].mounts).toBe(5);
  });
  it('a reference without a valid mount is told, and the rest still compared', () => {
    const result = analyse([
      { specimen: 'R', mount: '1', value: 60, valid: false, reason: 'throttled' },
      ...rows({ A: [40, 41], B: [44, 45] }),
    ]);
    expect(result.findings.map((f) => f.code)).toEqual(['excluded_mounts', 'reference_missing']);
    expect(result.pairs).toHaveLength(1);
  });
  it('pooled while any specimen has under four mounts, separate from then on', () => {
    expect(analyse(rows({ A: [40, 41, 40, 41], B: [44, 45, 44] })).scatter.school).toBe('pooled');
    expect(analyse(rows({ A: [40, 41, 40, 41], B: [44, 45, 44, 45] })).scatter.school).toBe('separate');
  });
});

describe('chance of being coolest', () => {
  const mean = (m: number, se: number | null = 0.3) => ({
    specimen: `S${m}`,
    n: 5,
    mean: m,
    sd: 0.6,
    se,
    df: se === null ? null : 4,
    ci: null,
  });
  it('is even between equals, near certain far apart, and repeats', () => {
    for (const shared of [true, false]) {
      const [a, b] = chanceCoolest([mean(40), mean(40)], shared);
      expect(a).toBeCloseTo(0.5, 1);
      expect((a ?? 0) + (b ?? 0)).toBeCloseTo(1, 10);
      expect(chanceCoolest([mean(40), mean(45)], shared)[0]).toBeGreaterThan(0.99);
      expect(chanceCoolest([mean(40), mean(40.3)], shared)).toEqual(chanceCoolest([mean(40), mean(40.3)], shared));
    }
  });
  it('follows the t distribution of the difference between two means', () => {
    // P(T > d/√2·se) for pooled scatter with 4 degrees of freedom and d = 0.6, se = 0.3: t = 1.4142, P = 0.1151
    expect(chanceCoolest([mean(40), mean(40.6)], true)[1]).toBeCloseTo(0.115, 2);
  });
  it('is not asked of a verdict that one of the three methods does not give', () => {
    const groups = { A: [40, 40.25, 40.5], B: [40.95, 41.2, 41.45], C: [45, 45.3, 45.5], D: [47, 47.2, 47.5], E: [50, 50.3, 50.4] };
    const pair = analyse(rows(groups), { chances: false }).pairs[0];
    expect([pair.pooled?.verdict, pair.separate?.verdict, pair.strict?.verdict]).toEqual(['cooler', 'cooler', 'unresolved']);
    expect(pair.firm).toBe(false);
    expect(analyse(rows(groups), { chances: false }).pairs[1].firm).toBe(true);
  });
  it('is told of nobody where one has no distribution', () => {
    expect(chanceCoolest([mean(40), mean(39, null)], true)).toEqual([null, null]);
    const [one, two] = analyse([...rows({ A: [40, 40.2, 39.9, 40.1] }), ...rows({ B: [39] })]).specimens;
    // a single mount enters with the scatter that its pairs are judged by, so that the better one leads
    expect(two.chance_coolest).toBeGreaterThan(one.chance_coolest as number);
  });
  it('knows no scatter between mounts where no specimen has two', () => {
    const runs = [40, 40.1, 40.2].map((value, i) => ({ specimen: 'A', mount: '1', run: String(i), value }));
    const told = analyse([...runs, ...runs.map((r) => ({ ...r, specimen: 'B' }))]).scatter;
    expect(told).toMatchObject({ mount_sd: null, mount_limit: null });
    expect(told.run_sd).toBeCloseTo(0.1, 9);
  });
});

describe('error rate', () => {
  it('of eight equal specimens hardly ever one is called cooler', () => {
    const random = seededRandom(5);
    const studies = 400;
    let wrong = 0;
    for (let i = 0; i < studies; i++) {
      const values = Object.fromEntries(
        Array.from({ length: 8 }, (_, s) => [`S${s}`, Array.from({ length: 3 }, () => 40 + 0.5 * random.normal())]),
      );
      if (analyse(rows(values), { chances: false }).pairs.some((p) => /cooler|warmer/.test(p.verdict))) wrong++;
    }
    // 5 % nominal: up to 8 % is within three standard errors of 400 studies
    expect(wrong / studies).toBeLessThan(0.083);
    expect(wrong / studies).toBeGreaterThan(0.018);
  });
});
