import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { analyse } from './analyse';
import { controlChart } from './controlChart';
import { differenceOfDifferences, loadDifferences } from './differenceOfDifferences';
import { exhaustRise, expectedExhaustRise } from './exhaust';
import { schoolNote } from './measuredLimits';
import { OUTCOMES, type OutcomeKey } from './outcomes';
import type { AnalysisRow } from './rows';
import { worthOf } from './worth';

const rows = (values: Record<string, number[]>, more: (specimen: string, i: number) => Partial<AnalysisRow> = () => ({})): AnalysisRow[] =>
  Object.entries(values).flatMap(([specimen, list]) =>
    list.map((value, i) => ({ specimen, mount: String(i + 1), value, ...more(specimen, i) })),
  );
const codes = (a: ReturnType<typeof analyse>) => a.findings.map((f) => f.code);
const plain = { chances: false };

describe('blocks', () => {
  const byDay = rows({ A: [40, 42.1, 44, 46.1], B: [41.1, 43, 45.2, 47], C: [40.4, 42.4, 44.6, 46.4] }, (_, i) => ({ day: `D${i}` }));
  it('take out days that differ far more than the specimens', () => {
    expect(analyse(byDay, plain).pairs.every((p) => p.verdict === 'unresolved')).toBe(true);
    expect(codes(analyse(byDay, plain))).toContain('days_differ');
    const blocked = analyse(byDay, { ...plain, block: 'day' });
    expect(codes(blocked)).not.toContain('days_differ');
    expect(blocked.pairs[0]).toMatchObject({ a: 'A', b: 'B', verdict: 'cooler', df: 6 });
    expect(blocked.scatter.school).toBe('pooled');
    expect(blocked.scatter.block_p).toBeLessThan(1e-6);
    expect(blocked.pairs[0].separate?.df).toBe(3);
  });
  it('against a reference follow Dunnett where all contrasts share one covariance', () => {
    const { pairs } = analyse(byDay, { ...plain, block: 'day', family: 'reference', reference: 'C' });
    const all = analyse(byDay, { ...plain, block: 'day' }).pairs;
    expect(pairs.map((p) => [p.a, p.b])).toEqual([
      ['A', 'C'],
      ['B', 'C'],
    ]);
    // two comparisons need less than three
    expect(pairs[0].p_adjusted).toBeLessThan(all.find((p) => p.a === 'A' && p.b === 'C')?.p_adjusted ?? 0);
    expect(pairs[0].p_adjusted).toBeGreaterThan(pairs[0].p as number);
  });
  it('leave out pairs that no chain of days links, and say so', () => {
    const apart = rows({ A: [40, 40.2], B: [41, 41.3], C: [45, 45.1] }, (s) => ({ day: s === 'C' ? 'D9' : 'D1' }));
    const result = analyse(apart, { ...plain, block: 'day' });
    expect(result.pairs.map((p) => p.a + p.b)).toEqual(['AB']);
    expect(codes(result)).toContain('day_confounded');
    expect(JSON.stringify(result)).not.toMatch(/NaN|Infinity/);
  });
  it('with one mount in each cell and no freedom left assume a scatter', () => {
    const result = analyse(
      rows({ A: [40], B: [43] }, () => ({ day: 'D1' })),
      { ...plain, block: 'day' },
    );
    expect(result.pairs[0]).toMatchObject({ firm: false, separate: null, df: 10 });
    expect(result.pairs[0].sentence).toMatch(/^Assuming/);
  });
  it('find an odd mount that its day hides', () => {
    const values = { A: [40, 42, 44, 46, 48, 50], B: [40.5, 42.4, 44.5, 46.6, 48.5, 50.4], C: [41, 43.1, 47.5, 47, 49, 51] };
    const odd = rows(values, (_, i) => ({ day: `D${i}` }));
    expect(analyse(odd, plain).odd_mounts).toEqual([]);
    expect(analyse(odd, { ...plain, block: 'day' }).odd_mounts).toEqual([expect.objectContaining({ specimen: 'C', mount: '3' })]);
  });
});

describe('two rigs', () => {
  const rig = (s: string) => ({ rig: s < 'C' ? 'North' : 'South' });
  it('that do not cross the specimens are not compared across', () => {
    const result = analyse(rows({ A: [40, 41], B: [42, 43], C: [50, 51], D: [52, 53] }, rig), plain);
    expect(result.pairs.map((p) => p.a + p.b)).toEqual(['AB', 'CD']);
    expect(result.findings).toContainEqual(
      expect.objectContaining({
        code: 'rig_confounded',
        severity: 'reject',
        message: expect.stringContaining('A, B on North; C, D on South'),
      }),
    );
  });
  it('linked by one specimen are', () => {
    const linked = [...rows({ A: [40, 41], B: [42, 43], C: [50, 51] }, rig), { specimen: 'A', mount: '3', value: 45, rig: 'South' }];
    expect(analyse(linked, { ...plain, block: 'rig' }).pairs).toHaveLength(3);
    expect(codes(analyse(linked, plain))).not.toContain('rig_confounded');
  });
});

describe('a state that cannot be remounted', () => {
  const runs = (specimen: string, mount: string, values: number[]): AnalysisRow[] =>
    values.map((value, i) => ({ specimen, mount, run: String(i + 1), value }));
  const data = [
    ...runs('Before', '1', [50, 50.2, 50.1]),
    ...runs('After', '1', [44, 44.2]),
    ...runs('After', '2', [45, 45.2]),
    ...runs('After', '3', [44.4, 44.5]),
  ];
  const result = analyse(data, { ...plain, fixed_states: ['Before'] });
  it('carries the scatter of its runs alone, the other that of its mounts', () => {
    const [pair] = result.pairs;
    // run scatter 0.1225 on 5 degrees of freedom over 3 runs; mounts 44.1, 45.1, 44.45 scatter by 0.508
    expect(pair.pooled?.se).toBeCloseTo(Math.sqrt(0.013 / 3 + 0.2575 / 3), 2);
    expect(pair.pooled?.df).toBeCloseTo(2.2, 0);
    expect(pair).toMatchObject({ verdict: 'warmer', firm: true });
    expect(pair.sentence).toMatch(/3 mounts of After, 3 runs of Before as it was\); firm\.$/);
    expect(codes(result)).toContain('fixed_state');
    expect(codes(result)).not.toContain('one_mount');
  });
  it('has an interval of its own', () => {
    expect(result.specimens.find((s) => s.specimen === 'Before')?.ci?.[0]).toBeGreaterThan(49.8);
  });
  it('with one run has no scatter, and stays a single mount', () => {
    const single = analyse(
      [
        { specimen: 'Before', mount: '1', value: 50 },
        { specimen: 'After', mount: '1', value: 44 },
      ],
      { ...plain, fixed_states: ['Before'] },
    );
    expect(codes(single)).toContain('one_mount');
    expect(single.pairs[0].firm).toBe(false);
  });
});

describe('mounts that throttled', () => {
  const hot: AnalysisRow = { specimen: 'Hot', mount: '9', value: 60, valid: false, censored: true, reason: 'throttled' };
  it('let stand only what a higher value would make stronger', () => {
    const result = analyse([...rows({ Cool: [40, 40.3, 40.1], Hot: [45, 45.2, 44.9] }), hot], plain);
    expect(result.pairs[0]).toMatchObject({ a: 'Cool', b: 'Hot', verdict: 'cooler', throttled: ['Hot'] });
    expect(result.pairs[0].sentence).toMatch(
      /^Cool runs at least 4\.\d K cooler than Hot \(95 %, 3 mounts each\); Hot throttled in some mounts; firm\.$/,
    );
    expect(codes(result)).toContain('partly_throttled');
  });
  it('make a tie or a lead of the throttled one untold', () => {
    for (const values of [
      { Cool: [44.9, 45.2, 45], Hot: [45, 45.2, 44.9] },
      { Cool: [48, 48.2, 48.1], Hot: [45, 45.2, 44.9] },
    ]) {
      const [pair] = analyse([...rows(values), hot], plain).pairs;
      expect(pair).toMatchObject({ verdict: 'unresolved', more_mounts: null });
      expect(pair.sentence).toContain('Compare K/W');
    }
  });
});

describe('one mount', () => {
  it('borrows the scatter of the lab where that rests on ten degrees of freedom, and says so', () => {
    const borrow = (df: number) =>
      analyse(rows({ A: [40], B: [42] }), {
        ...plain,
        default_mount_sd: 0.5,
        borrowed: { A: { sd: 0.3, df, from: 'this lab’s own' }, B: { sd: 0.2, df, from: 'this lab’s own' } },
      });
    expect(borrow(12).pairs[0].sentence).toMatch(/^Assuming a mount-to-mount scatter of 0\.30 K \(this lab’s own\)/);
    expect(borrow(12).pairs[0].df).toBe(12);
    expect(borrow(6).pairs[0].sentence).toMatch(/^Assuming a mount-to-mount scatter of 0\.50 K:/);
  });
});

describe('words of outcomes', () => {
  const said = (outcome: OutcomeKey, a: number[], b: number[]) =>
    analyse(rows({ A: a, B: b }), { ...plain, outcome, margin: OUTCOMES[outcome].margin }).pairs[0];
  it('tell the better side in its own words', () => {
    expect(said('clock', [2000, 2001, 2002], [2100, 2101, 2102]).sentence).toMatch(/^B clocks 100 MHz higher than A \(95 % 9\d to 10\d/);
    expect(said('noise', [30, 30.1, 30.2], [34, 34.1, 34.2]).sentence).toMatch(/^A is 4\.0 dB\(A\) quieter than B/);
    expect(said('r_k_per_w', [0.3, 0.301, 0.302], [0.35, 0.351, 0.352]).sentence).toMatch(/^A has 0\.050 K\/W less resistance than B/);
    expect(said('score', [1000, 1001, 1003], [900, 902, 901]).sentence).toMatch(/^A scores 100 points more than B/);
  });
  it('call a direction by the number, whichever is better, and letter the best first', () => {
    const clocks = analyse(rows({ Slow: [2000, 2001, 2002], Fast: [2100, 2101, 2102] }), {
      ...plain,
      outcome: 'clock',
      margin: 25,
      chances: true,
    });
    expect(clocks.pairs[0].verdict).toBe('cooler');
    expect(clocks.specimens.map((s) => [s.specimen, s.group])).toEqual([
      ['Slow', 'b'],
      ['Fast', 'a'],
    ]);
    expect(clocks.specimens[1].chance_coolest).toBeGreaterThan(0.99);
  });
});

describe('what is measured of the schools', () => {
  it('is told where a study is of the kind that fails', () => {
    const random = seededRandom(3);
    const eight = rows(
      Object.fromEntries(Array.from({ length: 8 }, (_, i) => [`S${i}`, Array.from({ length: 5 }, () => 40 + 0.5 * random.normal())])),
    );
    expect(codes(analyse(eight, plain))).toContain('many_for_separate');
    expect(codes(analyse(eight, { ...plain, scatter: 'pooled' }))).not.toContain('many_for_separate');
    const unlike = rows({ A: [40, 40.01, 40.02, 39.99, 40.01], B: [40, 44, 37, 42, 38], C: [41, 41.01, 41.02, 40.98, 41] });
    expect(codes(analyse(unlike, { ...plain, scatter: 'pooled' }))).toContain('unequal_scatter');
    for (const school of ['auto', 'pooled', 'separate', 'strict'] as const) expect(schoolNote(school)).toMatch(/Firm verdicts.*%/);
  });
  it('warns of mounts added after a look with the measured rate', () => {
    const result = analyse(rows({ A: [40, 41], B: [42, 43] }), { ...plain, unplanned_look: 3 });
    expect(result.findings.find((f) => f.code === 'unplanned_look')?.message).toMatch(
      /shown at 3 mounts.*from [45]\.?\d* % to 1\d\.?\d* %/,
    );
  });
  it('mounts that all read the same are told as a want of resolution', () => {
    const same = analyse(rows({ A: [40, 40], B: [41, 41] }), plain);
    expect(codes(same)).toContain('no_scatter');
    expect(same.pairs[0]).toMatchObject({ verdict: 'unresolved', firm: false, ci: null });
    expect(same.pairs[0].sentence).toBe(
      'A and B read 1.0 K apart (2 mounts each), and all mounts of each read the same to the last digit: no interval can be given; a finer reading would show the scatter.',
    );
  });
});

describe('difference of differences', () => {
  it('of loads drops what a mount has in common with itself', () => {
    const idle = rows({ R: [30, 33, 31], A: [28, 31, 29] });
    const full = rows({ R: [60, 63, 61], A: [52, 55, 53] });
    const { pairs } = analyse(loadDifferences(full, idle), { ...plain, reference: 'R', family: 'reference' });
    expect(pairs[0]).toMatchObject({ a: 'A', b: 'R', difference: -6 });
  });
  it('of devices adds their errors', () => {
    const d = differenceOfDifferences({ difference: -5, se: 0.3, df: 8 }, { difference: -2, se: 0.4, df: 8 }, 0.95);
    expect(d).toMatchObject({ value: -3, se: 0.5 });
    expect(d.df).toBeCloseTo(0.5 ** 4 / (0.3 ** 4 / 8 + 0.4 ** 4 / 8), 9);
    expect(d.ci[1]).toBeLessThan(0);
    expect(differenceOfDifferences({ difference: 1, se: 0, df: null }, { difference: 1, se: 0, df: null }, 0.95).p).toBe(1);
  });
});

describe('control chart', () => {
  it('finds the value beyond the limits, a row on one side, and a drift', () => {
    const at = (values: number[]) => controlChart(values.map((value, t) => ({ t, value })));
    expect(at([41, 41.2, 40.9, 41.1, 44, 41, 41.2, 40.8, 41, 41.1])?.beyond).toEqual([4]);
    expect(at([40, 40.1, 40, 40.1, 40, 40.1, 40, 40.1, 42, 42, 42, 42, 42, 42, 42, 42])?.one_sided.length).toBeGreaterThan(0);
    expect(at([40, 40.52, 40.98, 41.5, 42.03])?.drift?.ci[0]).toBeGreaterThan(0.4);
    expect(at([40])).toBeNull();
    expect(at([40, 41])?.drift).toBeNull();
  });
});

describe('worth', () => {
  it('marks what nothing beats in both price and value', () => {
    const list = worthOf(
      [
        { specimen: 'R', cost: 2, value: 41 },
        { specimen: 'Dear', cost: 9, value: 38 },
        { specimen: 'Poor', cost: 5, value: 42 },
        { specimen: 'Cheap', cost: 1, value: 43 },
      ],
      'R',
    );
    expect(list.map((w) => w.efficient)).toEqual([true, true, false, true]);
    expect(list[1].gain_per_money).toBeCloseTo(3 / 7, 12);
    expect(list[2].gain_per_money).toBeNull();
    // where more is better the same figures turn
    const scores = worthOf(
      [
        { specimen: 'R', cost: 2, value: 41 },
        { specimen: 'Dear', cost: 9, value: 38 },
        { specimen: 'More', cost: 4, value: 45 },
      ],
      'R',
      'higher',
    );
    expect(scores.map((w) => [w.gain, w.efficient])).toEqual([
      [0, true],
      [-3, false],
      [4, true],
    ]);
  });
});

describe('exhaust air', () => {
  it('carries the power', () => {
    // 140 W into 10 l/s of air: 11.8 K
    expect(exhaustRise(140, 0.01)).toBeCloseTo(11.75, 1);
    expect(expectedExhaustRise({ rise_k: 12, power_w: 120, fan_rpm: 1000 }, { power_w: 140, fan_rpm: 1200 })).toBeCloseTo(
      12 * (140 / 120) * (1000 / 1200),
      12,
    );
    expect(expectedExhaustRise({ rise_k: 12, power_w: 120, fan_rpm: 0 }, { power_w: 140, fan_rpm: 1200 })).toBeNull();
  });
});
