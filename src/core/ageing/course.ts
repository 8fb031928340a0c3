import { tQuantile } from '../stats/distributions/t';
import { leastSquares } from '../stats/leastSquares';
import { mean, standardDeviation } from '../stats/moments';

/** One value of a mount at an age, in days, hours or cycles. */
export interface AgedValue {
  mount: string;
  age: number;
  value: number;
}

/** How values change with age: in proportion to it, to its square root, or by an approach to an end. */
export type Shape = 'linear' | 'root' | 'approach';

/** Change of one mount, by the shape fitted to all. */
interface MountCourse {
  mount: string;
  /** value at age 0 by the fit, and the change per unit of the shape */
  start: number;
  slope: number;
}

export interface AgeingCourse {
  shape: Shape;
  /** age constant of an approach; null else */
  tau: number | null;
  mounts: MountCourse[];
  /** youngest and oldest age measured */
  ages: [number, number];
  /** mean change from the youngest to the oldest age, with its interval over the mounts */
  change: { value: number; se: number; df: number; ci: [number, number] };
  /** scatter of single values about the courses */
  residual_sd: number;
  /** does the interval rest on the scatter between mounts, or, with one mount, on that of its readings? */
  rests_on: 'mounts' | 'readings';
}

/** Fewest ages a course can be told from. */
export const FEWEST_AGES = 3;
const TAU_STEPS = 40;

/**
 * Fits one shape to all mounts of a specimen, each with its own start and slope, and takes the scatter of the slopes from mount to mount as the
 * error: mounts are what is repeated, not readings. The shape is chosen by AICc over all mounts; an approach is tried from five ages on.
 *
 * Limits: all mounts are taken to follow one shape; with one mount the interval holds for this one mount only; nothing is said beyond the oldest age.
 * @returns null with fewer than three different ages, or no mount with two
 */
export function fitAgeing(values: AgedValue[], confidence: number): AgeingCourse | null {
  const ages = [...new Set(values.map((v) => v.age))].sort((a, b) => a - b);
  const names = [...new Set(values.map((v) => v.mount))];
  const mounts = names.map((mount) => values.filter((v) => v.mount === mount)).filter((own) => new Set(own.map((v) => v.age)).size > 1);
  if (ages.length < FEWEST_AGES || mounts.length === 0) return null;
  const fits = [
    fitShape(mounts, 'linear', null),
    fitShape(mounts, 'root', null),
    ...(ages.length >= 5 ? taus(ages).map((tau) => fitShape(mounts, 'approach', tau)) : []),
  ].flatMap((f) => f ?? []);
  if (fits.length === 0) return null;
  const best = fits.reduce((b, f) => (f.aicc < b.aicc ? f : b));
  const span: [number, number] = [ages[0], ages[ages.length - 1]];
  const [from, to] = span.map((age) => basis(best.shape, best.tau, age));
  // what is left of equal readings by rounding is no change
  const least = 1e-9 * Math.max(...values.map((v) => Math.abs(v.value)));
  const changes = best.courses.map((c) => c.slope * (to - from)).map((c) => (Math.abs(c) < least ? 0 : c));
  const value = mean(changes);
  const restsOn = changes.length > 1 ? 'mounts' : 'readings';
  const se = restsOn === 'mounts' ? standardDeviation(changes) / Math.sqrt(changes.length) : best.slopeSe * Math.abs(to - from);
  const df = restsOn === 'mounts' ? changes.length - 1 : best.df;
  const half = df > 0 ? tQuantile((1 + confidence) / 2, df) * se : Number.POSITIVE_INFINITY;
  return {
    ...{ shape: best.shape, tau: best.tau, mounts: best.courses, ages: span, rests_on: restsOn },
    change: { value, se, df, ci: [value - half, value + half] },
    residual_sd: best.df > 0 ? Math.sqrt(best.rss / best.df) : 0,
  };
}

/** Value of a mount's course at an age. */
export function courseAt({ shape, tau }: Pick<AgeingCourse, 'shape' | 'tau'>, { start, slope }: MountCourse, age: number): number {
  return start + slope * basis(shape, tau, age);
}

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

function basis(shape: Shape, tau: number | null, age: number): number {
  switch (shape) {
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

function fitShape(mounts: AgedValue[][], shape: Shape, tau: number | null) {
  let rss = 0;
  let slopeSe = 0;
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
    courses.push({ mount: own[0].mount, start, slope });
    rss += fit.rss;
    const df = own.length - 2;
    slopeSe = df > 0 ? Math.sqrt((fit.rss / df) * fit.inverse()[1][1]) : 0;
  }
  const parameters = 2 * mounts.length + (tau === null ? 0 : 1);
  const df = n - parameters;
  const spare = n - parameters - 2;
  // a shape that leaves no freedom is never preferred
  const aicc =
    spare > 0
      ? n * Math.log(Math.max(rss, 1e-12) / n) + (2 * (parameters + 1) * n) / spare
      : n * Math.log(Math.max(rss, 1e-12) / n) + (tau === null ? 0 : Number.POSITIVE_INFINITY);
  return { shape, tau, courses, rss, df, slopeSe, aicc };
}
