import { normalCdf, normalQuantile } from './normal';
import { type ScaleMixture, scaleMixture } from './scaleMixture';

/**
 * Studentised maximum modulus: the largest of several independent |z| over one estimated scatter (Stoline & Ury 1979).
 * For a known scatter P(max|Z| > w) = 1 − [1 − 2Φ(−w)]^m.
 */

const mixtures = new Map<number, ScaleMixture>();

/**
 * Distribution of the largest |t| of independent statistics.
 * @param count number of statistics, at least 1
 */
export function maximumModulus(count: number): ScaleMixture {
  let mixture = mixtures.get(count);
  if (!mixture) {
    mixture = scaleMixture(
      (w) => -Math.expm1(count * Math.log1p(-2 * normalCdf(-w))),
      (tail) => normalQuantile(1 - tail / (2 * count)),
    );
    if (mixtures.size > 50) mixtures.clear();
    mixtures.set(count, mixture);
  }
  return mixture;
}
