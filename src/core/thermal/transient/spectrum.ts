import type { CourseResponse } from '#core/signal/course/courseResponse';
import { type LogBins, meanRest } from '#core/signal/course/logBins';
import { type BinErrors, whitened } from '#core/signal/course/readingErrors';
import { nonNegativeLeastSquares } from '#core/stats/nonNegativeLeastSquares';
import type { FosterChain } from './foster';

/** Grid points of a decade of time constants. */
const PER_DECADE = 10;
/** A rest of the state before the step decays with these shares of the longest time constant. */
const RESTS = [1 / 6, 1 / 40];
/** It is looked for where the first and the last half of what lies before the step are this many of their errors apart. */
const MOVED = 4;

/**
 * Time-constant spectrum of a step: the level, a rest of the state before, and on a grid even in ln τ what each τ answers to the power's
 * course, no R below zero.
 *
 * The smoothing (Tikhonov, penalty ridge·ΣR²) is the strongest that keeps the residual sum of squares within one standard error,
 * a share √(2/df), of its least value: more would show in the residuals, less would draw the noise (discrepancy principle, Morozov 1966).
 * @param least shortest time constant, s
 * @param most longest time constant, s
 */
export function timeConstantSpectrum(bins: LogBins, response: CourseResponse, errors: BinErrors, least: number, most: number): FosterChain {
  const decades = Math.log10(most / least);
  const points = Math.max(2, Math.ceil(decades * PER_DECADE) + 1);
  const tau = Array.from({ length: points }, (_, j) => least * 10 ** ((decades * j) / (points - 1)));
  const free = [
    new Float64Array(bins.mean.length).fill(1),
    ...(movesBefore(bins, errors) ? RESTS.map((share) => meanRest(bins, share * most)) : []),
  ];
  const columns = [...free, ...tau.map((x) => response.at(x))].map((c) => whitened(errors, c));
  const y = whitened(errors, bins.mean);
  const rough = solve(columns, y, free.length, 0);
  const df = Math.max(1, y.length - free.length - rough.R.filter((v) => v > 0).length);
  const bound = rough.rss * (1 + Math.sqrt(2 / df));
  const size = columns[columns.length - 1].reduce((sum, v) => sum + v * v, 0);
  let best = rough;
  for (let lg = -10; lg < 0; lg += 0.5) {
    const smoother = solve(columns, y, free.length, size * 10 ** lg);
    if (smoother.rss > bound) break;
    best = smoother;
  }
  return { R: best.R, tau };
}

/** The spectrum at one weight of the smoothing, and the residuals of the readings alone. */
function solve(columns: Float64Array[], y: Float64Array, free: number, ridge: number): { R: number[]; rss: number } {
  const n = y.length;
  const tall = (values: Float64Array, at: number) => {
    const column = new Float64Array(n + columns.length - free);
    column.set(values);
    if (at >= free) column[n + at - free] = Math.sqrt(ridge);
    return column;
  };
  const signed = Array.from({ length: free }, (_, k) => k);
  const { coefficients } = nonNegativeLeastSquares(ridge > 0 ? columns.map(tall) : columns, ridge > 0 ? tall(y, 0) : y, signed);
  let rss = 0;
  for (let i = 0; i < n; i++) {
    let rest = y[i];
    for (let j = 0; j < columns.length; j++) rest -= coefficients[j] * columns[j][i];
    rss += rest * rest;
  }
  return { R: Array.from(coefficients.subarray(free)), rss };
}

function movesBefore({ first, mean }: LogBins, { diagonal }: BinErrors): boolean {
  const before = first.findIndex((t) => t >= 0);
  const half = Math.floor(before / 2);
  if (half < 1) return false;
  const average = (from: number, to: number) => mean.subarray(from, to).reduce((a, b) => a + b, 0) / (to - from);
  return Math.abs(average(0, half) - average(before - half, before)) > (MOVED * diagonal[0] * Math.SQRT2) / Math.sqrt(half);
}
