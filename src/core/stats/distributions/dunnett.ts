import { normalCdf, normalQuantile } from './normal';
import { type ScaleMixture, scaleMixture } from './scaleMixture';

/**
 * Largest of several two-sided t statistics that share one comparison group and one scatter: the distribution behind Dunnett's test.
 *
 * The statistics have the product correlation λᵢλⱼ with λᵢ = √(nᵢ/(n₀+nᵢ)), so that given one common normal z they are independent:
 * P(max|T| ≤ w) = ∫ φ(z) Π [Φ((λᵢz + w)/√(1−λᵢ²)) − Φ((λᵢz − w)/√(1−λᵢ²))] dz for a known scatter (Dunnett 1955), by the trapezoidal rule,
 * which converges exponentially for smooth integrands on the whole line.
 */

const mixtures = new Map<string, ScaleMixture>();
const STEP = 0.125;
const REACH = 8.5;

/**
 * Distribution of the largest |t|.
 * @param lambda of each comparison, in (0, 1)
 */
export function dunnettDistribution(lambda: number[]): ScaleMixture {
  const groups = countEqual(lambda);
  const key = groups.map((g) => `${g.lambda} ${g.count}`).join(' ');
  let mixture = mixtures.get(key);
  if (!mixture) {
    mixture = scaleMixture(
      (w) => largestTail(w, groups),
      (tail) => normalQuantile(1 - tail / (2 * lambda.length)),
    );
    if (mixtures.size > 50) mixtures.clear();
    mixtures.set(key, mixture);
  }
  return mixture;
}

interface Group {
  lambda: number;
  count: number;
}

function largestTail(w: number, groups: Group[]): number {
  let sum = 0;
  // the integrand is even in z
  for (let z = 0; z <= REACH; z += STEP) {
    let log = 0;
    for (const { lambda, count } of groups) {
      const rest = Math.sqrt(1 - lambda * lambda);
      // the chance outside the two bounds, so that small tails keep their digits
      const outside = normalCdf((lambda * z - w) / rest) + normalCdf((-lambda * z - w) / rest);
      log += outside >= 1 ? Number.NEGATIVE_INFINITY : count * Math.log1p(-outside);
    }
    sum += (z === 0 ? 1 : 2) * Math.exp((-z * z) / 2) * -Math.expm1(log);
  }
  return (sum * STEP) / Math.sqrt(2 * Math.PI);
}

function countEqual(lambda: number[]): Group[] {
  const counts = new Map<number, number>();
  for (const l of lambda) counts.set(l, (counts.get(l) ?? 0) + 1);
  return Array.from(counts, ([l, count]) => ({ lambda: l, count })).sort((p, q) => p.lambda - q.lambda);
}
