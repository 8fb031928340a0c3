import { noncentralTCdf } from '#core/stats/distributions/noncentralT';
import { tQuantile } from '#core/stats/distributions/t';

/**
 * Power of the two-sided t comparison of two specimens with n mounts each. The chance of the wrong direction is counted in, as
 * in the reference values.
 * @param ncp true difference in standard errors, δ/σ·√(n/2)
 * @param df degrees of freedom, real
 * @param alpha level of this one pair
 */
export function pairPower(ncp: number, df: number, alpha: number): number {
  const critical = tQuantile(1 - alpha / 2, df);
  return noncentralTCdf(-critical, df, ncp) + 1 - noncentralTCdf(critical, df, ncp);
}

/** A comparison of pairs as it is planned: all standard deviations in the outcome's unit. */
export interface PairPlan {
  /** standard deviation of a mount value */
  sd: number;
  /** level of one pair, after the family's share */
  alpha: number;
  /** degrees of freedom of the scatter for n mounts each, n real */
  df: (n: number) => number;
}

/** Least true difference that n mounts each find with the wanted power, relative error under 1e-9. */
export function leastDifference(plan: PairPlan, n: number, power: number): number {
  const df = plan.df(n);
  const ncp = solveRising((x) => pairPower(x, df, plan.alpha) - power, tQuantile(1 - plan.alpha / 2, df));
  return ncp * plan.sd * Math.sqrt(2 / n);
}

export interface MountsNeeded {
  /** real number of mounts with just the wanted power; null where two are enough */
  n_exact: number | null;
  n: number;
  power_at_n: number;
}

const MOST = 1e6;

/**
 * Mounts per specimen that find a true difference with the wanted power.
 * @returns null where a million would not do
 */
export function mountsNeeded(plan: PairPlan, difference: number, power: number): MountsNeeded | null {
  const at = (n: number) => pairPower((difference / plan.sd) * Math.sqrt(n / 2), plan.df(n), plan.alpha);
  const atTwo = at(2);
  if (atTwo >= power) return { n_exact: null, n: 2, power_at_n: atTwo };
  let high = 3;
  while (at(high) < power) {
    high *= 2;
    if (high > MOST) return null;
  }
  const exact = bisect((n) => at(n) - power, Math.max(2, high / 2 - 1), high);
  const n = Math.ceil(exact);
  return { n_exact: exact, n, power_at_n: at(n) };
}

/** Root of a rising function: doubled until it is passed, then bisected. */
function solveRising(f: (x: number) => number, first: number): number {
  let high = Math.max(first, 1e-6);
  while (f(high) < 0) high *= 2;
  return bisect(f, 0, high);
}

/** Root of a rising function in [low, high], to a relative 1e-10: the Illinois form of regula falsi. */
function bisect(f: (x: number) => number, low: number, high: number): number {
  let a = low;
  let b = high;
  let fa = f(a);
  let fb = f(b);
  if (fa >= 0) return a;
  let side = 0;
  for (let i = 0; i < 200 && b - a > 1e-10 * b; i++) {
    const x = i % 8 === 7 ? (a + b) / 2 : (a * fb - b * fa) / (fb - fa);
    const fx = f(x);
    if (fx === 0) return x;
    if (fx < 0) {
      a = x;
      fa = fx;
      if (side === -1) fb /= 2;
      side = -1;
    } else {
      b = x;
      fb = fx;
      if (side === 1) fa /= 2;
      side = 1;
    }
  }
  return (a + b) / 2;
}
