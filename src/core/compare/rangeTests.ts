import { studentizedRangeQuantile, studentizedRangeUpperTail } from '../stats/distributions/studentizedRange';
import type { OneWayFit } from './oneWay';
import { judgePair, welch, type Yardstick } from './pairTest';
import type { PairTest } from './types';

/** All pairs in the order of the groups, a before b. */
export function pairsOf<T>(items: T[]): [T, T][] {
  return items.flatMap((a, i) => items.slice(i + 1).map((b): [T, T] => [a, b]));
}

/** Yardstick of all pairs among k means: the studentised range. */
export function rangeYardstick(k: number, confidence: number): Yardstick {
  return {
    critical: (df) => studentizedRangeQuantile(confidence, k, df) / Math.SQRT2,
    adjusted: (t, df) => studentizedRangeUpperTail(t * Math.SQRT2, k, df),
  };
}

/**
 * All pairs on the pooled scatter: Tukey–Kramer, exact for equal numbers of mounts and slightly conservative otherwise
 * (Hayter 1984). Empty without residual degrees of freedom.
 */
export function tukeyKramer(fit: OneWayFit, confidence: number): PairTest[] {
  const { sd, df, groups } = fit;
  if (sd === null) return [];
  const range = rangeYardstick(groups.length, confidence);
  const critical = range.critical(df);
  return pairsOf(groups).map(([a, b]) => judgePair(a, b, sd * Math.sqrt(1 / a.n + 1 / b.n), df, { ...range, critical: () => critical }));
}

/**
 * All pairs, each specimen with its own scatter: Games & Howell (1976). k is the number of all specimens.
 * A pair with a specimen of one mount is null.
 */
export function gamesHowell(fit: OneWayFit, confidence: number): (PairTest | null)[] {
  const range = rangeYardstick(fit.groups.length, confidence);
  return pairsOf(fit.groups).map(([a, b]) => {
    const scatter = welch(a, b);
    return scatter && judgePair(a, b, scatter.se, scatter.df, range);
  });
}
