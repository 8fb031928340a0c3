import { mean } from './moments';

export interface Line {
  /** change of y per unit of x */
  slope: number;
  /** y at the mean of x */
  centre: number;
  x_mean: number;
  /** standard error of the slope for independent residuals; null for fewer than three points */
  slope_se: number | null;
  residuals: Float64Array;
}

/**
 * Straight line by ordinary least squares on centred sums.
 * @returns null for fewer than two points or where all x are equal
 */
export function fitLine(x: ArrayLike<number>, y: ArrayLike<number>): Line | null {
  const n = x.length;
  if (n < 2) return null;
  const xMean = mean(x);
  const yMean = mean(y);
  let sxx = 0;
  let sxy = 0;
  for (let i = 0; i < n; i++) {
    const dx = x[i] - xMean;
    sxx += dx * dx;
    sxy += dx * (y[i] - yMean);
  }
  if (sxx === 0) return null;
  const slope = sxy / sxx;
  const residuals = new Float64Array(n);
  let rss = 0;
  for (let i = 0; i < n; i++) {
    residuals[i] = y[i] - yMean - slope * (x[i] - xMean);
    rss += residuals[i] * residuals[i];
  }
  const slopeSe = n > 2 ? Math.sqrt(rss / (n - 2) / sxx) : null;
  return { slope, centre: yMean, x_mean: xMean, slope_se: slopeSe, residuals };
}
