import { leastSquares } from '#core/stats/leastSquares';
import { mean } from '#core/stats/moments';
import type { LevelFit } from '#core/thermal/noise/levelFit';

/** Rise, or resistance, of a cooler against fan speed: y = a + b·rpm^(−c), each mount with its own a. */
export interface CoolerFit extends Pick<LevelFit, 'a' | 'b' | 'se_a' | 'se_b' | 'df' | 'residual_sd' | 'rpm'> {
  c: number;
  se_c: number;
  /** a of each mount, in the order of the mounts */
  mounts: number[];
  /** covariance of a, b·typical^(−c) and c */
  covariance: number[][];
  /** geometric mean of the speeds, by which the fit is scaled */
  typical_rpm: number;
  points: number;
  rss: number;
}

/** Exponents that are tried: forced air over fins has 0.3 to 1. */
const LEAST_C = 0.02;
const MOST_C = 4;
const GRID = 40;
const STEPS = 60;

/**
 * Least-squares fit of a cooler's curve. For a given exponent the rest is linear and solved by QR (variable projection, Golub & Pereyra
 * 1973);
 * a grid finds the exponent, Gauss–Newton steps polish it. Speeds are scaled by their geometric mean, as b is of the order of 1e3 to 1e6
 * otherwise.
 *
 * Limits: one shape for all mounts of a cooler, whose curves differ by a constant; nothing is said beyond the measured speeds.
 * @param y rise in K, or resistance in K/W
 * @param mount index of each reading's mount, from 0; one mount where absent
 * @returns null for fewer than three different speeds, fewer readings than parameters, where no exponent between 0.02 and 4 fits best, and
 *   where y does not fall with speed
 */
export function fitCooler(rpm: number[], y: number[], mount: number[] = rpm.map(() => 0)): CoolerFit | null {
  const groups = Math.max(0, ...mount) + 1;
  const n = rpm.length;
  if (new Set(rpm).size < 3 || n < groups + 2) return null;
  const typical = Math.exp(mean(rpm.map(Math.log)));
  const log = Float64Array.from(rpm, (r) => Math.log(r / typical));
  const sweep: Sweep = {
    ...{ log, groups, y: Float64Array.from(y) },
    own: Array.from({ length: groups }, (_, g) => Float64Array.from(mount, (m) => (m === g ? 1 : 0))),
  };
  let best = { c: Number.NaN, rss: Number.POSITIVE_INFINITY };
  for (let i = 0; i <= GRID; i++) {
    const c = LEAST_C * (MOST_C / LEAST_C) ** (i / GRID);
    const fit = solve(sweep, c);
    if (fit && fit.rss < best.rss) best = { c, rss: fit.rss };
  }
  if (!(best.c > LEAST_C * 1.001 && best.c < MOST_C * 0.999)) return null;
  const polished = polish(sweep, best.c);
  if (!polished || polished.scaled <= 0) return null;
  const { mounts, scaled, c, rss, inverse } = polished;
  const df = n - groups - 2;
  const variance = df > 0 ? rss / df : 0;
  const covariance = overMounts(inverse, groups).map((row) => row.map((v) => variance * v));
  const factor = typical ** c;
  const turn = scaled * Math.log(typical);
  // b = scaled·typical^c: its error depends on that of c
  const varianceB = factor ** 2 * (covariance[1][1] + 2 * turn * covariance[1][2] + turn ** 2 * covariance[2][2]);
  return {
    ...{ a: mean(mounts), b: scaled * factor, c, mounts, covariance, typical_rpm: typical, points: n, rss, df },
    ...{ se_a: Math.sqrt(covariance[0][0]), se_b: Math.sqrt(Math.max(0, varianceB)), se_c: Math.sqrt(covariance[2][2]) },
    residual_sd: Math.sqrt(variance),
    rpm: [Math.min(...rpm), Math.max(...rpm)],
  };
}

interface Sweep {
  log: Float64Array;
  y: Float64Array;
  groups: number;
  /** one column for each mount */
  own: Float64Array[];
}

const powers = ({ log }: Sweep, c: number) => log.map((l) => Math.exp(-c * l));

const solve = (sweep: Sweep, c: number) => leastSquares([...sweep.own, powers(sweep, c)], sweep.y);

function polish(sweep: Sweep, start: number) {
  const { groups, own, log, y } = sweep;
  let c = start;
  let fit = solve(sweep, c);
  for (let i = 0; i < STEPS && fit; i++) {
    const scaled = fit.coefficients[groups];
    const mounts = Array.from(fit.coefficients.slice(0, groups));
    const power = powers(sweep, c);
    const residual = y.map((v, k) => v - scaled * power[k] - own.reduce((sum, column, g) => sum + mounts[g] * column[k], 0));
    const move = leastSquares([...own, power, log.map((l, k) => -scaled * l * power[k])], residual);
    if (!move) return null;
    let d = move.coefficients[groups + 1];
    let next = solve(sweep, c + d);
    while (next && next.rss > fit.rss * (1 + 1e-14) && Math.abs(d) > 1e-14) {
      d /= 2;
      next = solve(sweep, c + d);
    }
    if (!next || Math.abs(d) < 1e-13 * Math.abs(c)) return { mounts, scaled, c, rss: fit.rss, inverse: move.inverse() };
    c += d;
    fit = next;
    if (!(c > LEAST_C && c < MOST_C)) return null;
  }
  return null;
}

/** Covariance of the mean of the mounts' parameters and of the shared two. */
function overMounts(inverse: Float64Array[], groups: number): number[][] {
  const weights = [0, 1, 2].map((i) => inverse.map((_, j) => (i === 0 ? (j < groups ? 1 / groups : 0) : j === groups + i - 1 ? 1 : 0)));
  const form = (p: number[], q: number[]) => p.reduce((sum, pi, i) => sum + pi * q.reduce((s, qj, j) => s + qj * inverse[i][j], 0), 0);
  return weights.map((p) => weights.map((q) => form(p, q)));
}

/** Rise at a speed, over all mounts. */
export const riseAt = ({ a, b, c }: Pick<CoolerFit, 'a' | 'b' | 'c'>, rpm: number): number => a + b * rpm ** -c;

/** Speed with a rise, by inverting the curve; null where it never gets there. */
export function rpmAtRise({ a, b, c }: Pick<CoolerFit, 'a' | 'b' | 'c'>, rise: number): number | null {
  const ratio = (rise - a) / b;
  return ratio > 0 ? ratio ** (-1 / c) : null;
}

/** Change of rise with ln(rpm) at a speed. */
export const riseSlope = ({ b, c }: Pick<CoolerFit, 'b' | 'c'>, rpm: number): number => -c * b * rpm ** -c;

/**
 * Standard error of the curve's shape at a speed: what all mounts share. The scatter of the readings about the curve is in each mount's own
 * part as well, so that it is left out here.
 */
export function shapeError(fit: CoolerFit, rpm: number): number {
  const total = curveError(fit, rpm) ** 2;
  return Math.sqrt(Math.max(0, total - fit.residual_sd ** 2 / fit.points));
}

/** Standard error of the curve at a speed from its readings, mounts taken as they are. */
export function curveError({ typical_rpm, b, c, covariance }: CoolerFit, rpm: number): number {
  const log = Math.log(rpm / typical_rpm);
  const power = Math.exp(-c * log);
  const gradient = [1, power, -b * typical_rpm ** -c * log * power];
  const variance = gradient.reduce((sum, p, i) => sum + p * gradient.reduce((s, q, j) => s + q * covariance[i][j], 0), 0);
  return Math.sqrt(Math.max(0, variance));
}
