/** Means of a step's samples over bins of equal width in the logarithm of time; early bins hold one sample each. */
export interface LogBins {
  /** first sample of each bin, s after the step */
  first: Float64Array;
  /** samples of each bin, and the time between them, s */
  count: Float64Array;
  apart: Float64Array;
  mean: Float64Array;
  /** single readings each bin's mean is worth */
  weight: Float64Array;
}

/** Share of the whole course below which no mean is trusted: power, room and the lumping of bodies are not steadier than that. */
const TRUSTED_SHARE = 1.5e-3;

/**
 * @param t seconds after the step, rising, the first above zero
 * @param values what was read there
 * @param sd standard deviation of one reading
 * @param perDecade bins of a decade of time
 */
export function logBins(t: Float64Array, values: Float64Array, sd: number, perDecade = 20): LogBins {
  const ratio = 10 ** (1 / perDecade);
  const starts: number[] = [];
  for (let i = 0; i < t.length; ) {
    starts.push(i);
    const end = t[i] * ratio;
    i++;
    while (i < t.length && t[i] < end) i++;
  }
  const ends = starts.map((_, k) => starts[k + 1] ?? t.length);
  const count = Float64Array.from(starts, (i, k) => ends[k] - i);
  const mean = Float64Array.from(starts, (i, k) => values.subarray(i, ends[k]).reduce((sum, v) => sum + v, 0) / count[k]);
  const floor = (TRUSTED_SHARE * mean.reduce((most, v) => Math.max(most, Math.abs(v)), 0)) / sd;
  return {
    first: Float64Array.from(starts, (i) => t[i]),
    apart: Float64Array.from(starts, (i, k) => (count[k] > 1 ? (t[ends[k] - 1] - t[i]) / (count[k] - 1) : 0)),
    ...{ count, mean, weight: count.map((n) => 1 / (1 / n + floor ** 2)) },
  };
}

/** Mean of 1 − e^(−t/τ) over the samples of each bin: the geometric series of evenly spaced samples, exactly. */
export function meanApproach({ first, count, apart }: LogBins, tau: number, shift = 0): Float64Array {
  return first.map((t, i) => {
    const start = Math.exp(-(t + shift) / tau);
    const series = count[i] > 1 ? Math.expm1((-count[i] * apart[i]) / tau) / (count[i] * Math.expm1(-apart[i] / tau)) : 1;
    return 1 - start * series;
  });
}
