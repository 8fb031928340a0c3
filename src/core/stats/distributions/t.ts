import { incompleteBeta } from './beta';
import { logBeta } from './gamma';
import { normalCdf, normalQuantile } from './normal';

/** P(T ≥ t) for t ≥ 0. */
function upperTail(t: number, df: number): number {
  if (df === Number.POSITIVE_INFINITY) return normalCdf(-t);
  const square = t * t;
  if (square === Number.POSITIVE_INFINITY) return 0;
  return incompleteBeta(df / (df + square), square / (df + square), df / 2, 0.5) / 2;
}

/** P(T ≤ x) for Student's t with df (real, above 0) degrees of freedom. */
export const tCdf = (x: number, df: number): number => (x < 0 ? upperTail(-x, df) : 1 - upperTail(x, df));

/**
 * The x with P(T ≤ x) = p for Student's t with df (real, above 0) degrees of freedom. The logarithm of the tail falls with that of x, ever
 * steeper, so that Newton's rule finds it from anywhere.
 */
export function tQuantile(p: number, df: number): number {
  if (!(p >= 0 && p <= 1 && df > 0)) return Number.NaN;
  if (p === 0.5) return 0;
  if (df === Number.POSITIVE_INFINITY) return normalQuantile(p);
  const tail = p < 0.5 ? p : 1 - p;
  const sign = p < 0.5 ? -1 : 1;
  if (tail === 0) return sign * Number.POSITIVE_INFINITY;
  const logScale = logBeta(df / 2, 0.5) + 0.5 * Math.log(df);
  const wanted = Math.log(tail);
  // the expansion in 1/df; few degrees of freedom have heavy tails, to which a power law is nearer
  const z = -normalQuantile(tail);
  const expanded = 1 + (z * z + 1) / (4 * df) + (5 * z ** 4 + 16 * z * z + 3) / (96 * df * df);
  let log = Math.log(z) + (df < 3 ? Math.min(Math.log(expanded), -wanted / df) : Math.log(expanded));
  for (let i = 0; i < 100; i++) {
    const t = Math.exp(log);
    const above = upperTail(t, df);
    const density = Math.exp(-((df + 1) / 2) * Math.log1p((t * t) / df) - logScale);
    const step = ((Math.log(above) - wanted) * above) / (t * density);
    log += step;
    // the error after a step is about its square
    if (!(Math.abs(step) > 1e-8)) break;
  }
  return sign * Math.exp(log);
}

/** Two-sided p value P(|T| ≥ |t|). */
export const tTwoSided = (t: number, df: number): number => 2 * upperTail(Math.abs(t), df);
