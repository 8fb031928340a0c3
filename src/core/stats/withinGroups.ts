import { tQuantile } from './distributions/t';
import { mean } from './moments';

export interface WithinGroups {
  /** change of y per unit of x */
  slope: number;
  /** 95 % interval of the slope */
  low: number;
  high: number;
  /** correlation of what differs from the group means */
  r: number;
  n: number;
  df: number;
}

/**
 * How y goes with x within groups, the groups' own levels being taken out: the common slope of the analysis of covariance (Snedecor &
 * Cochran, Statistical Methods, 8th ed., §18.2).
 *
 * Limits: one slope for all groups; it says that the two go together, not that one makes the other.
 * @param groups of two or more points each; smaller ones are left out
 * @returns null with fewer than three points to spare, or where x is the same throughout each group
 */
export function withinGroups(groups: { x: number[]; y: number[] }[]): WithinGroups | null {
  const used = groups.filter((g) => g.x.length >= 2);
  const n = used.reduce((sum, g) => sum + g.x.length, 0);
  const df = n - used.length - 1;
  if (df < 2) return null;
  let [sxx, sxy, syy] = [0, 0, 0];
  for (const g of used) {
    const [mx, my] = [mean(g.x), mean(g.y)];
    for (let i = 0; i < g.x.length; i++) {
      const [dx, dy] = [g.x[i] - mx, g.y[i] - my];
      sxx += dx * dx;
      sxy += dx * dy;
      syy += dy * dy;
    }
  }
  if (sxx <= 1e-24) return null;
  const slope = sxy / sxx;
  const se = Math.sqrt(Math.max(0, syy - slope * sxy) / df / sxx);
  const half = tQuantile(0.975, df) * se;
  return { slope, low: slope - half, high: slope + half, r: syy === 0 ? 0 : sxy / Math.sqrt(sxx * syy), n, df };
}
