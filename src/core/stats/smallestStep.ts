/** Steps below this share of a value come from how numbers are stored. */
const OF_STORAGE = 1e-9;

/**
 * Smallest step between readings that follow each other, in their unit: what an instrument resolves, where it is coarser than its noise.
 * @param values NaN where there was no reading
 * @returns null where they never change
 */
export function smallestStep(values: ArrayLike<number>): number | null {
  let least = Number.POSITIVE_INFINITY;
  let before = Number.NaN;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (Number.isNaN(v)) continue;
    const step = Math.abs(v - before);
    if (step < least && step > OF_STORAGE * Math.abs(v)) least = step;
    before = v;
  }
  return Number.isFinite(least) ? least : null;
}
