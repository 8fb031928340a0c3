import { leastSquares } from '../stats/leastSquares';

export interface Conditioning {
  /** true where with 95 % less than a quarter of the margin is left to gain */
  conditioned: boolean;
  /** gain that is still to be expected, and its one-sided 95 % bound, K; null with fewer than three cycles */
  remaining_k: number | null;
  bound_k: number | null;
  /** value for ever more cycles, K */
  end_k: number | null;
}

/** Fewest cycles a course can be told from. */
const FEWEST = 3;
const STEPS = 60;

/**
 * Is an interface conditioned? Values of its cycles follow v∞ + a·ρⁱ; every ratio ρ is fitted by least squares and kept where the data allow it
 * (profile likelihood, χ² of one degree, one-sided 95 %), and the largest gain that any of them still promises is the bound.
 * Limits: it assumes one exponential and cycles of like length; with under five cycles it rests much on that.
 * @param values run values of the cycles in their order, K
 * @param se standard error of one value, K, the scatter from cycle to cycle included
 * @param margin smallest difference that matters, K
 */
export function judgeConditioning(values: number[], se: number, margin: number): Conditioning {
  const n = values.length;
  if (n < FEWEST) return { conditioned: false, remaining_k: null, bound_k: null, end_k: null };
  const y = Float64Array.from(values);
  // a course that takes more cycles than were seen for each factor of e cannot be told from a line
  const slowest = Math.exp(-1 / n);
  const ratios = Array.from({ length: STEPS }, (_, i) => 0.02 + ((slowest - 0.02) * i) / (STEPS - 1));
  const fits = ratios.flatMap((ratio) => {
    const fit = leastSquares([y.map(() => 1), y.map((_, i) => ratio ** (i - n + 1))], y);
    // what is left after the last cycle is the amplitude there, for it is scaled to be one at the last cycle
    return fit ? [{ rss: fit.rss, end: fit.coefficients[0], left: fit.coefficients[1], left_se: se * Math.sqrt(fit.inverse()[1][1]) }] : [];
  });
  const best = fits.reduce((b, f) => (f.rss < b.rss ? f : b));
  const allowed = best.rss + CHI2 * se * se;
  const bound = Math.max(
    ...fits.filter((f) => f.rss <= allowed).map((f) => f.left + Math.sqrt(Math.max(0, CHI2 - (f.rss - best.rss) / (se * se))) * f.left_se),
  );
  return { conditioned: bound < margin / 4, remaining_k: best.left, bound_k: bound, end_k: best.end };
}

/** Square of the one-sided 95 % quantile of the normal law. */
const CHI2 = 1.6449 ** 2;
