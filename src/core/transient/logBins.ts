import type { PowerCourse } from './powerCourse';

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

/** Samples of one bin that lie between the same two knots of the power's course. */
interface Piece {
  bin: number;
  first: number;
  count: number;
  apart: number;
}

/** What one time constant answers to a course of power, at bins: pieces are cut once, times shifted at every call. */
export class CourseResponse {
  private readonly pieces: Piece[];
  private readonly slope: Float64Array;

  constructor(
    private readonly bins: LogBins,
    private readonly course: PowerCourse,
  ) {
    const { t, share } = course;
    this.slope = Float64Array.from(t, (x, k) => (k + 1 < t.length ? (share[k + 1] - share[k]) / (t[k + 1] - x) : 0));
    this.pieces = Array.from(bins.first, (_, bin) => this.piecesOf(bin)).flat();
  }

  private piecesOf(bin: number): Piece[] {
    const { first, count, apart } = this.bins;
    if (count[bin] === 1) return [{ bin, first: first[bin], count: 1, apart: 0 }];
    const pieces: Piece[] = [];
    const last = first[bin] + (count[bin] - 1) * apart[bin];
    const cuts = [...this.course.t.filter((x) => x > first[bin] && x <= last), Number.POSITIVE_INFINITY];
    let i = 0;
    for (const cut of cuts) {
      const end = Math.min(count[bin], Math.ceil((cut - first[bin]) / apart[bin]));
      if (end > i) pieces.push({ bin, first: first[bin] + i * apart[bin], count: end - i, apart: apart[bin] });
      i = Math.max(i, end);
    }
    return pieces;
  }

  /**
   * Mean over the samples of each bin of the answer of a body with one time constant, per K/W of it: for a plain step 1 − e^(−t/τ).
   * Exact for a power that is straight between its knots and samples that are evenly spaced (geometric series).
   * @param shift s by which the readings lie later on the power's clock
   */
  at(tau: number, shift = 0): Float64Array {
    const { t, share } = this.course;
    const { slope } = this;
    const state = new Float64Array(t.length);
    for (let k = 1; k < t.length; k++) {
      const h = t[k] - t[k - 1];
      const lag = slope[k - 1] * tau;
      state[k] = share[k] - lag + (state[k - 1] - share[k - 1] + lag) * Math.exp(-h / tau);
    }
    const out = new Float64Array(this.bins.first.length);
    let k = 0;
    for (const p of this.pieces) {
      const start = p.first + shift;
      const middle = start + ((p.count - 1) * p.apart) / 2;
      while (k > 0 && t[k] > middle) k--;
      while (k + 1 < t.length && t[k + 1] <= middle) k++;
      if (middle <= t[k]) continue;
      const lag = slope[k] * tau;
      const decay = Math.exp((t[k] - start) / tau) * series(p.count, p.apart, tau);
      const value = share[k] + slope[k] * (middle - t[k]) - lag + (state[k] - share[k] + lag) * decay;
      out[p.bin] += (value * p.count) / this.bins.count[p.bin];
    }
    return out;
  }
}

/** Mean of e^(−t/τ) over the samples of each bin, as a share of its value at the first of all samples. */
export function meanRest({ first, count, apart }: LogBins, tau: number): Float64Array {
  return first.map((t, i) => Math.exp((first[0] - t) / tau) * series(count[i], apart[i], tau));
}

/** Mean of e^(−i·h/τ) over i from 0 to n − 1. */
function series(n: number, h: number, tau: number): number {
  return n > 1 ? Math.expm1((-n * h) / tau) / (n * Math.expm1(-h / tau)) : 1;
}
