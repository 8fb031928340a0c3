import { type LogBins, meanOfDecay } from './logBins';
import type { PowerCourse } from './powerCourse';

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
      // a piece that a shift moved over a knot begins before it: no time constant, however short, may grow there
      const decay = Math.exp(Math.min(1, (t[k] - start) / tau)) * meanOfDecay(p.count, p.apart, tau);
      const value = share[k] + slope[k] * (middle - t[k]) - lag + (state[k] - share[k] + lag) * decay;
      out[p.bin] += (value * p.count) / this.bins.count[p.bin];
    }
    return out;
  }
}
