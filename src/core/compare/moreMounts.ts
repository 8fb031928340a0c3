import { chiSquareCdf } from '#core/stats/distributions/chiSquare';

/** A pair as it stands, as far as more mounts change it. */
export interface Outlook {
  difference: number;
  /** smallest difference that matters, in the outcome's unit */
  margin: number;
  /** both specimens: variance of the mean by its mounts, their number, and whether it can be mounted again */
  sides: [Side, Side];
  /** variance of the difference that no mount takes away, as of shared instruments */
  fixed: number;
  /** degrees of freedom of the scatter so far, and with so many more mounts of each */
  df: (more: number) => number;
  /** half width of the interval in standard errors */
  critical: (df: number) => number;
}

export interface Side {
  variance: number;
  n: number;
  grows: boolean;
}

/** Beyond so many more mounts of each nobody goes on. */
export const MOST_MORE = 30;
const CHANCE = 0.8;

/**
 * Least number of further mounts of each specimen with which a pair will be settled, told apart or tied, with 80 % chance, if the true
 * difference is the one observed and the scatter the one estimated; what was measured stays and is averaged with what comes.
 * @returns null where 30 would not do
 */
export function moreMounts(pair: Outlook): number | null {
  const enough = (more: number) => settledChance(pair, more) >= CHANCE;
  if (!enough(MOST_MORE)) return null;
  let [low, high] = [0, MOST_MORE];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (enough(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** Half the range, in standard deviations, and points over which the coming means are integrated. */
const RANGE = 3.6;
const POINTS = 24;

/**
 * Chance that the interval with more mounts excludes nought or lies wholly inside the margin.
 *
 * The difference then is normal about the one observed, for only the new mounts move it. Given it, the pair is settled where the scatter
 * found then is small enough; its sum of squares is what was found, chi-square of the new mounts, and what their mean's distance from the
 * old one adds. Integrated over the difference by Simpson's rule.
 */
function settledChance({ difference, margin, sides, fixed, df, critical }: Outlook, more: number): number {
  const added = (s: Side) => (s.grows ? more : 0);
  const kept = (s: Side) => s.n / (s.n + added(s));
  const now = sides.reduce((sum, s) => sum + s.variance, 0);
  const mounts = sides.reduce((sum, s) => sum + s.variance * kept(s), 0);
  const moved = Math.sqrt(sides.reduce((sum, s) => sum + (s.variance * s.n * added(s)) / (s.n + added(s)) ** 2, 0));
  const [before, after] = [df(0), df(more)];
  if (now === 0 || after <= 0) return 0;
  const limit = critical(after);
  const renewed = sides.reduce((sum, s) => sum + kept(s), 0) / sides.length;
  // of the new degrees of freedom one goes with the difference itself, and one counts as far as the old mean moves: matched in mean and
  // variance
  const whole = Math.max(0, after - before - 2);
  const [first, second] = [whole + renewed, whole + renewed * renewed];
  const settledAt = (z: number) => {
    const size = Math.abs(difference + moved * z);
    const half = Math.max(size, margin - size) / limit;
    // what the mounts' scatter may be, in units of the one estimated, squared
    const most = (half * half - fixed) / mounts;
    if (most <= 0) return 0;
    return chiSquareCdf(((most * after - before - renewed * z * z) * first) / second, (first * first) / second);
  };
  let total = 0;
  let weight = 0;
  for (let i = 0; i <= POINTS; i++) {
    const z = RANGE * ((2 * i) / POINTS - 1);
    const simpson = (i === 0 || i === POINTS ? 1 : i % 2 === 1 ? 4 : 2) * Math.exp(-(z * z) / 2);
    total += simpson * settledAt(z);
    weight += simpson;
  }
  return total / weight;
}
