import { effectiveSize } from '#core/stats/autocorrelation';
import { leastSquares } from '#core/stats/leastSquares';

export interface Approach {
  /** value for infinite time */
  plateau: number;
  /** standard error of the plateau, autocorrelation of the residuals allowed for */
  plateau_se: number;
  /** y = plateau − Σ a·e^(−t/τ), by rising τ */
  terms: { a: number; tau_s: number }[];
  rss: number;
  aicc: number;
}

/** Points a fit rests on at most, and points its starting grid is tried on. */
const MOST_POINTS = 400;
const GRID_POINTS = 80;

/**
 * Exponential course to an end value, one or two terms, the better by AICc.
 *
 * The linear parameters are solved exactly for given time constants (variable projection, Golub & Pereyra 1973); the time constants come
 * from a grid, then from Gauss–Newton steps on all parameters.
 * @param t seconds, rising
 * @returns null for fewer than 12 samples or where no time constant can be told
 */
export function fitApproach(t: Float64Array, values: Float64Array): Approach | null {
  if (values.length < 12) return null;
  const { x, y } = average(t, values, MOST_POINTS);
  const one = fitTerms(x, y, 1);
  const two = fitTerms(x, y, 2);
  if (!one) return two;
  return two && two.aicc < one.aicc ? two : one;
}

/** Fits exactly the given number of terms. */
export function fitTerms(x: Float64Array, y: Float64Array, count: 1 | 2): Approach | null {
  const span = x[x.length - 1] - x[0];
  if (!(span > 0)) return null;
  const least = Math.max(span / x.length, 1e-9);
  const grid = Array.from({ length: 24 }, (_, i) => least * (3 * (span / least)) ** (i / 23));
  let best: { rss: number; taus: number[] } | null = null;
  const coarse = average(x, y, GRID_POINTS);
  const consider = (taus: number[]) => {
    const fit = solveLinear(coarse.x, coarse.y, taus);
    if (fit && (!best || fit.rss < best.rss)) best = { rss: fit.rss, taus };
  };
  for (let i = 0; i < grid.length; i++) {
    if (count === 1) consider([grid[i]]);
    else for (let j = i + 2; j < grid.length; j += 2) consider([grid[i], grid[j]]);
  }
  return best ? refine(x, y, (best as { taus: number[] }).taus) : null;
}

const solveLinear = (x: Float64Array, y: Float64Array, taus: number[]) =>
  leastSquares([x.map(() => 1), ...taus.map((tau) => x.map((v) => -Math.exp(-(v - x[0]) / tau)))], y);

/** Gauss–Newton on ln τ with the linear part solved anew at each step; halves a step that does not improve. */
function refine(x: Float64Array, y: Float64Array, start: number[]): Approach | null {
  let logs = start.map(Math.log);
  let linear = solveLinear(x, y, start);
  if (!linear) return null;
  for (let iteration = 0; iteration < 30; iteration++) {
    const step = leastSquares(jacobian(x, linear.coefficients, logs), residuals(x, y, linear.coefficients, logs));
    if (!step) break;
    const change = Array.from(step.coefficients.subarray(1 + logs.length));
    let factor = 1;
    let accepted = false;
    for (; factor > 1e-6; factor /= 2) {
      const next = logs.map((l, k) => l + Math.max(-1, Math.min(1, factor * change[k])));
      const trial = solveLinear(x, y, next.map(Math.exp));
      if (trial && trial.rss <= linear.rss) {
        accepted = next.some((l, k) => Math.abs(l - logs[k]) > 1e-10);
        logs = next;
        linear = trial;
        break;
      }
    }
    if (!accepted) break;
  }
  return describe(x, y, linear.coefficients, logs);
}

function residuals(x: Float64Array, y: Float64Array, c: Float64Array, logs: number[]): Float64Array {
  const rest = y.map((v) => v - c[0]);
  logs.forEach((l, k) => {
    const tau = Math.exp(l);
    for (let i = 0; i < x.length; i++) rest[i] += c[k + 1] * Math.exp(-(x[i] - x[0]) / tau);
  });
  return rest;
}

/** Derivatives by plateau, amplitudes and ln τ, one column each. */
function jacobian(x: Float64Array, c: Float64Array, logs: number[]): Float64Array[] {
  const taus = logs.map(Math.exp);
  const decays = taus.map((tau) => x.map((v) => Math.exp(-(v - x[0]) / tau)));
  return [
    x.map(() => 1),
    ...decays.map((d) => d.map((e) => -e)),
    ...decays.map((d, k) => d.map((e, i) => (-c[k + 1] * e * (x[i] - x[0])) / taus[k])),
  ];
}

function describe(x: Float64Array, y: Float64Array, c: Float64Array, logs: number[]): Approach | null {
  const gram = leastSquares(jacobian(x, c, logs), y);
  if (!gram) return null;
  const rest = residuals(x, y, c, logs);
  const rss = rest.reduce((sum, r) => sum + r * r, 0);
  const n = x.length;
  const p = 1 + 2 * logs.length;
  if (n <= p + 2) return null;
  const nEff = effectiveSize(rest).n_eff;
  const variance = (rss / (n - p)) * (n / nEff);
  const k = p + 1;
  const terms = logs.map((l, i) => ({ a: c[i + 1], tau_s: Math.exp(l) })).sort((p1, p2) => p1.tau_s - p2.tau_s);
  return {
    plateau: c[0],
    plateau_se: Math.sqrt(Math.max(0, gram.inverse()[0][0]) * variance),
    terms,
    rss,
    aicc: n * Math.log(Math.max(rss, 1e-300) / n) + 2 * k + (2 * k * (k + 1)) / (n - k - 1),
  };
}

/** Averages long series in equal groups, so that a fit takes the same time for any log. */
function average(t: Float64Array, values: Float64Array, most: number): { x: Float64Array; y: Float64Array } {
  const group = Math.ceil(values.length / most);
  if (group === 1) return { x: t, y: values };
  const n = Math.floor(values.length / group);
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < group; j++) {
      x[i] += t[i * group + j] / group;
      y[i] += values[i * group + j] / group;
    }
  }
  return { x, y };
}
