/** Order statistics: quantile, median, scaled median absolute deviation. NaN values are left out. */

function sortedFinite(values: ArrayLike<number>): Float64Array {
  const kept = new Float64Array(values.length);
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!Number.isNaN(v)) kept[n++] = v;
  }
  return kept.subarray(0, n).sort();
}

/**
 * Sample quantile by linear interpolation between order statistics (type 7 of Hyndman & Fan 1996).
 * @param p share in [0, 1]
 */
export function quantile(values: ArrayLike<number>, p: number): number {
  const sorted = sortedFinite(values);
  if (sorted.length === 0) return Number.NaN;
  const at = (sorted.length - 1) * p;
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low] + (at - low) * (sorted[high] - sorted[low]);
}

/** Median of the values that are numbers. NaN where there is none. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** Median absolute deviation from the median, scaled by 1.4826 to estimate a normal standard deviation. */
export function scaledMad(values: ArrayLike<number>): number {
  const centre = median(values);
  return 1.4826 * median(Array.from(values, (v) => Math.abs(v - centre)));
}

/**
 * Running median over a centred span of samples; at the ends the span is cut, not padded.
 * @param halfWidth samples to either side
 */
export function runningMedian(values: ArrayLike<number>, halfWidth: number): Float64Array {
  const n = values.length;
  const out = new Float64Array(n);
  const span: number[] = [];
  const insert = (v: number) => {
    if (Number.isNaN(v)) return;
    span.splice(lowerBound(span, v), 0, v);
  };
  const remove = (v: number) => {
    if (Number.isNaN(v)) return;
    span.splice(lowerBound(span, v), 1);
  };
  for (let i = 0; i < Math.min(halfWidth, n); i++) insert(values[i]);
  for (let i = 0; i < n; i++) {
    if (i + halfWidth < n) insert(values[i + halfWidth]);
    if (i - halfWidth - 1 >= 0) remove(values[i - halfWidth - 1]);
    const m = span.length;
    out[i] = m === 0 ? Number.NaN : m % 2 === 1 ? span[(m - 1) / 2] : (span[m / 2 - 1] + span[m / 2]) / 2;
  }
  return out;
}

/** Index of the first element of an ascending list that is not below the value. */
export function lowerBound(sorted: ArrayLike<number>, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
