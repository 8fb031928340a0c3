const BINS = 256;

/**
 * Threshold that parts the values into two groups with the greatest variance between them (Otsu 1979), over 256 bins
 * of their range.
 * @returns the threshold; the value itself where all are equal
 */
export function otsu(values: ArrayLike<number>): number {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < values.length; i++) {
    low = Math.min(low, values[i]);
    high = Math.max(high, values[i]);
  }
  if (!(high > low)) return low;
  const counts = new Float64Array(BINS);
  for (let i = 0; i < values.length; i++) counts[Math.min(BINS - 1, Math.floor(((values[i] - low) / (high - low)) * BINS))]++;
  const all = values.length;
  let sumAll = 0;
  for (let k = 0; k < BINS; k++) sumAll += k * counts[k];
  let below = 0;
  let sumBelow = 0;
  let most = -1;
  let best = 0;
  let last = 0;
  for (let k = 0; k < BINS - 1; k++) {
    below += counts[k];
    sumBelow += k * counts[k];
    if (below === 0 || below === all) continue;
    const between = (sumBelow * all - sumAll * below) ** 2 / (below * (all - below));
    // over empty bins the middle is taken
    if (between > most * (1 + 1e-12)) {
      most = between;
      best = k;
      last = k;
    } else if (between >= most * (1 - 1e-12)) last = k;
  }
  return low + (((best + last) / 2 + 1) / BINS) * (high - low);
}
