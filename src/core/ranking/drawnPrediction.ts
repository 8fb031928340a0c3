import { quantiles } from '#core/stats/quantiles';
import { type Random, seededRandom } from '#core/stats/random';
import type { Ranking } from './rankMaterials';
import { contrast, type WeightedFit, weightedFit } from './weightedFit';

const DRAWS = 10_000;
/** Fits over τ² between which is interpolated: at most so many, each at most this times the one before. */
const MOST_STEPS = 120;
const STEP = 1.2;
/** Below this share of the least variance a fit changes evenly with τ². */
const EVEN = 0.02;
/** Draws beyond so many standard deviations of χ² (after Wilson & Hilferty) are told as those at them. */
const REACH = 5;
const LEAST_Q = 1e-4;

/** χ² at so many standard deviations from its middle, nearly. */
const chiSquareAt = (df: number, z: number) => df * Math.max(0, 1 - 2 / (9 * df) + z * Math.sqrt(2 / (9 * df))) ** 3;

/** Degrees of freedom up to which χ² is drawn as a sum of squares. */
const SUMMED = 40;

/** A draw of χ². Source, where it is no sum: Marsaglia & Tsang (2000), ACM Transactions on Mathematical Software 26, 363–372. */
function drawnChiSquare(df: number, random: Random): number {
  if (df <= SUMMED) {
    let x = 0;
    for (let k = 0; k < df; k++) x += random.normal() ** 2;
    return x;
  }
  const d = df / 2 - 1 / 3;
  for (;;) {
    const z = random.normal();
    const v = (1 + z / Math.sqrt(9 * d)) ** 3;
    if (v > 0 && Math.log(1 - random.uniform()) < z ** 2 / 2 + d - d * v + d * Math.log(v)) return 2 * d * v;
  }
}

/** Fits at rising τ², with Q falling from Q(0), or from more than is drawn, to less than is drawn. */
function fitsOver({ design, fit, df }: Ranking): WeightedFit[] {
  const none = weightedFit(design, 0);
  const even = EVEN * Math.min(...design.rows.map((r) => r.variance));
  const scale = Math.max(fit.tau2, even / EVEN, Number.MIN_VALUE);
  const least = Math.max(LEAST_Q, chiSquareAt(df, -REACH));
  // behind the last Q falls as 1/τ²
  let high = scale;
  while (weightedFit(design, high).q > least && high < 1e12 * scale) high *= 4;
  let low = Math.min(even, high / 4);
  const most = chiSquareAt(df, REACH);
  while (low * 2 < high && weightedFit(design, low * 2).q > most) low *= 2;
  const steps = Math.min(MOST_STEPS, Math.ceil(Math.log(high / low) / Math.log(STEP)) + 1);
  return [none, ...Array.from({ length: steps }, (_, i) => weightedFit(design, low * (high / low) ** (i / (steps - 1))))];
}

/** τ² at which the generalised Q is as it was drawn, as a place between the fits; null where that is at 0. */
function placeOfQ(fits: WeightedFit[], q: number): { i: number; share: number } | null {
  if (q >= fits[0].q) return null;
  let low = 0;
  let high = fits.length - 1;
  if (q <= fits[high].q) return { i: high - 1, share: 1 };
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (fits[middle].q > q) low = middle;
    else high = middle;
  }
  const [a, b] = [fits[low].q, fits[high].q];
  return { i: low, share: a > b ? (a - q) / (a - b) : 0 };
}

/**
 * 95 % prediction intervals of differences for a set-up that is not measured yet, drawn: τ² from where the generalised Q equals a draw of its
 * chi-square, then the difference from its normal at that τ², and two set-ups' own deviations beside it. It covers 93.6 to 96 % from three
 * set-ups on where the plug-in interval covers 90 to 93 % (method §8).
 * @param pairs differences that are wanted, a minus b
 * @param seed the same seed draws the same
 * @returns in the order of the pairs; null where there are no degrees of freedom
 * Source: Nagashima, Noma & Furukawa (2019), Statistical Methods in Medical Research 28, 1689–1702.
 */
export function drawnPredictions(ranking: Ranking, pairs: [a: string, b: string][], seed = 1, draws = DRAWS): ([number, number] | null)[] {
  const { design, df } = ranking;
  if (df < 1) return pairs.map(() => null);
  const fits = fitsOver(ranking);
  const random = seededRandom(seed);
  // the same draws for all pairs: what is told of one hangs on no other
  const drawn = Array.from({ length: draws }, () => {
    const place = placeOfQ(fits, drawnChiSquare(df, random));
    const tau2 = place ? fits[place.i].tau2 + place.share * (fits[place.i + 1].tau2 - fits[place.i].tau2) : 0;
    return { i: place?.i ?? 0, share: place?.share ?? 0, own: random.normal(), other: Math.sqrt(2 * tau2) * random.normal() };
  });
  const values = new Float64Array(draws);
  return pairs.map(([a, b]): [number, number] => {
    // a pair is drawn one way round, whichever way it is asked for
    const isTurned = design.materials.indexOf(a) > design.materials.indexOf(b);
    const contrasts = fits.map((fit) => (isTurned ? contrast(fit, b, a) : contrast(fit, a, b)));
    for (const [n, { i, share, own, other }] of drawn.entries()) {
      const [from, to] = [contrasts[i], contrasts[i + 1]];
      const value = from.value + share * (to.value - from.value);
      const variance = from.variance + share * (to.variance - from.variance);
      values[n] = value + Math.sqrt(variance) * own + other;
    }
    const [low, high] = quantiles(values, [0.025, 0.975]);
    return isTurned ? [-high, -low] : [low, high];
  });
}
