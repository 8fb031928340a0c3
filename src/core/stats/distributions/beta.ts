import { continuedFraction, logBeta } from './gamma';

/**
 * Regularised incomplete beta function Iₓ(a, b), accurate also where it is small.
 * Source: Abramowitz & Stegun 26.5.8, its continued fraction by Lentz' algorithm.
 * @param x in [0, 1]
 * @param y 1 − x, given apart so that neither loses digits near its end
 */
export function incompleteBeta(x: number, y: number, a: number, b: number): number {
  if (Number.isNaN(x + y + a + b)) return Number.NaN;
  if (x <= 0) return 0;
  if (y <= 0) return 1;
  // the fraction converges fast below the mean
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(y, x, b, a);
  const log = (v: number, rest: number) => (v > 0.5 ? Math.log1p(-rest) : Math.log(v));
  const front = Math.exp(a * log(x, y) + b * log(y, x) - logBeta(a, b)) / a;
  return (
    front /
    continuedFraction(1, (n) => {
      const m = n >> 1;
      const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
      const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
      return [n % 2 === 0 ? even : odd, 1];
    })
  );
}
