import type { EffectiveSize } from '#core/stats/autocorrelation';
import { effectiveSize } from '#core/stats/autocorrelation';
import { tQuantile } from '#core/stats/distributions/t';
import { fitLine } from '#core/stats/line';

export interface SlopeTest extends Pick<EffectiveSize, 'se' | 'n' | 'n_eff' | 'mean' | 'sd'> {
  /** K/min */
  slope: number;
  /** one-sided 95 % reach, t·SE, K/min */
  reach: number;
  /** pairs of autocorrelations that n_eff rests on */
  pairs: number;
  /** slope and its uncertainty together stay within the limit */
  steady: boolean;
}

/** Fewest samples a window is judged on. */
const FEWEST = 5;

/**
 * Is a window flat? Least-squares slope, its standard error times √(n/n_eff) of the residuals, and
 * steady where |slope| + t₀.₉₅·SE stays within the limit (df = max(1, n_eff − 2)).
 * @param t seconds
 * @param limit K/min
 * @returns null for fewer than five samples
 */
export function slopeTest(t: Float64Array, values: Float64Array, limit: number): SlopeTest | null {
  if (values.length < FEWEST) return null;
  const line = fitLine(t, values);
  if (!line || line.slope_se === null) return null;
  const size = effectiveSize(line.residuals);
  const slope = 60 * line.slope;
  const se = 60 * line.slope_se * Math.sqrt(values.length / size.n_eff);
  const reach = tQuantile(0.95, Math.max(1, size.n_eff - 2)) * se;
  return {
    ...{ slope, se, reach, n: values.length, n_eff: size.n_eff, pairs: size.pairs_used, mean: line.centre, sd: size.sd },
    steady: Math.abs(slope) + reach <= limit,
  };
}
