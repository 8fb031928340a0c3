import type { PairTest } from '#core/compare/types';
import { tCdf, tQuantile } from '#core/stats/distributions/t';
import { mean, variance } from '#core/stats/moments';

export interface Equivalence extends Pick<PairTest, 'difference' | 'se' | 'df' | 'p' | 'ci'> {
  t_lower: number;
  t_upper: number;
  p_lower: number;
  p_upper: number;
  equivalent: boolean;
}

/**
 * Are two specimens the same within a margin? Two one-sided Welch tests on mount values (Schuirmann 1987). For one pair alone; several
 * pairs at once are judged by their simultaneous intervals instead.
 * @param a mount values
 * @param b mount values
 * @param margin above 0, in the unit of the values
 * @throws RangeError where neither specimen has two mounts
 */
export function twoOneSidedTests(a: number[], b: number[], margin: number, alpha: number): Equivalence {
  const spread = (v: number[]) => (v.length > 1 ? variance(v) / v.length : Number.NaN);
  const va = spread(a);
  const vb = spread(b);
  if (Number.isNaN(va) && Number.isNaN(vb)) throw new RangeError('Equivalence needs two mounts of a specimen at least.');
  const origin = a[0] ?? b[0];
  const difference = mean(a.map((v) => v - origin)) - mean(b.map((v) => v - origin));
  const total = (va || 0) + (vb || 0);
  const se = Math.sqrt(total);
  if (se === 0) {
    const equivalent = Math.abs(difference) < margin;
    const p = equivalent ? 0 : 1;
    const t = (x: number) => (x === 0 ? 0 : x * Number.POSITIVE_INFINITY);
    const sides = {
      t_lower: t(difference + margin),
      t_upper: t(difference - margin),
      p_lower: difference > -margin ? 0 : 1,
      p_upper: difference < margin ? 0 : 1,
    };
    return { difference, se, df: null, ...sides, p, ci: [difference, difference], equivalent };
  }
  const df = total ** 2 / ((va || 0) ** 2 / Math.max(1, a.length - 1) + (vb || 0) ** 2 / Math.max(1, b.length - 1));
  const tLower = (difference + margin) / se;
  const tUpper = (difference - margin) / se;
  const pLower = tCdf(-tLower, df);
  const pUpper = tCdf(tUpper, df);
  const p = Math.max(pLower, pUpper);
  const half = tQuantile(1 - alpha, df) * se;
  return {
    ...{ difference, se, df, p },
    t_lower: tLower,
    t_upper: tUpper,
    p_lower: pLower,
    p_upper: pUpper,
    ci: [difference - half, difference + half],
    equivalent: p < alpha,
  };
}
