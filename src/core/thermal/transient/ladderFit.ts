import type { CourseResponse } from '#core/signal/course/courseResponse';
import { type LogBins, meanRest } from '#core/signal/course/logBins';
import { type BinErrors, whitened } from '#core/signal/course/readingErrors';
import { joinSeries } from '#core/signal/trace/series';
import { leastSquares } from '#core/stats/leastSquares';
import { nonlinearLeastSquares, withEntry } from '#core/stats/nonlinearLeastSquares';
import type { CauerLadder } from './cauer';
import { fosterChain } from './fosterFromLadder';
import type { Estimate, StepLayer } from './types';

/** A step as a ladder is fitted to it, per watt of it. */
export interface BinnedStep {
  bins: LogBins;
  errors: BinErrors;
  /** what a time constant answers to the logged course of the power */
  response: CourseResponse;
  /** s between samples */
  interval_s: number;
  /** standard deviation of what the clocks of power and sensor may lie apart, s */
  moment_sd_s: number;
}

/** Parts of the ladder in which the second step differs from the first, node by node. */
export interface OwnParts {
  R: boolean[];
  C: boolean[];
}

export interface LadderFit {
  /** the ladder of each step */
  ladders: CauerLadder[];
  /** sum of squares of the residuals in units of their errors */
  chi2: number;
  df: number;
  /** observations, without what is known beforehand */
  n: number;
  /** what the errors are widened by, for what the residuals exceed the readings' own errors */
  widened: number;
  /** estimate of anything that follows from the ladders, its error by the delta method */
  estimate: (of: (ladders: CauerLadder[]) => number) => Estimate;
}

/** The state before the step may go on in so many of the slowest time constants. */
const MOST_RESTS = 3;
/** A rest beyond half of the whole rise is not expected. */
const REST_SD = 0.5;
/** Logarithms of parts beyond this are no body's; clocks lie no further apart than so many of their standard deviations. */
const OUT = 25;
const APART = 4;

/**
 * Fits one ladder to a step, or to two steps that share all but some of its parts.
 *
 * Beside the ladder each step has its own level, the decaying rest of the state before it in the ladder's slow time constants (both linear,
 * eliminated at every step: Golub & Pereyra 1973), and its own shift between the clocks of power and sensor, known beforehand to about a
 * sample. Logarithms of R and C are fitted, so that none falls below zero.
 * @returns null where the parts cannot be told apart
 */
export function fitLadder(steps: BinnedStep[], start: CauerLadder, own: OwnParts = none(start)): LadderFit | null {
  const n = start.R.length;
  const split = [...own.R.flatMap((o, i) => (o ? [i] : [])), ...own.C.flatMap((o, i) => (o ? [n + i] : []))];
  const ladders = (p: number[]): CauerLadder[] =>
    steps.map((_, s) => {
      const parts = p.slice(0, 2 * n);
      if (s > 0)
        split.forEach((at, k) => {
          parts[at] = p[2 * n + k];
        });
      return { R: parts.slice(0, n).map(Math.exp), C: parts.slice(n).map(Math.exp) };
    });
  const nuisance = 2 * n + split.length;
  const rests = Math.min(n, MOST_RESTS);
  const residuals = (p: number[]) => {
    if (p.slice(0, nuisance).some((v) => !(Math.abs(v) <= OUT))) return null;
    const parts = ladders(p).map((ladder, s) => stepResiduals(steps[s], ladder, p[nuisance + s], rests));
    return parts.some((r) => r === null) ? null : joinSeries(...(parts as Float64Array[]));
  };
  const first = [...start.R, ...start.C].map(Math.log);
  const fitted = nonlinearLeastSquares(residuals, [...first, ...split.map((at) => first[at]), ...steps.map(() => 0)]);
  if (!fitted?.inverse) return null;
  const observations = steps.reduce((sum, s) => sum + s.bins.mean.length, 0);
  const df = observations - nuisance - steps.length * (1 + rests);
  if (df < 3) return null;
  const chi2 = fitted.rss;
  // what the bins leave beyond the readings' own scatter is counted in
  const variance = Math.max(1, chi2 / df);
  const { parameters, inverse } = fitted;
  return {
    ladders: ladders(parameters),
    ...{ chi2, df },
    n: observations,
    widened: Math.sqrt(variance),
    estimate: (of) => {
      const moved = (k: number, by: number) => of(ladders(withEntry(parameters, k, parameters[k] + by)));
      const slope = parameters.map((_, k) => (k < nuisance ? (moved(k, 1e-4) - moved(k, -1e-4)) / 2e-4 : 0));
      let spread = 0;
      slope.forEach((a, i) => {
        slope.forEach((b, j) => {
          spread += a * b * inverse[i][j];
        });
      });
      return { value: of(ladders(parameters)), se: Math.sqrt(Math.max(0, spread) * variance) };
    },
  };
}

/** The layers of one of the fitted ladders, with their errors; the first ones as one where the log cannot follow them. */
export function layersOf(fit: LadderFit, ladder = 0, dark = 0): StepLayer[] {
  const { R } = fit.ladders[ladder];
  const hidden = Math.min(dark, R.length - 1);
  return R.slice(hidden).map((_, k) => {
    const from = k === 0 ? 0 : k + hidden;
    const to = k + hidden + 1;
    return {
      c: fit.estimate((l) => sum(l[ladder].C.slice(from, to))),
      r: fit.estimate((l) => sum(l[ladder].R.slice(from, to))),
      until: fit.estimate((l) => sum(l[ladder].R.slice(0, to))),
      least: null,
    };
  });
}

const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);

const none = ({ R }: CauerLadder): OwnParts => ({ R: R.map(() => false), C: R.map(() => false) });

/** Residuals of one step in units of their errors, level and rests eliminated; and what is known beforehand of rests and clocks. */
function stepResiduals(
  { bins, errors, response, moment_sd_s }: BinnedStep,
  ladder: CauerLadder,
  moment: number,
  rests: number,
): Float64Array | null {
  const { R, tau } = fosterChain(ladder);
  const n = bins.mean.length;
  const rest = Float64Array.from(bins.mean);
  R.forEach((r, j) => {
    const shape = response.at(tau[j], APART * Math.tanh(moment / APART) * moment_sd_s);
    for (let i = 0; i < n; i++) rest[i] -= r * shape[i];
  });
  const slow = [...tau].sort((a, b) => b - a).slice(0, rests);
  const whole = sum(R);
  const tall = (column: ArrayLike<number>, at: number) => {
    const out = new Float64Array(n + rests);
    out.set(whitened(errors, column));
    if (at >= 0) out[n + at] = 1 / (REST_SD * whole);
    return out;
  };
  const columns = [tall(new Float64Array(n).fill(1), -1), ...slow.map((x, k) => tall(meanRest(bins, x), k))];
  const y = tall(rest, -1);
  const solved = leastSquares(columns, y);
  if (!solved) return null;
  const out = new Float64Array(n + rests + 1);
  for (let i = 0; i < n + rests; i++) {
    let v = y[i];
    for (let k = 0; k < columns.length; k++) v -= solved.coefficients[k] * columns[k][i];
    out[i] = v;
  }
  out[n + rests] = moment;
  return out;
}
