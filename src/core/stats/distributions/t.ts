import cdf from '@stdlib/stats-base-dists-t-cdf';
import quantile from '@stdlib/stats-base-dists-t-quantile';

/** P(T ≤ x) for Student's t with df (real, above 0) degrees of freedom. */
export function tCdf(x: number, df: number): number {
  return cdf(x, df);
}

/** The x with P(T ≤ x) = p for Student's t with df (real, above 0) degrees of freedom. */
export function tQuantile(p: number, df: number): number {
  return quantile(p, df);
}

/** Two-sided p value P(|T| ≥ |t|). */
export function tTwoSided(t: number, df: number): number {
  return 2 * cdf(-Math.abs(t), df);
}
