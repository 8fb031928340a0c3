import type { ScatterSchool } from '../compare/types';
import { dunnettDistribution } from '../stats/distributions/dunnett';
import { studentizedRangeQuantile } from '../stats/distributions/studentizedRange';
import { leastDifference, type MountsNeeded, mountsNeeded, type PairPlan } from './pairPower';
import { tiedPower } from './tiedPower';
import type { PlannedComparison } from './types';

/** What a number of mounts per specimen can tell. */
export interface CurvePoint {
  mounts: number;
  school: ScatterSchool;
  /** least difference found with the wanted power, K */
  detectable_k: number;
  /** chance that two equal specimens are called tied */
  equivalence_power: number;
}

/** Pairs that are judged together. */
export function pairsOfFamily(specimens: number, family: 'all' | 'reference'): number {
  return family === 'all' ? (specimens * (specimens - 1)) / 2 : specimens - 1;
}

/** Standard deviation of a mount value: the mount's own scatter and its runs' averaged one. */
export function mountValueSd({ mount_sd, run_sd, runs }: Pick<PlannedComparison, 'mount_sd' | 'run_sd' | 'runs'>): number {
  return Math.sqrt(mount_sd * mount_sd + (run_sd * run_sd) / runs);
}

/** Scatter school that the comparison will use for a number of mounts. */
export function schoolFor(mounts: number, scatter: PlannedComparison['scatter']): ScatterSchool {
  return scatter === 'auto' ? (mounts < 4 ? 'pooled' : 'separate') : scatter;
}

/**
 * One pair of the family. The level is shared out by Bonferroni, which is a little conservative; the rehearsal shows the exact procedure.
 */
export function pairPlan(plan: PlannedComparison, school: ScatterSchool): PairPlan {
  const alpha = (1 - plan.confidence) / pairsOfFamily(plan.specimens, plan.family);
  return { sd: mountValueSd(plan), alpha, df: school === 'pooled' ? (n) => plan.specimens * (n - 1) : (n) => 2 * (n - 1) };
}

/** What a number of mounts per specimen, at least 2, can tell. */
export function curvePoint(plan: PlannedComparison, mounts: number): CurvePoint {
  const school = schoolFor(mounts, plan.scatter);
  const pair = pairPlan(plan, school);
  const df = pair.df(mounts);
  return {
    mounts,
    school,
    detectable_k: leastDifference(pair, mounts, plan.power),
    equivalence_power: tiedPower(pair.sd * Math.sqrt(2 / mounts), df, simultaneousCritical(plan, df), plan.margin),
  };
}

/** The curve over 2 … most mounts per specimen. */
export function mountsCurve(plan: PlannedComparison, most = 12): CurvePoint[] {
  return Array.from({ length: most - 1 }, (_, i) => curvePoint(plan, i + 2));
}

/**
 * Mounts per specimen to find a difference as large as the margin. With the `auto` school the number is judged by the school that
 * will judge it; pooling needs no more mounts than separate scatter, so the first that serves is the least.
 */
export function mountsForMargin(plan: PlannedComparison): MountsNeeded | null {
  if (plan.scatter !== 'auto') return mountsNeeded(pairPlan(plan, plan.scatter), plan.margin, plan.power);
  const few = mountsNeeded(pairPlan(plan, 'pooled'), plan.margin, plan.power);
  return few && few.n < 4 ? few : mountsNeeded(pairPlan(plan, 'separate'), plan.margin, plan.power);
}

/** Half width of the family's simultaneous interval in standard errors. */
function simultaneousCritical(plan: PlannedComparison, df: number): number {
  if (plan.family === 'all') return studentizedRangeQuantile(plan.confidence, plan.specimens, df) / Math.SQRT2;
  const lambda = Array.from({ length: plan.specimens - 1 }, () => Math.SQRT1_2);
  return dunnettDistribution(lambda).quantile(plan.confidence, df);
}
