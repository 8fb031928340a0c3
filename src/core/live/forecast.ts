import type { PowerCourse } from '#core/signal/course/powerCourse';
import { type Candidate, courseEnd } from './courseEnd';

/** When a run under load will be steady, and where its rise ends, as far as the run so far tells. Times from the first sample given. */
interface Forecast {
  /** median and 95 % interval of the time at which the first window that stays steady ends, s */
  steady_s: number;
  low_s: number;
  high_s: number;
  /** best value and 95 % interval of the rise for infinite time, K; null where the interval is wider than a fifth of the rise */
  end: { k: number; low_k: number; high_k: number } | null;
  /** how far the mean of the last window may still be from the end, K: the one-sided 95 % bound of its size */
  left_k: number;
  /** slowest time constant that matters, s */
  tau_s: number;
}

export interface ForecastOptions {
  /** window that has to be steady, s */
  window_s: number;
  /** steady where slope and uncertainty stay within it, K/min */
  slope_k_per_min: number;
}

/** With slower ones than this share of the time seen nothing is said. */
const TOO_SLOW = 0.9;
/**
 * Scatter of the moment itself, in standard errors of a window's slope: noise makes a window pass early or fail late. Found by simulation.
 */
const LATE = { mean: 0.3, sd: 2.6 };
/** Quantiles of the normal law by which that scatter is spread over each fit. */
const REST = [-1.5, 0, 1.5];
const SPREAD = [-1.8, -1.1, -0.67, -0.36, -0.12, 0.12, 0.36, 0.67, 1.1, 1.8];

/** A width of the end's interval beyond this share of the rise tells nothing. */
const TELLING = 1 / 5;

/**
 * Forecast of a heating or cooling course: what the readings do not exclude of its sums of exponentials, each with when its slope passes,
 * and the end with its interval by profile likelihood. Assumes constant power and room from now on.
 * @param t seconds since the load came on, rising
 * @param power its course since then as a share of the power of now; null where none was logged
 * @returns null where the course is too short or too noisy to tell
 */
export function forecastSteady(
  t: Float64Array,
  rise: Float64Array,
  power: PowerCourse | null,
  { window_s, slope_k_per_min }: ForecastOptions,
): Forecast | null {
  const known = t.findIndex((_, i) => Number.isNaN(rise[i])) < 0 ? { t, rise } : withoutGaps(t, rise);
  if (known.t.length < 20) return null;
  const now = known.t[known.t.length - 1];
  const end = courseEnd(known.t, known.rise, power, window_s);
  if (!end) return null;
  const noise = slopeNoise(known.t, known.rise, end.best, window_s);
  const weights = end.likely.map((c) => ({ c, weight: Math.exp((end.best.rss - c.rss) / (2 * end.scale)) }));
  const drawn = weights.flatMap(({ c, weight }) =>
    SPREAD.flatMap((z) => {
      const allowed = Math.max(slope_k_per_min - noise.reach - (LATE.mean + LATE.sd * z) * noise.se, 0.02 * slope_k_per_min);
      // what is left is as unsure as its size: a larger rest passes the slope later
      const unsure = Math.min(1, Math.sqrt(end.scale * c.left_variance) / Math.max(Math.abs(c.left), 1e-9));
      return REST.map((by) => ({ value: now + timeBelow(c, allowed / Math.exp(by * unsure), window_s, now), weight }));
    }),
  );
  const slow = weightedQuantile(
    weights.map(({ c, weight }) => ({ value: tauOf(c), weight })),
    0.5,
  );
  // a course that hardly bends yet could end anywhere
  if (slow > TOO_SLOW * now) return null;
  const telling = end.high_k - end.low_k < TELLING * Math.abs(known.rise[known.rise.length - 1]);
  return {
    steady_s: weightedQuantile(drawn, 0.5),
    low_s: weightedQuantile(drawn, 0.025),
    high_s: weightedQuantile(drawn, 0.975),
    end: telling ? { k: end.best.end, low_k: end.low_k, high_k: end.high_k } : null,
    left_k: Math.max(end.left_high_k, -end.left_low_k),
    tau_s: slow,
  };
}

function withoutGaps(t: Float64Array, rise: Float64Array): { t: Float64Array; rise: Float64Array } {
  const kept = Array.from(t.keys()).filter((i) => !Number.isNaN(rise[i]));
  return { t: Float64Array.from(kept, (i) => t[i]), rise: Float64Array.from(kept, (i) => rise[i]) };
}

/** Standard error and one-sided reach of a window's slope at the noise seen about the best course, K/min. */
function slopeNoise(t: Float64Array, rise: Float64Array, course: Candidate, window: number): { se: number; reach: number } {
  const now = t[t.length - 1];
  const rest = rise.map((v, i) => v - valueAt(course, t[i] - now));
  const period = (t[t.length - 1] - t[0]) / (t.length - 1);
  const from = Math.floor(rest.length / 2);
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

/** The course at a time from now on, s. */
const valueAt = ({ end, terms }: Candidate, s: number): number => terms.reduce((v, { a, tau }) => v - a * Math.exp(-s / tau), end);

/** Least-squares slope of the course over the window that ends at a time from now on, K/min. */
function windowSlope({ terms }: Candidate, end: number, window: number): number {
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

/** First time at which the window's slope stays below a limit, s from now on; no window ends before it is whole. */
function timeBelow(course: Candidate, limit: number, window: number, now: number): number {
  let low = window - now;
  let high = 20 * slowestOf(course) + window;
  if (Math.abs(windowSlope(course, low, window)) <= limit) return low;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (Math.abs(windowSlope(course, middle, window)) > limit) low = middle;
    else high = middle;
  }
  return high;
}

const slowestOf = ({ terms }: Candidate): number => Math.max(...terms.map((t) => t.tau));

/** The time constant by which what is left falls now, s. */
const tauOf = ({ terms }: Candidate): number => terms.reduce((s, { a }) => s + a, 0) / terms.reduce((s, { a, tau }) => s + a / tau, 0);

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
