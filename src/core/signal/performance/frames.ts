import { sortedKnown } from '#core/stats/quantiles';

interface FrameFigures {
  /** frames per second over all frames: their number over the time they took, not the mean of rates */
  frame_rate: number;
  /** rate over the slowest hundredth of the frames (at least one) */
  slow_frame_rate: number;
  frame_time_ms: number;
}

/**
 * Rates of a list of frame times.
 * @param times ms per frame; what is not above nought is left out
 * @returns null without a frame
 */
export function frameFigures(times: ArrayLike<number>): FrameFigures | null {
  const sorted = sortedKnown(Array.from(times).filter((v) => v > 0));
  if (sorted.length === 0) return null;
  const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);
  const slow = sorted.subarray(sorted.length - Math.max(1, Math.floor(sorted.length / 100)));
  const mean = sum(sorted) / sorted.length;
  return { frame_rate: 1000 / mean, slow_frame_rate: (1000 * slow.length) / sum(slow), frame_time_ms: mean };
}
