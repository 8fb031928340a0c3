/**
 * Means of a step's samples over bins: of equal width in the logarithm of time after the step, early ones of one sample each, and of equal
 * width before it, where time is below zero.
 */
export interface LogBins {
  /** first sample of each bin, s after the step */
  first: Float64Array;
  /** samples of each bin, and the time between them, s */
  count: Float64Array;
  apart: Float64Array;
  mean: Float64Array;
}

/** Samples before the step lie in this many bins. */
const BINS_BEFORE = 12;

/**
 * @param t seconds after the step, rising
 * @param values what was read there
 * @param perDecade bins of a decade of time after the step
 */
export function logBins(t: Float64Array, values: Float64Array, perDecade = 20): LogBins {
  const ratio = 10 ** (1 / perDecade);
  const firstAfter = t.findIndex((x) => x > 0);
  const before = firstAfter < 0 ? t.length : firstAfter;
  const starts: number[] = [];
  const inBins = Math.min(BINS_BEFORE, before);
  for (let k = 0; k < inBins; k++) starts.push(Math.floor((k * before) / inBins));
  for (let i = before; i < t.length; ) {
    starts.push(i);
    const end = t[i] * ratio;
    i++;
    while (i < t.length && t[i] < end) i++;
  }
  const ends = starts.map((_, k) => starts[k + 1] ?? t.length);
  const count = Float64Array.from(starts, (i, k) => ends[k] - i);
  return {
    first: Float64Array.from(starts, (i) => t[i]),
    apart: Float64Array.from(starts, (i, k) => (count[k] > 1 ? (t[ends[k] - 1] - t[i]) / (count[k] - 1) : 0)),
    count,
    mean: Float64Array.from(starts, (i, k) => values.subarray(i, ends[k]).reduce((sum, v) => sum + v, 0) / count[k]),
  };
}

/** Mean of e^(−t/τ) over the samples of each bin, as a share of its value at the first of all samples. */
export const meanRest = ({ first, count, apart }: LogBins, tau: number): Float64Array =>
  first.map((t, i) => Math.exp((first[0] - t) / tau) * meanOfDecay(count[i], apart[i], tau));

/** Mean of e^(−i·h/τ) over i from 0 to n − 1. */
export const meanOfDecay = (n: number, h: number, tau: number): number =>
  n > 1 ? Math.expm1((-n * h) / tau) / (n * Math.expm1(-h / tau)) : 1;
