import { chooseSchool } from '#core/compare/measuredLimits';
import type { ScatterSchool } from '#core/compare/types';
import { dunnettDistribution } from '#core/stats/distributions/dunnett';
import { normalCdf } from '#core/stats/distributions/normal';
import { scaleNodes } from '#core/stats/distributions/scaleQuadrature';
import { maximumModulus } from '#core/stats/distributions/studentizedMaximumModulus';
import { studentizedRangeQuantile } from '#core/stats/distributions/studentizedRange';
import { leastDifference, type MountsNeeded, mountsNeeded, type PairPlan } from './pairPower';
import type { PlannedComparison } from './types';

/** What a number of mounts per specimen can tell. */
export interface CurvePoint {
  mounts: number;
  school: ScatterSchool;
  /** detectable difference with the wanted power, K */
  detectable_k: number;
  /** chance that two equal specimens are called tied */
  equivalence_power: number;
}

/** Pairs that are judged together. */
export const pairsOfFamily = (specimens: number, family: 'all' | 'reference'): number =>
  family === 'all' ? (specimens * (specimens - 1)) / 2 : specimens - 1;

/** Standard deviation of a mount value: the mount's own scatter and its runs' averaged one. */
const mountValueSd = ({ mount_sd, run_sd, runs }: Pick<PlannedComparison, 'mount_sd' | 'run_sd' | 'runs'>): number =>
  Math.sqrt(mount_sd * mount_sd + (run_sd * run_sd) / runs);

/** Scatter school that the comparison will use for a number of mounts. */
export const schoolFor = (mounts: number, { scatter, family, specimens, one_kind = true }: PlannedComparison): ScatterSchool =>
  chooseSchool(scatter, { blocked: false, family, one_kind, specimens, fewest: mounts });

/**
 * One pair of the family. The level is shared out by Bonferroni, which is a little conservative; the rehearsal shows the exact procedure.
 */
export function pairPlan(plan: PlannedComparison, school: ScatterSchool): PairPlan {
  const alpha = (1 - plan.confidence) / pairsOfFamily(plan.specimens, plan.family);
  return { sd: mountValueSd(plan), alpha, df: school === 'pooled' ? (n) => plan.specimens * (n - 1) : (n) => 2 * (n - 1) };
}

/** What a number of mounts per specimen, at least 2, can tell. */
export function curvePoint(plan: PlannedComparison, mounts: number): CurvePoint {
  const school = schoolFor(mounts, plan);
  const pair = pairPlan(plan, school);
  const df = pair.df(mounts);
  return {
    mounts,
    school,
    detectable_k: leastDifference(pair, mounts, plan.power),
    equivalence_power: tiedPower(pair.sd * Math.sqrt(2 / mounts), df, simultaneousCritical(plan, school, df), plan.margin),
  };
}

/** The curve over 2 … most mounts per specimen. */
export const mountsCurve = (plan: PlannedComparison, most = 12): CurvePoint[] =>
  Array.from({ length: most - 1 }, (_, i) => curvePoint(plan, i + 2));

/**
 * Mounts per specimen to find a difference as large as the margin, by the school that will judge so many; pooling, which judges few mounts
 * where the choice is left open, needs no more of them than separate scatter, so the first that serves is the least.
 * @example mountsForMargin({ specimens: 8, runs: 3, mount_sd: 0.5, run_sd: 0.15, margin: 1, confidence: 0.95, … })?.n
 */
export function mountsForMargin(plan: PlannedComparison): MountsNeeded | null {
  const [few, more] = [3, 4].map((n) => schoolFor(n, plan));
  const first = few === more ? null : mountsNeeded(pairPlan(plan, few), plan.margin, plan.power);
  return first && first.n < 4 ? first : mountsNeeded(pairPlan(plan, more), plan.margin, plan.power);
}

/** Half width of the family's simultaneous interval in standard errors. */
function simultaneousCritical(plan: PlannedComparison, school: ScatterSchool, df: number): number {
  if (school === 'strict' && plan.family === 'all')
    return maximumModulus(pairsOfFamily(plan.specimens, 'all')).quantile(plan.confidence, df);
  if (plan.family === 'all') return studentizedRangeQuantile(plan.confidence, plan.specimens, df) / Math.SQRT2;
  const lambda = Array.from({ length: plan.specimens - 1 }, () => Math.SQRT1_2);
  return dunnettDistribution(lambda).quantile(plan.confidence, df);
}

/**
 * Chance that two specimens with no true difference are called `tied`: the simultaneous interval lies inside ±margin and holds zero.
 *
 * Given the scale S of the scatter the half width is h = c·S·se, and the observed difference must keep |d| below both h and margin − h.
 * @param se true standard error of the difference, σ·√(2/n)
 * @param df degrees of freedom of the scatter
 * @param critical half width of the simultaneous interval in standard errors
 * @param margin smallest difference that matters, in the unit of se
 */
export function tiedPower(se: number, df: number, critical: number, margin: number): number {
  const { scale, weight } = scaleNodes(df, 0.004);
  let chance = 0;
  for (let i = 0; i < scale.length; i++) {
    const half = critical * scale[i];
    const room = Math.min(half, margin / se - half);
    if (room > 0) chance += weight[i] * (2 * normalCdf(room) - 1);
  }
  return chance;
}
