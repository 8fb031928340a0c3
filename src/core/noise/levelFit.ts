import { leastSquares } from '../stats/leastSquares';

/** Sound level against fan speed: L = a + b·lg(rpm). */
export interface LevelFit {
  a: number;
  b: number;
  se_a: number;
  se_b: number;
  /** covariance of a and b */
  cov_ab: number;
  residual_sd: number;
  df: number;
  /** measured speeds */
  rpm: [number, number];
}

/**
 * Fits the level of one fan on one cooler over its speed.
 * @param rpm speeds, above 0
 * @param level dB, the room taken out
 * @returns null for fewer than three readings, or at one speed only
 */
export function fitLevel(rpm: number[], level: number[]): LevelFit | null {
  const n = rpm.length;
  if (n < 3) return null;
  const x = Float64Array.from(rpm, Math.log10);
  const fit = leastSquares([x.map(() => 1), x], Float64Array.from(level));
  if (!fit) return null;
  const df = n - 2;
  const variance = fit.rss / df;
  const inverse = fit.inverse();
  const [a, b] = fit.coefficients;
  return {
    ...{ a, b, df },
    se_a: Math.sqrt(variance * inverse[0][0]),
    se_b: Math.sqrt(variance * inverse[1][1]),
    cov_ab: variance * inverse[0][1],
    residual_sd: Math.sqrt(variance),
    rpm: [Math.min(...rpm), Math.max(...rpm)],
  };
}

/** Level at a speed, dB. */
export function levelAt({ a, b }: Pick<LevelFit, 'a' | 'b'>, rpm: number): number {
  return a + b * Math.log10(rpm);
}

/** Speed with a level, by inverting the fit. */
export function rpmAtLevel({ a, b }: Pick<LevelFit, 'a' | 'b'>, level: number): number {
  return 10 ** ((level - a) / b);
}

/** Standard error of lg(rpm) at a level: the curve's own, the level being given. */
export function logRpmError(fit: LevelFit, level: number): number {
  const at = (level - fit.a) / fit.b;
  const variance = fit.se_a ** 2 + at * at * fit.se_b ** 2 + 2 * at * fit.cov_ab;
  return Math.sqrt(Math.max(0, variance)) / Math.abs(fit.b);
}
