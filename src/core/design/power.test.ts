import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { expectWithin, vectors } from '../../../tests/vectors.ts';
import { type Equivalence, twoOneSidedTests } from './equivalence';
import { headroom } from './headroom';
import { curvePoint, mountsCurve, mountsForMargin, pairPlan, tiedPower } from './mountsCurve';
import { leastDifference, mountsNeeded, pairPower } from './pairPower';
import { comparisonFindings } from './planFindings';
import { obrienFlemingSpending, planLooks } from './spending';
import type { PlannedComparison } from './types';

const PLAN: PlannedComparison = {
  specimens: 8,
  runs: 3,
  mount_sd: 0.5,
  run_sd: 0.15,
  margin: 1,
  confidence: 0.95,
  family: 'all',
  scatter: 'auto',
  power: 0.8,
};

describe('power against values from other software', () => {
  type Grid = Record<string, number>;
  const file = vectors<{ kind: string; grid: Grid[] }, { grid: Grid[] }>('power');
  const pairs = (g: Grid) => (g.k ? (g.k * (g.k - 1)) / 2 : 1);
  const plan = (g: Grid) => ({ sd: g.sd, alpha: g.alpha / pairs(g), df: (n: number) => 2 * (n - 1) });
  const kinds: Record<string, (g: Grid) => unknown> = {
    power: (g) => ({ power: pairPower((g.delta / g.sd) * Math.sqrt(g.n / 2), 2 * g.n - 2, g.alpha) }),
    sample_size: (g) => mountsNeeded(plan(g), g.delta, g.power),
    sample_size_pairs: (g) => ({ pairs: pairs(g), alpha_per_pair: plan(g).alpha, ...mountsNeeded(plan(g), g.delta, g.power) }),
    least_difference: (g) => ({ delta: leastDifference(plan(g), g.n, g.power) }),
    least_difference_pairs: (g) => ({ pairs: pairs(g), alpha_per_pair: plan(g).alpha, delta: leastDifference(plan(g), g.n, g.power) }),
  };
  const cases = file.cases.filter((c) => c.input.kind in kinds);
  it('knows every kind but the distribution function, which is tested beside it', () => {
    expect(file.cases.filter((c) => !cases.includes(c)).map((c) => c.input.kind)).toEqual(['noncentral_t_cdf']);
  });
  it.each(cases)('$name', ({ input, expected }) => {
    expectWithin(input.grid.map(kinds[input.kind]), expected.grid, file.tolerance, ['grid']);
  });
});

describe('equivalence against values from other software', () => {
  const file = vectors<{ a: number[]; b: number[]; margin: number; alpha: number }, Record<string, unknown>>('equivalence');
  it.each(file.cases)('$name', ({ input, expected }) => {
    const { ci, ...rest }: Equivalence = twoOneSidedTests(input.a, input.b, input.margin, input.alpha);
    expectWithin({ ...rest, ci90: ci }, expected, file.tolerance);
  });
  it('judges specimens without any spread by their difference, and refuses one mount each', () => {
    expect(twoOneSidedTests([3, 3], [3.5, 3.5], 1, 0.05)).toMatchObject({ equivalent: true, df: null, p: 0 });
    expect(twoOneSidedTests([3, 3], [5, 5], 1, 0.05)).toMatchObject({ equivalent: false, p: 1, p_upper: 0, p_lower: 1 });
    expect(() => twoOneSidedTests([3], [5], 1, 0.05)).toThrow('two mounts');
  });
});

describe('the chance to call equal specimens tied', () => {
  it('is what drawing them says', () => {
    const random = seededRandom(11);
    const [n, sd, margin, critical, df] = [6, 0.5, 1, 2.4, 10];
    let tied = 0;
    const draws = 40_000;
    for (let i = 0; i < draws; i++) {
      const d = sd * Math.sqrt(2 / n) * random.normal();
      let chi = 0;
      for (let j = 0; j < df; j++) chi += random.normal() ** 2;
      const half = critical * sd * Math.sqrt(chi / df) * Math.sqrt(2 / n);
      if (Math.abs(d) < half && Math.abs(d) + half < margin) tied++;
    }
    expect(tiedPower(sd * Math.sqrt(2 / n), df, critical, margin)).toBeCloseTo(tied / draws, 2);
  });
});

describe('the curve of mounts', () => {
  it('answers both ways: the mounts needed find the margin, one fewer do not', () => {
    fc.assert(
      fc.property(
        fc.record({
          specimens: fc.integer({ min: 2, max: 12 }),
          runs: fc.integer({ min: 1, max: 5 }),
          mount_sd: fc.double({ min: 0.1, max: 2, noNaN: true }),
          margin: fc.double({ min: 0.5, max: 4, noNaN: true }),
          family: fc.constantFrom('all' as const, 'reference' as const),
          scatter: fc.constantFrom('pooled' as const, 'separate' as const),
          power: fc.constantFrom(0.8, 0.9),
        }),
        (drawn) => {
          const plan = { ...PLAN, ...drawn };
          const needed = mountsForMargin(plan);
          expect(needed).not.toBeNull();
          if (!needed) return;
          expect(curvePoint(plan, needed.n).detectable_k).toBeLessThanOrEqual(plan.margin * (1 + 1e-6));
          if (needed.n > 2) expect(curvePoint(plan, needed.n - 1).detectable_k).toBeGreaterThan(plan.margin);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('falls with mounts within a school, and says where the automatic school changes', () => {
    const curve = mountsCurve({ ...PLAN, scatter: 'pooled' });
    expect(curve.map((p) => p.mounts)).toEqual([2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
    for (let i = 1; i < curve.length; i++) {
      expect(curve[i].detectable_k).toBeLessThan(curve[i - 1].detectable_k);
      expect(curve[i].equivalence_power).toBeGreaterThan(curve[i - 1].equivalence_power);
    }
    expect(mountsCurve(PLAN, 5).map((p) => p.school)).toEqual(['pooled', 'pooled', 'separate', 'separate']);
  });
  it('takes fewer mounts against the reference than for all pairs', () => {
    expect(curvePoint({ ...PLAN, family: 'reference' }, 5).detectable_k).toBeLessThan(curvePoint(PLAN, 5).detectable_k);
    expect(pairPlan({ ...PLAN, family: 'reference' }, 'pooled').alpha).toBeCloseTo(0.05 / 7, 12);
  });
  it('finds say when the margin is out of reach, with the number that would do', () => {
    const [finding] = comparisonFindings(PLAN, 5);
    expect(finding).toMatchObject({ code: 'margin_out_of_reach', nearest: '11 mounts each find 1 K.' });
    expect(comparisonFindings({ ...PLAN, scatter: 'pooled' }, 11)).toEqual([]);
    expect(comparisonFindings(PLAN, 1)[0].code).toBe('one_mount');
  });
});

describe('spending of error', () => {
  // two-sided 0.05, equally spaced looks: Reboussin, DeMets, Kim & Lan, Controlled Clinical Trials 21 (2000) 190–207, and Proschan, Lan &
  // Wittes,
  // Statistical Monitoring of Clinical Trials (2006), O'Brien–Fleming-type spending function
  it.each([
    [2, [2.9626, 1.9686]],
    [3, [3.7103, 2.5114, 1.993]],
    [4, [4.3326, 2.9631, 2.359, 2.0141]],
    [5, [4.8769, 3.3569, 2.6803, 2.2898, 2.031]],
  ])('meets the published bounds of %i looks', (count, bounds) => {
    const looks = planLooks(
      Array.from({ length: count }, (_, i) => (i + 1) / count),
      0.05,
    );
    looks.forEach((l, i) => {
      expect(Math.abs(l.critical_z - bounds[i])).toBeLessThan(1.5e-4);
    });
    expect(looks.at(-1)?.spent).toBeCloseTo(0.05, 9);
  });
  it('keeps the error when studies are drawn and stopped at its bounds', () => {
    const looks = planLooks([0.3, 0.65, 1], 0.1);
    const random = seededRandom(5);
    const draws = 40_000;
    let stopped = 0;
    for (let i = 0; i < draws; i++) {
      let sum = 0;
      let before = 0;
      for (const look of looks) {
        sum += Math.sqrt(look.fraction - before) * random.normal();
        before = look.fraction;
        if (Math.abs(sum) / Math.sqrt(look.fraction) > look.critical_z) {
          stopped++;
          break;
        }
      }
    }
    expect(Math.abs(stopped / draws - 0.1)).toBeLessThan(0.005);
  });
  it('spends nothing early and all at the end; looks must rise', () => {
    expect(obrienFlemingSpending(0.05, 0.05)).toBeLessThan(1e-9);
    expect(obrienFlemingSpending(1, 0.05)).toBe(0.05);
    expect(planLooks([1], 0.05)[0].critical_z).toBeCloseTo(1.959964, 5);
    expect(() => planLooks([0.5, 0.5], 0.05)).toThrow('rising');
    expect(() => planLooks([0.5, 1.2], 0.05)).toThrow('rising');
  });
});

describe('headroom', () => {
  it('keeps the worst specimen 5 K below the limit in the warmest room', () => {
    const h = headroom({
      worst_k_per_w: 0.4,
      specimens: [{ specimen: 'Slip Felt 0.5', k_per_w: 0.4 }],
      warmest_c: 27,
      limit_c: 92,
      load_w: 140,
    });
    expect(h.highest_load_w).toBeCloseTo(150, 10);
    expect(h.worst_c).toBeCloseTo(83, 10);
    expect(h.readings).toEqual([{ specimen: 'Slip Felt 0.5', sensor_c: 83, rise_k: 56, below_limit_k: 9 }]);
    expect(headroom({ worst_k_per_w: 0.4, specimens: [], warmest_c: 90, limit_c: 92, load_w: null }).highest_load_w).toBe(0);
  });
});
