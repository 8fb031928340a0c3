import cdf from '@stdlib/stats-base-dists-normal-cdf';
import quantile from '@stdlib/stats-base-dists-normal-quantile';

/** P(Z ≤ x) for a standard normal Z. */
export function normalCdf(x: number): number {
  return cdf(x, 0, 1);
}

/** The x with P(Z ≤ x) = p for a standard normal Z. */
export function normalQuantile(p: number): number {
  return quantile(p, 0, 1);
}
