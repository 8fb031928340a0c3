import { nonNegativeLeastSquares } from '../stats/nonNegativeLeastSquares';
import type { FosterChain } from './foster';
import { type LogBins, meanApproach } from './logBins';

export interface Spectrum extends FosterChain {
  /** variance of the bins over what the scatter of single readings explains: over one where readings hang on each other */
  excess: number;
}

/** Grid points of a decade of time constants. */
const PER_DECADE = 10;

/**
 * Time-constant spectrum of a step: y(t) = level + Σ R_j (1 − e^(−t/τ_j)) on a grid even in ln τ, no R below zero.
 *
 * The smoothing (Tikhonov, penalty ridge·ΣR²) is the strongest that keeps the residual sum of squares within one standard error,
 * √(2·df) variances, of its least value: more would show in the residuals, less would draw the noise (discrepancy principle, Morozov 1966).
 * @param samples_before samples that say that the level before the step is zero
 * @param sd standard deviation of one reading
 * @param least shortest time constant, s
 * @param most longest time constant, s
 */
export function timeConstantSpectrum(bins: LogBins, samples_before: number, sd: number, least: number, most: number): Spectrum {
  const decades = Math.log10(most / least);
  const points = Math.max(2, Math.ceil(decades * PER_DECADE) + 1);
  const tau = Array.from({ length: points }, (_, j) => least * 10 ** ((decades * j) / (points - 1)));
  const rows = [...Array.from(bins.weight, Math.sqrt), Math.sqrt(samples_before)];
  const weigh = (values: ArrayLike<number>) => Float64Array.from(rows, (w, i) => w * (values[i] ?? 0));
  const columns = [Float64Array.from(rows), ...tau.map((x) => weigh(meanApproach(bins, x)))];
  const y = weigh(bins.mean);
  const free = solve(columns, y, 0);
  const df = Math.max(1, y.length - free.R.filter((v) => v > 0).length);
  const bound = free.rss + Math.max(sd ** 2, free.rss / df) * Math.sqrt(2 * df);
  const size = columns[points].reduce((sum, v) => sum + v * v, 0);
  let best = free;
  for (let lg = -10; lg < 0; lg += 0.5) {
    const smoother = solve(columns, y, size * 10 ** lg);
    if (smoother.rss > bound) break;
    best = smoother;
  }
  return { R: best.R, tau, excess: Math.max(1, free.rss / df / sd ** 2) };
}

/** The spectrum at one weight of the smoothing, and the residuals of the readings alone. */
function solve(columns: Float64Array[], y: Float64Array, ridge: number): { R: number[]; rss: number } {
  const n = y.length;
  const tall = (values: Float64Array, at: number) => {
    const column = new Float64Array(n + columns.length - 1);
    column.set(values);
    if (at > 0) column[n + at - 1] = Math.sqrt(ridge);
    return column;
  };
  const { coefficients } = nonNegativeLeastSquares(ridge > 0 ? columns.map(tall) : columns, ridge > 0 ? tall(y, 0) : y, [0]);
  let rss = 0;
  for (let i = 0; i < n; i++) {
    let rest = y[i];
    for (let j = 0; j < columns.length; j++) rest -= coefficients[j] * columns[j][i];
    rss += rest * rest;
  }
  return { R: Array.from(coefficients.subarray(1)), rss };
}
