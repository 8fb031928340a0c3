import { leastSquares } from '../stats/leastSquares';

/** When a run under load will be steady, and where its rise ends, as far as the run so far tells. Times from the first sample given. */
export interface Forecast {
  /** median and 95 % interval of the time at which the first window that stays steady ends, s */
  steady_s: number;
  low_s: number;
  high_s: number;
  /** median and 95 % interval of the rise for infinite time, K */
  end_k: number;
  end_low_k: number;
  end_high_k: number;
  /** slowest time constant that matters, s */
  tau_s: number;
}

export interface ForecastOptions {
  /** window that has to be steady, s */
  window_s: number;
  /** steady where slope and uncertainty stay within it, K/min */
  slope_k_per_min: number;
}

/** Points the fits rest on, and time constants tried over the span. */
const POINTS = 70;
const GRID = 18;
/** Slowest time constant that is tried, as a multiple of the time seen so far. */
const SLOWEST = 2.5;
/** Slowest time constant that is as likely as any, as a share of the time seen, and the spread of its logarithm beyond. */
const LIKELY = 0.5;
const UNLIKELY = 1;
/** With slower ones than this share of the time seen nothing is said. */
const TOO_SLOW = 0.9;
/** The groups' likelihood is tempered by this, for what no sum of a few exponentials describes. */
const TEMPER = 2;
/** Scatter of the moment itself, in standard errors of a window's slope: noise makes a window pass early or fail late. Found by simulation. */
const LATE = { mean: -0.4, sd: 1.9 };
/** Quantiles of the normal law by which that scatter is spread over each fit. */
const SPREAD = [-1.8, -1.1, -0.67, -0.36, -0.12, 0.12, 0.36, 0.67, 1.1, 1.8];

interface Course {
  weight: number;
  plateau: number;
  /** standard error of the plateau for these time constants */
  plateau_se: number;
  terms: { a: number; tau: number }[];
}

/**
 * Forecast of a heating or cooling course by weighing sums of exponentials: every pair and triple of time constants on a logarithmic grid is
 * fitted by least squares, kept where all its terms go the same way (a driving-point response of a passive thermal network is such a sum),
 * and weighed by its likelihood. The spread of what they say is the uncertainty, so that a course whose end is not seen yet gives a wide one.
 * Assumes constant power and room; after a change of either the course before it tells nothing.
 * @param t seconds, rising; begin where the load became constant
 * @returns null where the course is too short or too noisy to tell
 */
export function forecastSteady(t: Float64Array, rise: Float64Array, { window_s, slope_k_per_min }: ForecastOptions): Forecast | null {
  if (t.length < 20) return null;
  const seen = thin(t, rise);
  const span = seen.x[seen.x.length - 1] - seen.x[0];
  if (!(span > 0)) return null;
  const courses = weighCourses(seen.x, seen.y, span);
  if (courses.length === 0) return null;
  const noise = slopeNoise(t, rise, courses[0], window_s);
  const x0 = t[0];
  const drawn: { value: number; weight: number }[] = [];
  const ends: { value: number; weight: number }[] = [];
  for (const course of courses) {
    for (const z of SPREAD) {
      ends.push({ value: course.plateau + z * course.plateau_se, weight: course.weight / SPREAD.length });
      const allowed = slope_k_per_min - noise.reach - (LATE.mean + LATE.sd * z) * noise.se;
      drawn.push({ value: timeBelow(course, Math.max(allowed, 0.02 * slope_k_per_min), window_s) + seen.x[0] - x0, weight: course.weight / SPREAD.length });
    }
  }
  const at = (list: typeof drawn, p: number) => weightedQuantile(list, p);
  const slow = courses.map((c) => ({ value: slowestOf(c), weight: c.weight }));
  // a course that hardly bends yet could end anywhere
  if (at(slow, 0.5) > TOO_SLOW * span) return null;
  return {
    steady_s: at(drawn, 0.5),
    low_s: at(drawn, 0.025),
    high_s: at(drawn, 0.975),
    end_k: at(ends, 0.5),
    end_low_k: at(ends, 0.025),
    end_high_k: at(ends, 0.975),
    tau_s: at(slow, 0.5),
  };
}

/** Means of equal groups, dense at the start where the course bends most. */
function thin(t: Float64Array, rise: Float64Array): { x: Float64Array; y: Float64Array; n: Float64Array } {
  const known: number[] = [];
  for (let i = 0; i < t.length; i++) if (!Number.isNaN(rise[i])) known.push(i);
  const groups = Math.min(POINTS, Math.floor(known.length / 2));
  const x = new Float64Array(groups);
  const y = new Float64Array(groups);
  const n = new Float64Array(groups);
  for (let g = 0; g < groups; g++) {
    const from = Math.floor((g * known.length) / groups);
    const to = Math.floor(((g + 1) * known.length) / groups);
    for (let k = from; k < to; k++) {
      x[g] += t[known[k]] / (to - from);
      y[g] += rise[known[k]] / (to - from);
    }
    n[g] = to - from;
  }
  return { x, y, n };
}

function weighCourses(x: Float64Array, y: Float64Array, span: number): Course[] {
  const least = span / x.length;
  const taus = Array.from({ length: GRID }, (_, i) => least * ((SLOWEST * span) / least) ** (i / (GRID - 1)));
  const columns = taus.map((tau) => x.map((v) => -Math.exp(-(v - x[0]) / tau)));
  const ones = x.map(() => 1);
  const fits: { rss: number; gain: number; plateau: number; terms: Course['terms'] }[] = [];
  const consider = (chosen: number[]) => {
    const fit = leastSquares([ones, ...chosen.map((k) => columns[k])], y);
    if (!fit) return;
    const a = Array.from(fit.coefficients.subarray(1));
    if (!(a.every((v) => v > 0) || a.every((v) => v < 0))) return;
    fits.push({ rss: fit.rss, gain: fit.inverse()[0][0], plateau: fit.coefficients[0], terms: a.map((v, i) => ({ a: v, tau: taus[chosen[i]] })) });
  };
  for (let i = 0; i < GRID; i++) {
    consider([i]);
    for (let j = i + 1; j < GRID; j++) {
      consider([i, j]);
      for (let k = j + 1; k < GRID; k++) consider([i, j, k]);
    }
  }
  if (fits.length === 0) return [];
  const best = fits.reduce((b, f) => (f.rss < b.rss ? f : b));
  const variance = Math.max(best.rss / Math.max(1, x.length - 7), 1e-12);
  // groups next to each other share some of their noise: their likelihood is tempered by what that leaves of their number
  const temper = TEMPER * inflation(x, y, best);
  const courses = fits.map((f) => ({
    weight: Math.exp(-(f.rss - best.rss) / (2 * variance * temper)) * prior(f, span),
    plateau: f.plateau,
    plateau_se: Math.sqrt(Math.max(0, f.gain) * variance * temper),
    terms: f.terms,
  }));
  return courses.filter((c) => c.weight > 1e-4).sort((a, b) => b.weight - a.weight);
}

/** A course hardly bends yet where its slowest time constant is this share of the time seen; slower ones than this are less and less likely. */
function prior({ terms }: Pick<Course, 'terms'>, span: number): number {
  const beyond = Math.log(Math.max(...terms.map((t) => t.tau)) / (LIKELY * span));
  return beyond > 0 ? Math.exp(-(beyond ** 2) / (2 * UNLIKELY ** 2)) : 1;
}

/** (1 + φ)/(1 − φ) of what the best course leaves. */
function inflation(x: Float64Array, y: Float64Array, course: Pick<Course, 'plateau' | 'terms'>): number {
  const rest = y.map((v, i) => v - valueAt(course, x[i] - x[0]));
  let c0 = 0;
  let c1 = 0;
  for (let i = 0; i < rest.length; i++) {
    c0 += rest[i] ** 2;
    if (i > 0) c1 += rest[i] * rest[i - 1];
  }
  const phi = Math.max(0, Math.min(0.8, c1 / Math.max(c0, 1e-12)));
  return (1 + phi) / (1 - phi);
}

/** Standard error and one-sided reach of a window's slope at the noise seen about the best course, K/min. */
function slopeNoise(t: Float64Array, rise: Float64Array, course: Course, window: number): { se: number; reach: number } {
  const x0 = t[0];
  const rest = rise.map((v, i) => v - valueAt(course, t[i] - x0));
  const period = (t[t.length - 1] - t[0]) / (t.length - 1);
  const from = Math.floor(rest.length / 4);
  const part = rest.subarray(from).filter((v) => !Number.isNaN(v));
  const n = part.length;
  const mean = part.reduce((s, v) => s + v, 0) / n;
  let c0 = 0;
  let c1 = 0;
  for (let i = 0; i < n; i++) {
    c0 += (part[i] - mean) ** 2 / n;
    if (i > 0) c1 += ((part[i] - mean) * (part[i - 1] - mean)) / n;
  }
  const phi = Math.max(0, Math.min(0.98, c1 / Math.max(c0, 1e-12)));
  const inWindow = Math.max(2, window / period);
  const nEff = Math.max(3, (inWindow * (1 - phi)) / (1 + phi));
  const se = (60 * Math.sqrt((12 * c0) / nEff)) / window;

  return { se, reach: (1.66 + 2 / nEff) * se };
}

function valueAt({ plateau, terms }: Pick<Course, 'plateau' | 'terms'>, s: number): number {
  return terms.reduce((v, { a, tau }) => v - a * Math.exp(-s / tau), plateau);
}

/** Least-squares slope of the course over the window that ends at a time, K/min. */
function windowSlope({ terms }: Course, end: number, window: number): number {
  let slope = 0;
  for (const { a, tau } of terms) {
    const u = window / tau;
    // of −a·e^(−t/τ) over [−w/2, w/2] about its middle: 12/w³ ∫ s·f(s) ds
    const middle = end - window / 2;
    const shape = u < 1e-3 ? u / 12 : (Math.cosh(u / 2) / u - (2 * Math.sinh(u / 2)) / u ** 2) / u;
    slope += ((12 * a * Math.exp(-middle / tau)) / window) * shape * u;
  }
  return 60 * slope;
}

/** First time at which the window's slope stays below a limit, s from the course's start. */
function timeBelow(course: Course, limit: number, window: number): number {
  const high0 = 20 * slowestOf(course) + window;
  let low = window;
  let high = high0;
  if (Math.abs(windowSlope(course, low, window)) <= limit) return low;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (Math.abs(windowSlope(course, middle, window)) > limit) low = middle;
    else high = middle;
  }
  return high;
}

function slowestOf({ terms }: Course): number {
  return Math.max(...terms.map((t) => t.tau));
}

function weightedQuantile(list: { value: number; weight: number }[], p: number): number {
  const sorted = [...list].sort((a, b) => a.value - b.value);
  const total = sorted.reduce((s, v) => s + v.weight, 0);
  let sum = 0;
  for (const { value, weight } of sorted) {
    sum += weight;
    if (sum >= p * total) return value;
  }
  return sorted[sorted.length - 1].value;
}
