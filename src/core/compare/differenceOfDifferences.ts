import { tQuantile, tTwoSided } from '#core/stats/distributions/t';
import { type AnalysisRow, mountValues } from './rows';
import type { MountValue } from './types';

/** A difference with its error. */
interface Difference {
  difference: number;
  se: number;
  df: number | null;
}

interface DifferenceOfDifferences {
  value: number;
  se: number;
  df: number | null;
  ci: [number, number];
  p: number;
}

/**
 * Did a change help one more than the other? First difference less the second, of two devices or rigs measured independently
 * (Welch–Satterthwaite).
 */
export function differenceOfDifferences(first: Difference, second: Difference, confidence: number): DifferenceOfDifferences {
  const value = first.difference - second.difference;
  const parts = [first, second].map((d) => ({ v: d.se ** 2, df: d.df }));
  const total = parts[0].v + parts[1].v;
  const shares = parts.reduce((sum, p) => sum + (p.df === null ? 0 : p.v ** 2 / p.df), 0);
  const df = total === 0 || shares === 0 ? null : total ** 2 / shares;
  if (df === null) return { value, se: Math.sqrt(total), df, ci: [value, value], p: value === 0 ? 1 : 0 };
  const se = Math.sqrt(total);
  const half = tQuantile((1 + confidence) / 2, df) * se;
  return { value, se, df, ci: [value - half, value + half], p: tTwoSided(Math.abs(value) / se, df) };
}

/**
 * Each mount's value under one load less its value under another: what the mount has in common with itself drops out, so that a comparison
 * of these is the difference of differences between specimens.
 * @returns one value for each mount that has both
 */
export function loadDifferences(first: AnalysisRow[], second: AnalysisRow[]): MountValue[] {
  const usable = (rows: AnalysisRow[]) => mountValues(rows.filter((r) => r.valid !== false && r.excluded !== true));
  const other = new Map(usable(second).map((m) => [JSON.stringify([m.specimen, m.mount]), m.value]));
  return usable(first).flatMap((m) => {
    const value = other.get(JSON.stringify([m.specimen, m.mount]));
    return value === undefined ? [] : [{ ...m, value: m.value - value }];
  });
}
