import { sortedKnown } from '#core/stats/quantiles';
import type { Drive } from './types';

/** The two levels of a drive, idle and load, and the threshold between them. */
interface TwoLevels {
  low: number;
  high: number;
  threshold: number;
}

/** Shortest time that a level must be held in all to be one, s. */
const HELD_S = 15;
/** A level this share of the way from idle to load already counts as load. */
const LOAD_SHARE = 0.3;
/** Most times that readings at the ends are passed over. */
const MOST_TRIES = 60;
/** Least difference between idle and load, as a share of the load. */
const LEAST_DIFFERENCE = 0.2;

/**
 * Idle and load of a drive by the split with the least spread within its classes (Otsu 1979), each held for at least 15 s in all, so that a
 * short idle beside hours of load suffices and single readings far off make no level.
 * @param drive 5 s medians of what drives the run
 * @returns null where the two levels differ by under 20 %
 */
export function twoLevels(drive: Pick<Drive, 'values' | 'period_s'>): TwoLevels | null {
  const fewest = Math.max(1, Math.min(Math.ceil(HELD_S / drive.period_s - 1e-9), Math.floor(drive.values.length / 4)));
  let sorted = sortedKnown(drive.values);
  // readings at either end that no level is made of are passed over, and the rest is split anew
  for (let tries = 0; ; tries++) {
    const split = otsuSplit(sorted);
    if (split === 0 || tries > MOST_TRIES) return null;
    if (split < fewest) sorted = sorted.subarray(split);
    else if (sorted.length - split < fewest) sorted = sorted.subarray(0, split);
    else break;
  }
  const split = moveSplit(sorted, otsuSplit(sorted), fewest);
  const low = meanOf(sorted.subarray(0, split));
  const high = meanOf(sorted.subarray(split));
  return high - low >= LEAST_DIFFERENCE * Math.abs(high) ? { low, high, threshold: (low + high) / 2 } : null;
}

/**
 * Kept between idle and everything that counts as load: where a long boost makes the best split fall between two load levels, or two idle
 * levels lie apart, the split is moved.
 */
function moveSplit(sorted: Float64Array, split: number, fewest: number): number {
  const level = (from: number, to: number) => meanOf(sorted.subarray(from, to));
  const below = otsuSplit(sorted.subarray(0, split));
  const top = level(split, sorted.length);
  if (below >= fewest && (level(below, split) - level(0, below)) / (top - level(0, below)) > LOAD_SHARE) return below;
  const above = split + otsuSplit(sorted.subarray(split));
  const bottom = level(0, split);
  if (
    above > split &&
    sorted.length - above >= fewest &&
    (level(split, above) - bottom) / (level(above, sorted.length) - bottom) < LOAD_SHARE
  )
    return above;
  return split;
}

/** Number of values in the lower class of the split with the largest variance between classes. */
function otsuSplit(sorted: Float64Array): number {
  const total = sorted.length * (meanOf(sorted) || 0);
  let sum = 0;
  let best = 0;
  let split = 0;
  for (let i = 1; i < sorted.length; i++) {
    sum += sorted[i - 1];
    if (sorted[i] === sorted[i - 1]) continue;
    const gap = (total - sum) / (sorted.length - i) - sum / i;
    const between = i * (sorted.length - i) * gap * gap;
    if (between > best) {
      best = between;
      split = i;
    }
  }
  return split;
}

function meanOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return values.length === 0 ? Number.NaN : sum / values.length;
}
