import { mean, standardDeviation } from './moments';

export interface EffectiveSize {
  n: number;
  mean: number;
  /** standard deviation with divisor n − 1 */
  sd: number;
  constant: boolean;
  /** first autocorrelation, null for a constant series */
  lag1: number | null;
  /** integrated autocorrelation time in samples, as it comes (may be below 1) */
  tau: number;
  /** number of independent readings the series is worth, in [1, n] */
  n_eff: number;
  /** standard error of the mean, sd/√n_eff */
  se: number;
  pairs_used: number;
}

/**
 * Effective number of independent readings of an evenly spaced series by Geyer's initial positive sequence.
 *
 * Pair sums Γ_m = ρ(2m) + ρ(2m+1) are added until the first that is not positive; τ = −1 + 2ΣΓ.
 * A constant series counts as a single reading: a stuck sensor tells nothing about its noise.
 * Source: Geyer, "Practical Markov chain Monte Carlo", Statistical Science 7 (1992).
 */
export function effectiveSize(values: ArrayLike<number>): EffectiveSize {
  const n = values.length;
  const m = mean(values);
  if (isConstant(values)) return { n, mean: m, sd: 0, constant: true, lag1: null, tau: n, n_eff: 1, se: 0, pairs_used: 0 };
  const centred = new Float64Array(n);
  for (let i = 0; i < n; i++) centred[i] = values[i] - m;
  const c0 = autocovariance(centred, 0);
  const lag1 = n > 1 ? autocovariance(centred, 1) / c0 : 0;
  let sum = 0;
  let pairs = 0;
  for (let k = 0; 2 * k + 1 <= n - 1; k++) {
    const pair = pairAutocovariance(centred, 2 * k) / c0;
    if (pair <= 0) break;
    sum += pair;
    pairs++;
  }
  const tau = -1 + 2 * sum;
  const nEff = Math.min(n, Math.max(1, n / Math.max(tau, 1)));
  const sd = standardDeviation(values);
  return { n, mean: m, sd, constant: false, lag1, tau, n_eff: nEff, se: sd / Math.sqrt(nEff), pairs_used: pairs };
}

function isConstant(values: ArrayLike<number>): boolean {
  for (let i = 1; i < values.length; i++) if (values[i] !== values[0]) return false;
  return true;
}

/** Autocovariances at a lag and at the next, summed in one pass: long correlated series take many of them. */
function pairAutocovariance(centred: Float64Array, lag: number): number {
  const n = centred.length;
  const last = n - 1 - lag;
  // the last reading has a partner at the first lag alone
  let sum = centred[last] * centred[n - 1];
  for (let t = 0; t < last; t++) sum += centred[t] * (centred[t + lag] + centred[t + lag + 1]);
  return sum / n;
}

function autocovariance(centred: Float64Array, lag: number): number {
  const n = centred.length;
  let sum = 0;
  for (let t = 0; t + lag < n; t++) sum += centred[t] * centred[t + lag];
  return sum / n;
}
