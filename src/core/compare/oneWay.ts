import { fUpperTail } from '#core/stats/distributions/f';
import { tQuantile } from '#core/stats/distributions/t';
import { mean, sumOfSquares } from '#core/stats/moments';
import type { MountValue, ScatterSchool } from './types';

export interface SpecimenGroup {
  specimen: string;
  mounts: string[];
  values: number[];
  /** positions of the mounts in the rows given */
  rows: number[];
  n: number;
  mean: number;
  /** mean less the fit's origin, free of the rounding of a large common part */
  offset: number;
  /** sum of squared deviations from the group's mean */
  ss: number;
  /** null for one mount */
  sd: number | null;
}

/** One-way model of mount values by specimen; specimens in the order of first appearance. */
export interface OneWayFit {
  /** one of the values; differences are taken from it */
  origin: number;
  groups: SpecimenGroup[];
  /** residual degrees of freedom */
  df: number;
  ss_within: number;
  /** pooled residual standard deviation, null without residual degrees of freedom */
  sd: number | null;
}

/** Fits value ~ specimen by centred sums. */
export function fitOneWay(rows: MountValue[]): OneWayFit {
  const origin = rows.length > 0 ? rows[0].value : 0;
  const byName = new Map<string, { mounts: string[]; values: number[]; rows: number[] }>();
  for (const [index, row] of rows.entries()) {
    let group = byName.get(row.specimen);
    if (!group) {
      group = { mounts: [], values: [], rows: [] };
      byName.set(row.specimen, group);
    }
    group.mounts.push(row.mount);
    group.values.push(row.value);
    group.rows.push(index);
  }
  const groups = Array.from(byName, ([specimen, { mounts, values, rows: positions }]): SpecimenGroup => {
    const ss = sumOfSquares(values);
    const n = values.length;
    const offset = mean(values.map((v) => v - origin));
    return { specimen, mounts, values, rows: positions, n, mean: origin + offset, offset, ss, sd: n > 1 ? Math.sqrt(ss / (n - 1)) : null };
  });
  const df = rows.length - groups.length;
  const ssWithin = groups.reduce((sum, g) => sum + g.ss, 0);
  return { origin, groups, df, ss_within: ssWithin, sd: df > 0 ? Math.sqrt(ssWithin / df) : null };
}

interface Anova {
  F: number;
  df1: number;
  df2: number;
  ss_between: number;
  ss_within: number;
  residual_sd: number;
  p: number;
}

/** Analysis of variance of a one-way fit; null without residual scatter or with one group. */
export function anova(fit: OneWayFit): Anova | null {
  const df1 = fit.groups.length - 1;
  if (df1 < 1 || fit.df < 1 || fit.ss_within === 0) return null;
  const total = fit.groups.reduce((n, g) => n + g.n, 0);
  const centre = fit.groups.reduce((sum, g) => sum + g.n * g.offset, 0) / total;
  const ssBetween = fit.groups.reduce((sum, g) => sum + g.n * (g.offset - centre) ** 2, 0);
  const F = ssBetween / df1 / (fit.ss_within / fit.df);
  return {
    F,
    df1,
    df2: fit.df,
    ss_between: ssBetween,
    ss_within: fit.ss_within,
    residual_sd: Math.sqrt(fit.ss_within / fit.df),
    p: fUpperTail(F, df1, fit.df),
  };
}

export interface SpecimenMean {
  specimen: string;
  n: number;
  mean: number;
  /** scatter of this specimen's own mounts */
  sd: number | null;
  se: number | null;
  df: number | null;
  ci: [number, number] | null;
}

/** Specimen means with t intervals, on the pooled or on each specimen's own scatter. */
export const specimenMeans = (fit: OneWayFit, school: ScatterSchool, confidence: number): SpecimenMean[] =>
  fit.groups.map((g) => {
    const sd = school === 'pooled' ? fit.sd : g.sd;
    const df = school === 'pooled' ? fit.df : g.n - 1;
    if (sd === null || df < 1) return { specimen: g.specimen, n: g.n, mean: g.mean, sd: g.sd, se: null, df: null, ci: null };
    const se = sd / Math.sqrt(g.n);
    const half = tQuantile((1 + confidence) / 2, df) * se;
    return { specimen: g.specimen, n: g.n, mean: g.mean, sd: g.sd, se, df, ci: [g.mean - half, g.mean + half] };
  });
