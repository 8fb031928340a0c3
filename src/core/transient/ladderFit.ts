import { nonlinearLeastSquares, withEntry } from '../stats/nonlinearLeastSquares';
import type { CauerLadder } from './cauer';
import { fosterChain } from './fosterFromLadder';
import { type LogBins, meanApproach } from './logBins';
import type { Estimate, Layer } from './types';

/** A step as a ladder is fitted to it. */
export interface BinnedStep {
  bins: LogBins;
  /** s between samples: the step may lie half of it before or after where it was read */
  interval_s: number;
  samples_before: number;
}

/** Parts of the ladder in which the second step differs from the first, node by node. */
export interface OwnParts {
  R: boolean[];
  C: boolean[];
}

export interface LadderFit {
  /** the ladder of each step */
  ladders: CauerLadder[];
  /** residual sum of squares over the variance of one reading */
  chi2: number;
  df: number;
  /** observations, without what is known beforehand */
  n: number;
  /** estimate of anything that follows from the ladders, its error by the delta method */
  estimate: (of: (ladders: CauerLadder[]) => number) => Estimate;
}

/**
 * Fits one ladder to a step, or to two steps that share all but some of its parts.
 *
 * Beside the ladder each step has its own level before it and its own moment, both known beforehand: the level by its samples, the moment
 * to a sample's width. Logarithms of R and C are fitted, so that none falls below zero.
 * @param sd standard deviation of one reading, in the unit of the bins
 * @returns null where the parts cannot be told apart
 */
export function fitLadder(steps: BinnedStep[], start: CauerLadder, sd: number, own: OwnParts = none(start)): LadderFit | null {
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
  const residuals = (p: number[]) => {
    if (p.slice(0, nuisance).some((v) => Math.abs(v) > 25)) return null;
    const parts = ladders(p).map((ladder, s) => stepResiduals(steps[s], ladder, p[nuisance + 2 * s] * sd, p[nuisance + 2 * s + 1], sd));
    return Float64Array.from(parts.flat());
  };
  const first = [...start.R, ...start.C].map(Math.log);
  const fitted = nonlinearLeastSquares(residuals, [...first, ...split.map((at) => first[at]), ...steps.flatMap(() => [0, 0])]);
  if (!fitted?.inverse) return null;
  const observations = steps.reduce((sum, s) => sum + s.bins.mean.length, 0);
  const df = observations - nuisance;
  if (df < 3) return null;
  // what the bins leave beyond the readings' own scatter is counted in
  const chi2 = fitted.rss / sd ** 2;
  const variance = Math.max(1, chi2 / df) * sd ** 2;
  const { parameters, inverse } = fitted;
  return {
    ladders: ladders(parameters),
    ...{ chi2, df },
    n: observations,
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

/** The layers of one of the fitted ladders, with their errors. */
export function layersOf(fit: LadderFit, ladder = 0): Layer[] {
  return fit.ladders[ladder].R.map((_, i) => ({
    c: fit.estimate((l) => l[ladder].C[i]),
    r: fit.estimate((l) => l[ladder].R[i]),
    until: fit.estimate((l) => l[ladder].R.slice(0, i + 1).reduce((a, b) => a + b, 0)),
  }));
}

const none = ({ R }: CauerLadder): OwnParts => ({ R: R.map(() => false), C: R.map(() => false) });

/** Residuals of one step, each of the standard deviation of one reading, and what is known beforehand of its level and its moment. */
function stepResiduals({ bins, interval_s, samples_before }: BinnedStep, ladder: CauerLadder, level: number, moment: number, sd: number): number[] {
  const { R, tau } = fosterChain(ladder);
  const shift = (moment * interval_s) / Math.sqrt(12);
  const expected = new Float64Array(bins.mean.length).fill(level);
  R.forEach((r, j) => {
    const shape = meanApproach(bins, tau[j], Math.max(shift, -bins.first[0]));
    for (let i = 0; i < expected.length; i++) expected[i] += r * shape[i];
  });
  const residuals = Array.from(bins.mean, (v, i) => Math.sqrt(bins.weight[i]) * (v - expected[i]));
  return [...residuals, Math.sqrt(samples_before) * level, moment * sd];
}
