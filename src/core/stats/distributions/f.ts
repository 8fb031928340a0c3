import { incompleteBeta } from './beta';

/**
 * Upper tail P(F ≥ x) of the F distribution.
 * The tail is taken from the incomplete beta function directly: 1 − cdf would lose small p values.
 */
export function fUpperTail(x: number, df1: number, df2: number): number {
  if (!(x > 0)) return 1;
  if (x === Number.POSITIVE_INFINITY) return 0;
  const all = df2 + df1 * x;
  return incompleteBeta(df2 / all, (df1 * x) / all, df2 / 2, df1 / 2);
}
