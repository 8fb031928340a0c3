/** Order statistics: quantile, median, scaled median absolute deviation. NaN values are left out. */

function finite(values: ArrayLike<number>): Float64Array {
  const kept = new Float64Array(values.length);
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!Number.isNaN(v)) kept[n++] = v;
  }
  return kept.subarray(0, n);
}

/**
 * The k-th smallest value by quickselect (Hoare 1961). Moves values: afterwards all behind k are at least as large.
 * @param k rank from 0
 */
function select(values: Float64Array, k: number): number {
  let from = 0;
  let to = values.length - 1;
  while (from < to) {
    const pivot = values[(from + to) >> 1];
    let i = from;
    let j = to;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const v = values[i];
      values[i++] = values[j];
      values[j--] = v;
    }
    if (k <= j) to = j;
    else if (k >= i) from = i;
    else break;
  }
  return values[k];
}

/**
 * Sample quantile by linear interpolation between order statistics (type 7 of Hyndman & Fan 1996).
 * @param p share in [0, 1]
 */
export const quantile = (values: ArrayLike<number>, p: number): number => quantiles(values, [p])[0];

/** Several sample quantiles of the same values. */
export function quantiles(values: ArrayLike<number>, shares: number[]): number[] {
  const known = finite(values);
  return shares.map((p) => quantileOf(known, p));
}

function quantileOf(known: Float64Array, p: number): number {
  if (known.length === 0) return Number.NaN;
  const at = (known.length - 1) * p;
  const low = Math.floor(at);
  const below = select(known, low);
  if (at === low) return below;
  let above = Number.POSITIVE_INFINITY;
  for (let i = low + 1; i < known.length; i++) if (known[i] < above) above = known[i];
  return below + (at - low) * (above - below);
}

/** The values that are numbers, ascending. */
export const sortedKnown = (values: ArrayLike<number>): Float64Array => finite(values).sort();

/** Sample quantile (type 7) of ascending values; NaN where there are none. */
export function sortedQuantile(sorted: Float64Array, p: number): number {
  if (sorted.length === 0) return Number.NaN;
  const at = (sorted.length - 1) * p;
  const low = Math.floor(at);
  return sorted[low] + (at - low) * (sorted[Math.min(low + 1, sorted.length - 1)] - sorted[low]);
}

/** Median of the values that are numbers. NaN where there is none. */
export const median = (values: ArrayLike<number>): number => quantile(values, 0.5);

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
  const span = new Float64Array(2 * halfWidth + 2);
  let m = 0;
  // takes one value out and puts another in, moving only what lies between the two; NaN stands for none
  const replace = (old: number, next: number) => {
    let at = Number.isNaN(old) ? m++ : lowerBound(span, old, m);
    if (Number.isNaN(next)) {
      if (Number.isNaN(old)) m--;
      else span.copyWithin(at, at + 1, m--);
      return;
    }
    while (at > 0 && span[at - 1] > next) {
      span[at] = span[at - 1];
      at--;
    }
    while (at + 1 < m && span[at + 1] < next) {
      span[at] = span[at + 1];
      at++;
    }
    span[at] = next;
  };
  for (let i = 0; i < Math.min(halfWidth, n); i++) replace(Number.NaN, values[i]);
  for (let i = 0; i < n; i++) {
    const old = i - halfWidth - 1 >= 0 ? values[i - halfWidth - 1] : Number.NaN;
    replace(old, i + halfWidth < n ? values[i + halfWidth] : Number.NaN);
    out[i] = m === 0 ? Number.NaN : m % 2 === 1 ? span[(m - 1) / 2] : (span[m / 2 - 1] + span[m / 2]) / 2;
  }
  return out;
}

/**
 * Index of the first element of an ascending list that is not below the value.
 * @param length elements that count, from the first
 */
export function lowerBound(sorted: ArrayLike<number>, value: number, length: number = sorted.length): number {
  let low = 0;
  let high = length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
