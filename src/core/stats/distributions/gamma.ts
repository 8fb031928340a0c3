/** Lanczos' coefficients for g = 7 and nine terms. */
const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905,
  -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
];
const HALF_LOG_TWO_PI = 0.5 * Math.log(2 * Math.PI);
/** From here on Stirling's series is exact to a double's last digit. */
const LARGE = 10;

/**
 * ln Γ(z) for z > 0, to about 1e-15 of its size. Source: C. Lanczos, "A precision approximation of the gamma function", SIAM J. Numer.
 * Anal. B 1 (1964); from 10 on Stirling's series.
 */
export function logGamma(z: number): number {
  if (z >= LARGE) return (z - 0.5) * Math.log(z) - z + HALF_LOG_TWO_PI + stirlingRest(z);
  // Γ(z) = Γ(z + 1)/z, which keeps z − 1 away from −1
  if (z < 0.5) return logGamma(z + 1) - Math.log(z);
  const x = z - 1;
  const sum = LANCZOS.reduce((total, c, i) => (i === 0 ? c : total + c / (x + i)), 0);
  const t = x + 7.5;
  return HALF_LOG_TWO_PI + (x + 0.5) * Math.log(t) - t + Math.log(sum);
}

/** What Stirling's formula leaves of ln Γ(z), for z ≥ 10. */
function stirlingRest(z: number): number {
  const w = 1 / (z * z);
  return (1 / 12 - w * (1 / 360 - w * (1 / 1260 - w * (1 / 1680 - w * (1 / 1188 - w * (691 / 360360 - w / 156)))))) / z;
}

/** ln B(a, b) for a, b > 0; of a large and a small one their difference is taken without losing digits. */
export function logBeta(a: number, b: number): number {
  const [large, small] = a > b ? [a, b] : [b, a];
  if (large < LARGE) return logGamma(large) + logGamma(small) - logGamma(a + b);
  const ratio = (large - 0.5) * Math.log1p(small / large) + small * Math.log(a + b) - small + stirlingRest(a + b) - stirlingRest(large);
  return logGamma(small) - ratio;
}

/**
 * Regularised lower incomplete gamma function P(s, x), by its series or, in the tail, its continued fraction. Source: Abramowitz & Stegun
 * 6.5.29 and 6.5.31.
 */
export function incompleteGamma(s: number, x: number): number {
  if (!(x > 0)) return x === 0 ? 0 : Number.NaN;
  if (x === Number.POSITIVE_INFINITY) return 1;
  const front = Math.exp(s * Math.log(x) - x - logGamma(s));
  if (x < s + 1) {
    let term = 1 / s;
    let sum = term;
    for (let n = 1; term > sum * 1e-17; n++) {
      term *= x / (s + n);
      sum += term;
    }
    return front * sum;
  }
  return 1 - front / continuedFraction(x + 1 - s, (n) => [-n * (n - s), x + 2 * n + 1 - s]);
}

/**
 * b₀ + a₁/(b₁ + a₂/(b₂ + …)) by the modified algorithm of Lentz (Thompson & Barnett, J. Comput. Phys. 64, 1986).
 * @param next aₙ and bₙ, for n from 1
 */
export function continuedFraction(b0: number, next: (n: number) => [number, number]): number {
  const tiny = 1e-300;
  let f = b0 || tiny;
  let c = f;
  let d = 0;
  for (let n = 1; n < 100_000; n++) {
    const [a, b] = next(n);
    d = 1 / (b + a * d || tiny);
    c = b + a / c || tiny;
    const step = c * d;
    f *= step;
    if (Math.abs(step - 1) < 2e-16) break;
  }
  return f;
}
