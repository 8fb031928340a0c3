import { studentizedRangeQuantile, studentizedRangeUpperTail } from '../stats/distributions/studentizedRange';
import { tTwoSided } from '../stats/distributions/t';
import type { OneWayFit, SpecimenGroup } from './oneWay';
import type { PairTest } from './types';

/** All pairs in the order of the groups, a before b. */
export function pairsOf<T>(items: T[]): [T, T][] {
  return items.flatMap((a, i) => items.slice(i + 1).map((b): [T, T] => [a, b]));
}

/** One pair judged on the studentised range of k means, given its standard error and degrees of freedom. */
export function rangePair(a: SpecimenGroup, b: SpecimenGroup, se: number, df: number | null, k: number, critical: (df: number) => number): PairTest {
  const difference = a.offset - b.offset;
  const names = { a: a.specimen, b: b.specimen, difference, se };
  if (se === 0 || df === null) {
    const p = difference === 0 ? 1 : 0;
    return { ...names, df, p, p_adjusted: p, ci: [difference, difference] };
  }
  const q = (Math.abs(difference) / se) * Math.SQRT2;
  const half = (critical(df) * se) / Math.SQRT2;
  return {
    ...names,
    df,
    p: tTwoSided(difference / se, df),
    p_adjusted: studentizedRangeUpperTail(q, k, df),
    ci: [difference - half, difference + half],
  };
}

/**
 * All pairs on the pooled scatter: Tukey–Kramer, exact for equal numbers of mounts and slightly conservative otherwise
 * (Hayter 1984). Empty without residual degrees of freedom.
 */
export function tukeyKramer(fit: OneWayFit, confidence: number): PairTest[] {
  const { sd, df, groups } = fit;
  if (sd === null) return [];
  const q = studentizedRangeQuantile(confidence, groups.length, df);
  return pairsOf(groups).map(([a, b]) => rangePair(a, b, sd * Math.sqrt(1 / a.n + 1 / b.n), df, groups.length, () => q));
}

/** Standard error and Welch–Satterthwaite degrees of freedom of a difference; null where a specimen has one mount. */
export function welch(a: SpecimenGroup, b: SpecimenGroup): { se: number; df: number | null } | null {
  if (a.sd === null || b.sd === null) return null;
  const va = (a.sd * a.sd) / a.n;
  const vb = (b.sd * b.sd) / b.n;
  if (va + vb === 0) return { se: 0, df: null };
  const df = (va + vb) ** 2 / ((va * va) / (a.n - 1) + (vb * vb) / (b.n - 1));
  return { se: Math.sqrt(va + vb), df };
}

/**
 * All pairs, each specimen with its own scatter: Games & Howell (1976). k is the number of all specimens.
 * A pair with a specimen of one mount is null.
 */
export function gamesHowell(fit: OneWayFit, confidence: number): (PairTest | null)[] {
  const k = fit.groups.length;
  return pairsOf(fit.groups).map(([a, b]) => {
    const scatter = welch(a, b);
    return scatter && rangePair(a, b, scatter.se, scatter.df, k, (df) => studentizedRangeQuantile(confidence, k, df));
  });
}
