import type { LogBins } from './logBins';

/** What a single reading is off by: its own scatter, and what the sensor's steps add. */
export interface ReadingErrors {
  /** standard deviation of the sensor's own scatter, before it is written in steps */
  scatter: number;
  /** step of the sensor, 0 where none can be told */
  resolution: number;
  /** readings that hang on each other are worth this many times fewer */
  hanging: number;
}

/** Second differences beyond this many times their usual size are spikes. */
const SPIKE = 6;
/** Hanging on each other is judged within blocks of so many readings, up to this lag. */
const BLOCK = 60;
const MOST_LAG = 20;

/**
 * Errors of single readings of a course that has become slow.
 *
 * The variance of second differences is 6(σ² + w), w the part of the rounding error that scatter shakes loose: q²/12·(1 − e^(−4π²σ²/q²))
 * (first harmonic of the rounding error; Widrow & Kollár, Quantization Noise, 2008, ch. 6), from which σ is found.
 * @param values readings of the slower part, in time order
 * @param resolution step of the sensor, in the same unit; null where none can be told
 */
export function readingErrors(values: Float64Array, resolution: number | null): ReadingErrors {
  const q = resolution ?? 0;
  const second = Array.from(values.subarray(2), (v, i) => v - 2 * values[i + 1] + values[i]).filter(Number.isFinite);
  const usual = Math.sqrt(meanSquare(second));
  const kept = second.filter((v) => Math.abs(v) <= SPIKE * usual);
  const seen = meanSquare(kept) / 6;
  const told = (s2: number) => s2 + loose(s2, q);
  let [low, high] = [0, seen];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (told(middle) > seen) high = middle;
    else low = middle;
  }
  const scatter = Math.max(Math.sqrt((low + high) / 2), 0.02 * q, 1e-6);
  // steps wider than the scatter hang together by themselves, which the errors of the bins know
  return { scatter, resolution: q, hanging: scatter > 0.4 * q ? hanging(values, seen) : 1 };
}

const loose = (s2: number, q: number): number => (q > 0 ? (q * q * -Math.expm1((-4 * Math.PI * Math.PI * s2) / (q * q))) / 12 : 0);

/**
 * How many times fewer readings are worth: 1 + 2Σρ over the first lags whose pairs are positive (Geyer 1992), of readings about the
 * parabola through their block, times what those are wider than neighbours among themselves.
 */
function hanging(values: Float64Array, amongNeighbours: number): number {
  const sums = new Float64Array(MOST_LAG + 1);
  let blocks = 0;
  for (let from = 0; from + BLOCK <= values.length; from += BLOCK) {
    const rest = aboutParabola(values.subarray(from, from + BLOCK));
    blocks++;
    for (let lag = 0; lag <= MOST_LAG; lag++) for (let i = lag; i < BLOCK; i++) sums[lag] += rest[i] * rest[i - lag];
  }
  if (!(sums[0] > 0)) return 1;
  let total = -1;
  for (let lag = 0; lag + 1 <= MOST_LAG; lag += 2) {
    const pair = (sums[lag] + sums[lag + 1]) / sums[0];
    if (pair <= 0.02) break;
    total += 2 * pair;
  }
  const wider = sums[0] / (blocks * (BLOCK - 3)) / amongNeighbours;
  return Math.max(1, total * wider);
}

function aboutParabola(values: Float64Array): Float64Array {
  const n = values.length;
  const middle = (n - 1) / 2;
  const square = (n * n - 1) / 12;
  let [sum, cross, bend, weight] = [0, 0, 0, 0];
  values.forEach((v, i) => {
    const x = i - middle;
    sum += v;
    cross += v * x;
    bend += v * (x * x - square);
    weight += (x * x - square) ** 2;
  });
  const slope = cross / (n * square);
  return values.map((v, i) => {
    const x = i - middle;
    return v - sum / n - slope * x - (bend / weight) * (x * x - square);
  });
}

const meanSquare = (values: number[]): number => (values.length === 0 ? 0 : values.reduce((sum, v) => sum + v * v, 0) / values.length);

/** Harmonics of the rounding error that are followed. */
const HARMONICS = 8;

/**
 * Covariance of the means of bins: scatter of their readings, a floor for what power, room and body are not steady to, and the rounding
 * error, which two bins share as far as they lie at the same place between two steps of the sensor. A bin that sweeps over many steps
 * loses it.
 * @param floor standard deviation of a mean however many readings it has, in the unit of the bins
 * @returns its Cholesky factor, row by row; diagonal entries alone where no error is shared
 */
export function binErrors({ mean, count }: LogBins, { scatter, resolution: q, hanging }: ReadingErrors, floor: number): BinErrors {
  const white = (scatter ** 2 + loose(scatter ** 2, q)) * hanging;
  const own = Float64Array.from(count, (n) => white / n + floor ** 2);
  const left = q > 0 ? Array.from({ length: HARMONICS }, (_, k) => harmonic(k + 1, scatter / q) * q * q) : [];
  if (!(left[0] > 1e-3 * white)) return { diagonal: own.map(Math.sqrt), lower: null };
  const n = mean.length;
  // how many steps each bin sweeps over, by its neighbours
  const sweep = Array.from(mean, (_, i) => (count[i] > 1 ? Math.abs(mean[Math.min(n - 1, i + 1)] - mean[Math.max(0, i - 1)]) / 2 / q : 0));
  const kept = sweep.map((m) => left.map((_, k) => sinc(Math.PI * (k + 1) * m)));
  const lower: Float64Array[] = [];
  for (let i = 0; i < n; i++) {
    const row = new Float64Array(i + 1);
    for (let j = 0; j <= i; j++) {
      const apart = (mean[i] - mean[j]) / q;
      let value = i === j ? own[i] : 0;
      const near = Math.exp(-0.5 * apart * apart);
      if (near > 1e-6)
        for (let k = 0; k < left.length; k++) value += near * left[k] * kept[i][k] * kept[j][k] * Math.cos(2 * Math.PI * (k + 1) * apart);
      const above = i === j ? row : lower[j];
      for (let k = 0; k < j; k++) value -= row[k] * above[k];
      row[j] = i === j ? Math.sqrt(Math.max(value, 1e-3 * own[i])) : value / above[j];
    }
    lower.push(row);
  }
  return { diagonal: own.map(Math.sqrt), lower };
}

export interface BinErrors {
  /** standard deviations, where nothing is shared */
  diagonal: Float64Array;
  /** lower Cholesky factor, where something is */
  lower: Float64Array[] | null;
}

/** A column of the bins in units of its errors, independent of each other. */
export function whitened({ diagonal, lower }: BinErrors, column: ArrayLike<number>): Float64Array {
  if (!lower) return Float64Array.from(diagonal, (d, i) => column[i] / d);
  const out = new Float64Array(lower.length);
  for (let i = 0; i < out.length; i++) {
    const row = lower[i];
    let v = column[i];
    for (let k = 0; k < i; k++) v -= row[k] * out[k];
    out[i] = v / row[i];
  }
  return out;
}

/** Variance of the k-th harmonic of the rounding error, over the step squared, with scatter of s steps. */
const harmonic = (k: number, s: number): number => Math.exp(-4 * Math.PI * Math.PI * k * k * s * s) / (2 * Math.PI * Math.PI * k * k);

const sinc = (x: number) => (x < 1e-9 ? 1 : Math.sin(x) / x);
