import { fUpperTail } from '#core/stats/distributions/f';
import { tQuantile } from '#core/stats/distributions/t';
import { leastSquares } from '#core/stats/leastSquares';
import { mean, standardDeviation } from '#core/stats/moments';

/** One value of a mount at an age, in days, hours or cycles. */
export interface AgedValue {
  mount: string;
  age: number;
  value: number;
}

/** How values change with age: in proportion to it, to its square root, or by an approach to an end. */
type Shape = 'linear' | 'root' | 'approach';

/** Change of one mount, by the shape fitted to all. */
interface MountCourse {
  mount: string;
  /** value at age 0 by the fit, and the change per unit of the shape */
  start: number;
  slope: number;
  /** sum of squares of the shape about its mean: what the slope rests on */
  spread: number;
}

export interface AgeingCourse {
  /** null where none of the shapes fits: then only the change from first to last age is told */
  shape: Shape | null;
  /** age constant of an approach; null else */
  tau: number | null;
  mounts: MountCourse[];
  /** youngest and oldest age measured */
  ages: [number, number];
  /** mean change from the youngest to the oldest age, with its interval over the mounts */
  change: { value: number; se: number; df: number; ci: [number, number] };
  /** scatter of single values about the courses */
  residual_sd: number;
  /** p of the lack of fit against age as a factor; null where it cannot be judged */
  misfit_p: number | null;
  /** mean change since the youngest age at every age measured, added to the mean there */
  means: { age: number; value: number }[];
  /** does the interval rest on the scatter between mounts, or, with one mount, on that of its readings? */
  rests_on: 'mounts' | 'readings';
}

/** Fewest ages a course can be told from. */
const FEWEST_AGES = 3;
/** A shape with a lack of fit below this is none. */
const MISFIT_P = 0.05;
/** Ages that differ by under this share of the span count as one. */
const ONE_AGE = 0.1;
const TAU_STEPS = 40;

/**
 * Fits one shape to all mounts of a specimen, each with its own start and slope. Slopes are drawn about a mean one by the scatter between
 * mounts (REML; interval by Knapp & Hartung 2003), so that a mount that was followed for a shorter time weighs less: mounts are what is
 * repeated, not readings. The shape is chosen by AICc over all mounts; an approach is tried from five ages on. It is then held against age
 * as a factor: where that tells the values significantly better, no shape is told, only the change from the first to the last age.
 *
 * Limits: all mounts are taken to follow one shape; with one mount the interval holds for this one mount only; nothing is said beyond the
 * oldest age.
 * @returns null with fewer than three different ages, or no mount with two
 */
export function fitAgeing(values: AgedValue[], confidence: number): AgeingCourse | null {
  const ages = agesOf(values);
  const names = [...new Set(values.map((v) => v.mount))];
  const mounts = names.map((mount) => values.filter((v) => v.mount === mount)).filter((own) => new Set(own.map((v) => v.age)).size > 1);
  if (ages.length < FEWEST_AGES || mounts.length === 0) return null;
  const fits = [
    fitShape(mounts, 'linear', null),
    fitShape(mounts, 'root', null),
    ...(ages.length >= 5 ? [approach(mounts, ages)] : []),
  ].flatMap((f) => f ?? []);
  if (fits.length === 0) return null;
  const best = fits.reduce((b, f) => (f.aicc < b.aicc ? f : b));
  const misfit_p = lackOfFit(mounts, ages, best);
  const fitted = misfit_p === null || misfit_p >= MISFIT_P;
  const all = values.map((v) => v.age);
  const span: [number, number] = [Math.min(...all), Math.max(...all)];
  const [from, to] = span.map((age) => basis(best.shape, best.tau, age));
  // what is left of equal readings by rounding is no change
  const least = 1e-9 * Math.max(...values.map((v) => Math.abs(v.value)));
  const rounded = (c: number) => (Math.abs(c) < least ? 0 : c);
  const sd = best.df > 0 ? Math.sqrt(best.rss / best.df) : 0;
  const changes = fitted
    ? best.courses.map((c) => ({ value: rounded(c.slope * (to - from)), variance: (sd * (to - from)) ** 2 / c.spread }))
    : changesWithin(mounts, ages).map((c) => ({ ...c, variance: sd * sd * c.variance }));
  if (changes.length === 0) return null;
  const restsOn = changes.length > 1 ? 'mounts' : 'readings';
  const mixed = meanOfMounts(changes);
  const se = restsOn === 'mounts' ? mixed.se : Math.sqrt(changes[0].variance);
  const df = restsOn === 'mounts' ? changes.length - 1 : best.df;
  const half = df > 0 ? tQuantile((1 + confidence) / 2, df) * se : Number.POSITIVE_INFINITY;
  return {
    ...{ shape: fitted ? best.shape : null, tau: fitted ? best.tau : null, mounts: best.courses, ages: span, rests_on: restsOn, misfit_p },
    change: { value: mixed.value, se, df, ci: [mixed.value - half, mixed.value + half] },
    residual_sd: sd,
    means: meansWithin(mounts, ages),
  };
}

/** Ages of values, those that are close as one: the mean of the group. */
function agesOf(values: AgedValue[]): number[] {
  const sorted = [...new Set(values.map((v) => v.age))].sort((a, b) => a - b);
  const close = ONE_AGE * (sorted[sorted.length - 1] - sorted[0]);
  const groups: number[][] = [];
  for (const age of sorted) {
    const last = groups[groups.length - 1];
    if (last && age - last[0] < close) last.push(age);
    else groups.push([age]);
  }
  return groups.map(mean);
}

const nearest = (ages: number[], age: number) =>
  ages.reduce((best, a, k) => (Math.abs(a - age) < Math.abs(ages[best] - age) ? k : best), 0);

/**
 * Mean of values with known variances that also scatter between mounts: the variance between by REML, the mean's by Knapp & Hartung
 * (Statistics in Medicine 22, 2003). Equal variances give the plain mean and its plain standard error.
 */
function meanOfMounts(changes: { value: number; variance: number }[]): { value: number; se: number } {
  const k = changes.length;
  let between = k > 1 ? standardDeviation(changes.map((c) => c.value)) ** 2 : 0;
  const weigh = () => {
    const floor = 1e-12 + 1e-9 * between;
    const weights = changes.map((c) => 1 / Math.max(floor, between + c.variance));
    const total = weights.reduce((a, b) => a + b, 0);
    return { weights, total, value: changes.reduce((sum, c, i) => sum + weights[i] * c.value, 0) / total };
  };
  for (let round = 0; round < 50; round++) {
    const { weights, total, value } = weigh();
    const squares = weights.reduce((sum, w) => sum + w * w, 0);
    between = Math.max(
      0,
      changes.reduce((sum, c, i) => sum + weights[i] ** 2 * ((c.value - value) ** 2 - c.variance), 0) / squares + 1 / total,
    );
  }
  const { weights, total, value } = weigh();
  const spread = changes.reduce((sum, c, i) => sum + weights[i] * (c.value - value) ** 2, 0);
  return { value, se: k > 1 ? Math.sqrt(spread / ((k - 1) * total)) : 0 };
}

/** p of F for age as a factor beside the shape, every mount keeping its own start and slope; null without freedom for both. */
function lackOfFit(mounts: AgedValue[][], ages: number[], best: NonNullable<ReturnType<typeof fitShape>>): number | null {
  const extra = ages.length - 2;
  const rows = mounts.flat();
  const df = rows.length - 2 * mounts.length - extra;
  const size = Math.max(...rows.map((v) => Math.abs(v.value)));
  // what rounding leaves of an exact course is no scatter
  if (extra < 1 || df < 1 || best.rss <= rows.length * (1e-6 * size) ** 2) return null;
  const column = (of: (v: AgedValue) => number) => Float64Array.from(rows, of);
  const own = mounts.flatMap((m) => {
    const name = m[0].mount;
    return [column((v) => (v.mount === name ? 1 : 0)), column((v) => (v.mount === name ? basis(best.shape, best.tau, v.age) : 0))];
  });
  // the first and the last age are told by start and slope
  const factor = ages.slice(1, -1).map((_, k) => column((v) => (nearest(ages, v.age) === k + 1 ? 1 : 0)));
  const fit = leastSquares(
    [...own, ...factor],
    column((v) => v.value),
  );
  if (!fit || fit.rss <= 0) return null;
  return fUpperTail((best.rss - fit.rss) / extra / (fit.rss / df), extra, df);
}

/** Change from the first to the last age of the mounts measured at both, with its variance in units of that of a single value. */
const changesWithin = (mounts: AgedValue[][], ages: number[]): { value: number; variance: number }[] =>
  mounts.flatMap((own) => {
    const at = (k: number) => own.filter((v) => nearest(ages, v.age) === k).map((v) => v.value);
    const [first, last] = [at(0), at(ages.length - 1)];
    return first.length > 0 && last.length > 0 ? [{ value: mean(last) - mean(first), variance: 1 / first.length + 1 / last.length }] : [];
  });

/** Mean over the mounts at every age, by what each changed since its own first value. */
function meansWithin(mounts: AgedValue[][], ages: number[]): { age: number; value: number }[] {
  const level = mean(mounts.map((own) => own.reduce((young, v) => (v.age < young.age ? v : young)).value));
  return ages.flatMap((age, k) => {
    const changes = mounts.flatMap((own) => {
      const start = own.reduce((young, v) => (v.age < young.age ? v : young)).value;
      return own.filter((v) => nearest(ages, v.age) === k).map((v) => v.value - start);
    });
    return changes.length > 0 ? [{ age, value: level + mean(changes) }] : [];
  });
}

/** Value of a mount's course at an age. */
export const courseAt = ({ shape, tau }: Pick<AgeingCourse, 'shape' | 'tau'>, { start, slope }: MountCourse, age: number): number =>
  start + slope * basis(shape, tau, age);

/** Mean change per unit of age over what was measured; for a straight course the change per unit anywhere. */
export function meanRate({ change, ages }: AgeingCourse, per: number): { value: number; ci: [number, number] } {
  const factor = per / (ages[1] - ages[0]);
  return { value: change.value * factor, ci: [change.ci[0] * factor, change.ci[1] * factor] };
}

export type AgeingVerdict = 'steady' | 'worse' | 'better' | 'unresolved' | 'worse_within_margin' | 'better_within_margin';

/** Has it changed? Steady where the whole interval of the change lies within the margin and holds zero. */
export function ageingVerdict({ change }: AgeingCourse, margin: number): AgeingVerdict {
  const [low, high] = change.ci;
  const small = -margin < low && high < margin;
  if (low > 0) return small ? 'worse_within_margin' : 'worse';
  if (high < 0) return small ? 'better_within_margin' : 'better';
  return small ? 'steady' : 'unresolved';
}

function basis(shape: Shape | null, tau: number | null, age: number): number {
  switch (shape) {
    case null:
    case 'linear':
      return age;
    case 'root':
      return Math.sqrt(age);
    case 'approach':
      return -Math.expm1(-age / (tau ?? 1));
  }
}

/** Age constants to try, from the closest ages to the whole span; a slower approach cannot be told from a line. */
function taus(ages: number[]): number[] {
  const span = ages[ages.length - 1] - ages[0];
  const least = Math.max(span / 1000, Math.min(...ages.slice(1).map((a, i) => a - ages[i])) / 3);
  return Array.from({ length: TAU_STEPS }, (_, i) => least * (span / 2 / least) ** (i / (TAU_STEPS - 1)));
}

/** The approach with the age constant that fits best: on a grid, then by golden sections around it. */
function approach(mounts: AgedValue[][], ages: number[]) {
  const grid = taus(ages);
  const rssAt = (tau: number) => fitShape(mounts, 'approach', tau)?.rss ?? Number.POSITIVE_INFINITY;
  const sizes = grid.map(rssAt);
  const k = sizes.indexOf(Math.min(...sizes));
  let [low, high] = [grid[Math.max(0, k - 1)], grid[Math.min(grid.length - 1, k + 1)]].map(Math.log);
  const share = (Math.sqrt(5) - 1) / 2;
  for (let i = 0; i < 25; i++) {
    const [a, b] = [high - share * (high - low), low + share * (high - low)];
    if (rssAt(Math.exp(a)) < rssAt(Math.exp(b))) high = b;
    else low = a;
  }
  return fitShape(mounts, 'approach', Math.exp((low + high) / 2));
}

function fitShape(mounts: AgedValue[][], shape: Shape, tau: number | null) {
  let rss = 0;
  const courses: MountCourse[] = [];
  const n = mounts.reduce((sum, own) => sum + own.length, 0);
  for (const own of mounts) {
    const x = Float64Array.from(own, (v) => basis(shape, tau, v.age));
    const fit = leastSquares(
      [x.map(() => 1), x],
      Float64Array.from(own, (v) => v.value),
    );
    if (!fit) return null;
    const [start, slope] = fit.coefficients;
    const middle = mean(Array.from(x));
    courses.push({ mount: own[0].mount, start, slope, spread: x.reduce((sum, v) => sum + (v - middle) ** 2, 0) });
    rss += fit.rss;
  }
  const parameters = 2 * mounts.length + (tau === null ? 0 : 1);
  const df = n - parameters;
  const spare = n - parameters - 2;
  // a shape that leaves no freedom is never preferred
  const aicc =
    spare > 0
      ? n * Math.log(Math.max(rss, 1e-12) / n) + (2 * (parameters + 1) * n) / spare
      : n * Math.log(Math.max(rss, 1e-12) / n) + (tau === null ? 0 : Number.POSITIVE_INFINITY);
  return { shape, tau, courses, rss, df, aicc };
}
