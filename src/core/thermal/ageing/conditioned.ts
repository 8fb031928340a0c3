import { leastSquares } from '#core/stats/leastSquares';

interface Conditioning {
  /**
   * true where in two checks in a row less than a quarter of the margin is left to come, with 95 %, under every course the data do not
   * exclude
   */
  conditioned: boolean;
  /** the values rise beyond their scatter: it loses instead of gaining */
  worsening: boolean;
  /** gain that is still to be expected, and its one-sided 95 % bound, K; null with fewer than four cycles */
  remaining_k: number | null;
  bound_k: number | null;
  /** value for ever more cycles, K */
  end_k: number | null;
}

/** Fewest cycles a check rests on; two checks in a row take one more. */
const FEWEST = 4;
const STEPS = 80;
/** A stage fits where its residuals lie within this many of their standard errors of what scatter leaves. */
const FITS = 1;
const QUICKEST = 0.25;
/** The slowest course that is looked for takes this many times the cycles seen for each factor of e. */
const SLOWEST = 1.5;
/** Square of the one-sided 95 % quantile of the normal law. */
const CHI2 = 1.6449 ** 2;

/**
 * Is an interface conditioned? Its cycles may follow an exponential or 1/n, from the first on or, where an earlier stage is over, from a
 * later one; every such course is fitted by least squares and kept where the data allow it (profile likelihood, χ² of one degree, one-sided
 * 95 %), and the largest gain or loss that any of them still promises is the bound. Two checks in a row must pass, so that a delayed gain
 * is not taken for none.
 *
 * Limits: cycles of like length; a gain that has not begun yet, or that takes over twice the cycles seen, cannot be foreseen.
 * @param values run values of the cycles in their order, K
 * @param se standard error of one value, K, the scatter from cycle to cycle included
 * @param margin smallest difference that matters, K
 */
export function judgeConditioning(values: number[], se: number, margin: number): Conditioning {
  const lost = Math.max(se, margin / 8);
  const now = check(values, se, lost);
  if (!now) return { conditioned: false, worsening: false, remaining_k: null, bound_k: null, end_k: null };
  const before = check(values.slice(0, -1), se, lost);
  const passes = (c: Check | null) => c?.over === true && c.gain_k < margin / 4 && c.loss_k < margin / 4;
  const worsening = now.slope > CHI2 ** 0.5 * now.slope_se && now.loss_k >= margin / 4;
  return { conditioned: passes(now) && passes(before), worsening, remaining_k: now.left_k, bound_k: now.gain_k, end_k: now.end_k };
}

interface Check {
  left_k: number;
  end_k: number;
  /** largest gain and largest loss still to come that the data do not exclude, K */
  gain_k: number;
  loss_k: number;
  /** whether the quick stage is over, so that a slow one behind it would show */
  over: boolean;
  /** over the later half of the cycles, K a cycle */
  slope: number;
  slope_se: number;
}

function check(values: number[], se: number, lost: number): Check | null {
  const n = values.length;
  if (n < FEWEST) return null;
  const late = Float64Array.from(values.slice(Math.floor(n / 2)));
  const x = late.map((_, i) => i);
  const line = leastSquares([x.map(() => 1), x], late);
  const drift = { slope: line?.coefficients[1] ?? 0, slope_se: se * Math.sqrt(line?.inverse()[1][1] ?? 0) };
  // one stage, from the first cycle after which one stage tells the values
  for (let first = 0; n - first >= FEWEST; first++) {
    const told = oneStage(values, first, se, lost);
    if (!told.fits && n - first > FEWEST) continue;
    // what hides behind a quick stage shows only once that is over
    const over = first + told.quick;
    if (n - over < FEWEST)
      return { left_k: told.left_k, end_k: told.end_k, gain_k: told.gain_k, loss_k: told.loss_k, over: false, ...drift };
    const next = over > first ? oneStage(values, over, se, lost) : told;
    return {
      ...{ left_k: told.left_k, end_k: told.end_k },
      ...{ gain_k: Math.max(told.gain_k, next.gain_k), loss_k: Math.max(told.loss_k, next.loss_k) },
      over: true,
      ...drift,
    };
  }
  return null;
}

/** An exponential, or 1/n, through the cycles from one of them on, and what of those the values do not exclude. */
function oneStage(values: number[], first: number, se: number, lost: number) {
  const y = Float64Array.from(values.slice(first));
  const n = y.length;
  const slowest = SLOWEST * n;
  // each shape is one at the last cycle, so that its size is what is left there
  const ratios = Array.from({ length: STEPS }, (_, i) => Math.exp(-1 / (QUICKEST * (slowest / QUICKEST) ** (i / (STEPS - 1)))));
  const slowestRatio = ratios[STEPS - 1];
  const shapes = [...ratios.map((r) => y.map((_, i) => r ** (i - n + 1))), y.map((_, i) => values.length / (first + i + 1))];
  const courses = shapes.flatMap((shape, k) => {
    const fit = leastSquares([y.map(() => 1), shape], y);
    return fit
      ? [
          {
            ratio: ratios[k] ?? slowestRatio,
            rss: fit.rss,
            end: fit.coefficients[0],
            left: fit.coefficients[1],
            left_se: Math.sqrt(fit.inverse()[1][1]),
          },
        ]
      : [];
  });
  const best = courses.reduce((b, c) => (c.rss < b.rss ? c : b));
  const df = n - 3;
  const variance = se * se * Math.max(1, best.rss / df / (se * se));
  const room = (c: (typeof courses)[number]) => best.rss + CHI2 * variance - c.rss;
  const allowed = courses.filter((c) => room(c) >= 0);
  const reach = (c: (typeof courses)[number]) => Math.sqrt(room(c)) * c.left_se;
  return {
    fits: best.rss <= se * se * (df + FITS * Math.sqrt(2 * df)),
    ...{ left_k: best.left, end_k: best.end },
    // cycles until this stage gave no more than the scatter of one, or an eighth of the margin
    quick: Math.max(
      0,
      Math.min(n, y.length - 1 + Math.ceil(Math.log(Math.max(Math.abs(best.left), 1e-12) / lost) / Math.log(1 / best.ratio))),
    ),
    gain_k: Math.max(...allowed.map((c) => c.left + reach(c))),
    loss_k: Math.max(...allowed.map((c) => reach(c) - c.left)),
  };
}
