import { type ScaleNodes, scaleNodes } from './scaleQuadrature';

/**
 * Distribution of a statistic W/S, where W is known when the scatter is known and S = √(χ²_ν/ν) is the estimated scatter in units of the
 * true one: P(W/S > q) = E[P(W > qS)].
 *
 * P(W > w) is tabulated once as Chebyshev series on unit intervals; each probability is then one short sum over the nodes of S, which the
 * 780
 * pairs of 40 specimens and the thousands of studies of a rehearsal need.
 */
export interface ScaleMixture {
  /** P(W/S > q) for ν degrees of freedom, kept accurate where it is small */
  upperTail: (q: number, df: number) => number;
  /** the q with P(W/S ≤ q) = p, to a relative 1e-10 */
  quantile: (p: number, df: number) => number;
}

const SPAN = 14; // beyond it P(W > w) is below 1e-18 for the statistics used here
const DEGREE = 24;
const QUANTILE_DEGREE = 24;

/**
 * @param tail P(W > w), smooth and accurate also where it is small
 * @param normalGuess roughly the q with P(W > q) = tail, where a search may start
 */
export function scaleMixture(tail: (w: number) => number, normalGuess: (tail: number) => number): ScaleMixture {
  const table = Array.from({ length: SPAN }, (_, piece) => chebyshevSeries(DEGREE, (x) => tail(piece + (x + 1) / 2)));
  const guesses = new Map<number, { log: Float64Array; slope: Float64Array }>();

  const upperTail = (q: number, df: number) => {
    if (!(q > 0)) return 1;
    const { scale, weight } = nodesFor(df);
    let sum = 0;
    for (let i = 0; i < scale.length; i++) {
      const w = q * scale[i];
      if (w >= SPAN) break;
      const piece = Math.floor(w);
      sum += weight[i] * clenshaw(table[piece], 2 * (w - piece) - 1);
    }
    return Math.min(1, Math.max(0, sum));
  };
  const excess = (p: number, df: number) => (log: number) => Math.log(upperTail(Math.exp(log), df) / (1 - p));
  /** ln q from the expansion in 1/ν: the logarithm of the tail against that of q is nearly straight, so the secant rule takes few steps */
  const coarse = (p: number, df: number) => {
    const start = Math.log(normalGuess(1 - p)) + 1.2 / df + 1.5 / (df * df);
    return secant(excess(p, df), start, start + 0.02);
  };
  /** ln q as a Chebyshev series in 1/ν on [0, 1], good to about 3e-6, and the slope of the excess there */
  const guess = (p: number) => {
    let series = guesses.get(p);
    if (!series) {
      const df = (x: number) => 2 / (x + 1);
      const log = chebyshevSeries(QUANTILE_DEGREE, (x) => coarse(p, df(x)));
      const slope = chebyshevSeries(QUANTILE_DEGREE, (x) => {
        const f = excess(p, df(x));
        const at = clenshaw(log, x);
        return (f(at + 1e-4) - f(at - 1e-4)) / 2e-4;
      });
      series = { log, slope };
      if (guesses.size > 50) guesses.clear();
      guesses.set(p, series);
    }
    return series;
  };
  // one step of Newton's rule takes the error from 3e-6 to below 1e-10
  const quantile = (p: number, df: number) => {
    const { log, slope } = guess(p);
    const x = 2 * Math.min(1, 1 / df) - 1;
    const start = clenshaw(log, x);
    return Math.exp(start - excess(p, df)(start) / clenshaw(slope, x));
  };
  return { upperTail, quantile };
}

let latest: { df: number; nodes: ScaleNodes } | null = null;

/** Nodes of the last degrees of freedom asked for: a quantile and the probability beside it share them. */
function nodesFor(df: number): ScaleNodes {
  if (latest?.df !== df) latest = { df, nodes: scaleNodes(df, 0.1) };
  return latest.nodes;
}

/** Root of a nearly straight falling function. */
function secant(f: (x: number) => number, first: number, second: number): number {
  let a = first;
  let b = second;
  let fa = f(a);
  let fb = f(b);
  for (let i = 0; i < 60; i++) {
    if (fb === 0 || fa === fb) break;
    const next = Math.min(Math.max(b - (fb * (b - a)) / (fb - fa), b - 1.5), b + 1.5);
    a = b;
    fa = fb;
    b = next;
    fb = f(b);
    if (Math.abs(b - a) < 1e-12) break;
  }
  return b;
}

/** Coefficients of the Chebyshev interpolation of a function on [−1, 1], without those at its end that change no digit. */
function chebyshevSeries(degree: number, f: (x: number) => number): Float64Array {
  const values = Float64Array.from({ length: degree + 1 }, (_, j) => f(Math.cos((Math.PI * (j + 0.5)) / (degree + 1))));
  const series = Float64Array.from({ length: degree + 1 }, (_, c) => {
    let sum = 0;
    for (let j = 0; j <= degree; j++) sum += values[j] * Math.cos((Math.PI * c * (j + 0.5)) / (degree + 1));
    return (sum * (c === 0 ? 1 : 2)) / (degree + 1);
  });
  const least = 1e-16 * Math.abs(series[0]);
  let length = series.length;
  while (length > 1 && Math.abs(series[length - 1]) < least) length--;
  return series.slice(0, length);
}

/** Value of a Chebyshev series at x in [−1, 1] by Clenshaw's recurrence. */
function clenshaw(c: Float64Array, x: number): number {
  let b1 = 0;
  let b2 = 0;
  for (let i = c.length - 1; i >= 1; i--) {
    const b = 2 * x * b1 - b2 + c[i];
    b2 = b1;
    b1 = b;
  }
  return x * b1 - b2 + c[0];
}
