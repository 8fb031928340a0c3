import { tQuantile, tTwoSided } from '#core/stats/distributions/t';
import { mean, sumOfSquares } from '#core/stats/moments';
import { addErrors } from './sharedError';
import type { SharedError } from './types';

/** Mount values of one combination of two factors' levels. */
export interface FactorCell {
  /** level of the first factor, such as a heatsink */
  a: string;
  /** level of the second, such as a fan */
  b: string;
  values: number[];
  /** error that all mounts of the cell share, such as that of the curve on which they are read */
  shared?: SharedError;
}

/** One contrast of the cells' means. */
export interface Effect {
  /** main effect of either factor, or their interaction */
  kind: 'a' | 'b' | 'interaction';
  /** the two levels compared, first minus second; for an interaction those of factor a */
  levels: [string, string];
  /** for an interaction: the levels of factor b over which the difference changes */
  over?: [string, string];
  value: number;
  se: number;
  df: number;
  ci: [number, number];
  p: number;
}

interface FactorialOptions {
  confidence: number;
  /** one scatter for all cells, or each its own with Satterthwaite's degrees of freedom */
  scatter: 'pooled' | 'separate';
}

/**
 * Main effects and interactions of two crossed factors, as contrasts of the cells' means: a main effect is the mean difference of two
 * levels over all levels of the other factor, each weighing the same; an interaction is a difference of differences. Each interval holds by
 * itself. What the mounts of a cell share is added to its error (Welch–Satterthwaite). (Montgomery, Design and Analysis of Experiments, ch.
 * 5; unequal numbers by unweighted means.)
 * @returns null where a combination has no mount, a factor has one level, or no cell has two mounts
 */
export function factorialEffects(cells: FactorCell[], { confidence, scatter }: FactorialOptions): Effect[] | null {
  const as = [...new Set(cells.map((c) => c.a))];
  const bs = [...new Set(cells.map((c) => c.b))];
  const cell = (a: string, b: string) => cells.find((c) => c.a === a && c.b === b && c.values.length > 0);
  if (as.length < 2 || bs.length < 2 || as.some((a) => bs.some((b) => !cell(a, b)))) return null;
  const stats = cells.map((c) => ({ ...c, n: c.values.length, mean: mean(c.values), ss: sumOfSquares(c.values) }));
  const df = stats.reduce((sum, c) => sum + c.n - 1, 0);
  if (df < 1) return null;
  const pooled = stats.reduce((sum, c) => sum + c.ss, 0) / df;
  const own = scatter === 'separate' && stats.every((c) => c.n > 1);
  const contrast = (weight: (c: FactorCell) => number): Pick<Effect, 'value' | 'se' | 'df' | 'ci' | 'p'> => {
    const parts = stats.map((c) => ({ w: weight(c), n: c.n, mean: c.mean, shared: c.shared, variance: own ? c.ss / (c.n - 1) : pooled }));
    const value = parts.reduce((sum, p) => sum + p.w * p.mean, 0);
    const ofMounts = parts.map((p) => ({ se: Math.sqrt((p.w * p.w * p.variance) / p.n), df: own ? p.n - 1 : df }));
    const scattered = own ? ofMounts : [{ se: Math.hypot(...ofMounts.map((m) => m.se)), df }];
    const all = addErrors(
      [...scattered, ...parts.map((p) => ({ se: Math.abs(p.w) * (p.shared?.se ?? 0), df: p.shared?.df ?? 1 }))].filter((e) => e.se > 0),
    );
    const { se } = all;
    const effective = all.df ?? df;
    const half = se === 0 ? 0 : tQuantile((1 + confidence) / 2, effective) * se;
    const p = se === 0 ? (value === 0 ? 1 : 0) : tTwoSided(Math.abs(value) / se, effective);
    return { value, se, df: effective, ci: [value - half, value + half], p };
  };
  const pairs = (levels: string[]) => levels.flatMap((x, i) => levels.slice(i + 1).map((y): [string, string] => [x, y]));
  const sign = (level: string, [x, y]: [string, string]) => (level === x ? 1 : level === y ? -1 : 0);
  return [
    ...pairs(as).map((levels): Effect => ({ kind: 'a', levels, ...contrast((c) => sign(c.a, levels) / bs.length) })),
    ...pairs(bs).map((levels): Effect => ({ kind: 'b', levels, ...contrast((c) => sign(c.b, levels) / as.length) })),
    ...pairs(as).flatMap((levels) =>
      pairs(bs).map((over): Effect => ({ kind: 'interaction', levels, over, ...contrast((c) => sign(c.a, levels) * sign(c.b, over)) })),
    ),
  ];
}
