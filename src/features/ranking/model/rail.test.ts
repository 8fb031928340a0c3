import { describe, expect, it } from 'vitest';
import { addressOf, choiceOf, materialAddress } from './choiceAddress';
import { claimsOf } from './claims';
import { filtered, NO_FILTER } from './filters';
import { networkLines } from './network';
import type { RailMaterial } from './placeTypes';
import { answerRanking } from './rankingAnswer';
import { AREA_SCALED, headlineOf, isMoreCareful } from './rankingWords';

const material = (name: string, difference: number, over: Partial<RailMaterial> = {}): RailMaterial => ({
  ...{
    a: name,
    b: 'R',
    material: name,
    name,
    difference,
    se: 1,
    ci95: [difference - 2, difference + 2],
    prediction95: null,
    shown95: null,
  },
  ...{ shared_setups: 1, setups: 3, mounts: 9, through: null, group: '', material_id: 1, kind: 'paste', conducts: false, permanent: false },
  ...{ cost: 1, currency: 'EUR', price_on: null, claimed_w_per_mk: null, bond_line_um: null, newest_s: 1_780_000_000, ...over },
});
const row = (setup: string, name: string, mean: number, mounts = 5) => ({
  setup,
  material: name,
  mean,
  variance: 0.2,
  mounts,
  basis: 'own' as const,
});

describe('an interval of few degrees of freedom', () => {
  it('is told to be the more careful one where it is wider than what another set-up would show, and not where it is as wide', () => {
    // as two set-ups with three materials gave them
    const told = material('A', -5.8, { ci95: [-11.8, 0.2], shown95: [-8.7, -2.9] });
    expect(isMoreCareful(told)).toBe(true);
    expect(isMoreCareful({ ...told, shown95: [-11.8, 0.2] })).toBe(false);
    expect(isMoreCareful({ ...told, shown95: null })).toBe(false);
  });
});

describe('filters of the rail', () => {
  const now = 1_780_000_000;
  it('hide what fails, keep what the shelf does not say, and count that', () => {
    const all = [
      material('A', 0),
      material('B', 1, { conducts: true }),
      material('C', 2, { conducts: null }),
      material('D', 3, { cost: 5 }),
    ];
    const names = (f: Partial<typeof NO_FILTER>) => {
      const { shown, unsaid } = filtered(all, { ...NO_FILTER, ...f }, now);
      return [shown.map((m) => m.name).join(''), unsaid];
    };
    expect(names({})).toEqual(['ABCD', 0]);
    expect(names({ conducts: 'no' })).toEqual(['ACD', 1]);
    expect(names({ most_cost: 4.99 })).toEqual(['ABC', 0]);
    expect(names({ most_cost: 5 })).toEqual(['ABCD', 0]);
    expect(names({ kind: 'pad' })).toEqual(['', 0]);
  });

  it('take what was measured within the years, to the second', () => {
    const year = 365.25 * 86_400;
    const all = [material('A', 0, { newest_s: now - year }), material('B', 0, { newest_s: now - year - 1 })];
    expect(filtered(all, { ...NO_FILTER, within_years: 1 }, now).shown.map((m) => m.name)).toEqual(['A']);
  });
});

describe('claims', () => {
  it('are bounded by what a material resists more than the best, which is taken at its word', () => {
    // the best: 20 µm at 10 W/(m·K) are 2 mm²·K/W; another 8 more, so 10 over 50 µm: at most 5 W/(m·K)
    const [best, other] = claimsOf([
      material('Best', 0, { claimed_w_per_mk: 10, bond_line_um: 20, ci95: [0, 0] }),
      material('Other', 8, { claimed_w_per_mk: 9, bond_line_um: 50, ci95: [6, 10] }),
    ]);
    expect(best.at_most).toBeNull();
    expect(other.at_most).toBeCloseTo(5, 12);
    expect(other.at_most_high).toBeCloseTo(50 / 8, 12);
    expect(claimsOf([material('A', 0), material('B', 3, { claimed_w_per_mk: 4 })])).toEqual([]);
  });
});

describe('the network', () => {
  it('has a line for every pair that shares a set-up, the heaviest as one', () => {
    const lines = networkLines([row('S1', 'A', 1), row('S1', 'B', 2), row('S2', 'A', 1), row('S2', 'B', 2), row('S2', 'C', 3)], 0);
    expect(lines.map((l) => [l.a, l.b, l.setups.length, l.weight])).toEqual([
      ['A', 'B', 2, 1],
      ['A', 'C', 1, 0.5],
      ['B', 'C', 1, 0.5],
    ]);
  });
});

describe('what the ranking says first', () => {
  const names = { A: 'Ash', B: 'Birch', C: 'Cedar' };
  const told = (rows: ReturnType<typeof row>[], reference = 'A') => headlineOf(answerRanking({ rows, reference }), names, AREA_SCALED);
  const three = ['S1', 'S2', 'S3'].flatMap((s, i) => [row(s, 'A', 20 + i), row(s, 'B', 10 + i + 0.2 * i), row(s, 'C', 10.6 + i)]);

  it('is who leads and by how much, or that it is not distinguishable', () => {
    expect(told(three).claim).toMatch(/^Birch leads: (9|10)\.\d mm²·K\/W below Ash \(95 % \d+\.\d to \d+\.\d\)\.$/);
    expect(told(three).basis).toMatch(/^Not distinguishable from it: Cedar\. 3 set-ups, 3 materials, 45 mounts\./);
    expect(told(three, 'B').claim).toMatch(/^Birch is first, but not distinguishable from Cedar: /);
  });

  it('says first that two set-ups, or one, tell little of another', () => {
    expect(told(three.filter((r) => r.setup !== 'S3')).basis).toContain('Fewer than three set-ups');
    expect(told(three.filter((r) => r.setup === 'S1')).basis).toContain('One set-up alone');
    expect(told([row('S1', 'A', 1)]).claim).toBe('Ash is the only material so far.');
  });

  it('has Student’s interval of the mounts with one set-up, wider than the normal one', () => {
    const answer = answerRanking({ rows: [row('S1', 'A', 20, 2), row('S1', 'B', 10, 2)], reference: 'A' });
    const [low, high] = answer.materials[0].ci95;
    // two degrees of freedom: 4.303 standard errors
    expect((high - low) / 2 / Math.sqrt(0.4)).toBeCloseTo(4.303, 3);
  });
});

describe('addresses', () => {
  it('come back as they were, say nothing of what is usual, and take no nonsense', () => {
    for (const choice of [
      { reference: null, lots: 'apart', labs: 'own', years: null },
      { reference: 'n:a & b|x', lots: 'together', labs: 'all', years: 2.5 },
    ] as const)
      expect(choiceOf(new URLSearchParams(addressOf(choice)))).toEqual(choice);
    expect(addressOf({ reference: null, lots: 'apart', labs: 'own', years: null })).toBe('');
    expect(choiceOf(new URLSearchParams('years=-1&labs=x&lots=y'))).toEqual({ reference: null, lots: 'apart', labs: 'own', years: null });
    expect(choiceOf(new URLSearchParams('years=51')).years).toBeNull();
    const said = new URL(materialAddress('m1|50 % & "x"', { reference: null, lots: 'apart', labs: 'all', years: null }), 'http://x')
      .searchParams;
    expect([said.get('material'), said.get('labs')]).toEqual(['m1|50 % & "x"', 'all']);
  });
});
