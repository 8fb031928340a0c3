/**
 * Mean, sums of squares and standard deviation by centred two-pass sums.
 *
 * All values are first shifted by one of them: the shift is exact for data with many equal
 * leading digits, so nothing is lost to cancellation (Chan, Golub & LeVeque 1983).
 */

/** Arithmetic mean. NaN for an empty list. */
export function mean(values: ArrayLike<number>): number {
  const n = values.length;
  if (n === 0) return Number.NaN;
  const shift = values[0];
  let sum = 0;
  for (let i = 0; i < n; i++) sum += values[i] - shift;
  return shift + sum / n;
}

/** Sum of squared deviations from the mean, with the two-pass correction term. 0 for fewer than two values. */
export function sumOfSquares(values: ArrayLike<number>): number {
  const n = values.length;
  if (n < 2) return 0;
  const shift = values[0];
  let sum = 0;
  for (let i = 0; i < n; i++) sum += values[i] - shift;
  const centre = sum / n;
  let squares = 0;
  let rest = 0;
  for (let i = 0; i < n; i++) {
    const d = values[i] - shift - centre;
    squares += d * d;
    rest += d;
  }
  return Math.max(0, squares - (rest * rest) / n);
}

/** Sample variance (divisor n − 1). NaN for fewer than two values. */
export const variance = (values: ArrayLike<number>): number =>
  values.length < 2 ? Number.NaN : sumOfSquares(values) / (values.length - 1);

/** Sample standard deviation (divisor n − 1). NaN for fewer than two values. */
export const standardDeviation = (values: ArrayLike<number>): number => Math.sqrt(variance(values));
