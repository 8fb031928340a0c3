import { normalQuantile } from '../stats/distributions/normal';
import type { PairTest, Verdict } from './types';

/**
 * Verdict of a pair from its simultaneous interval on a − b: `cooler` says that a lies lower, whatever the outcome calls that.
 * The order of the rules matters: an interval may be significant and yet too small to matter.
 * @param margin smallest difference that matters to the reader, in the outcome's unit
 */
export function verdictOf([low, high]: [number, number], margin: number): Verdict {
  const insideMargin = -margin < low && high < margin;
  if (high < 0) return insideMargin ? 'cooler_within_margin' : 'cooler';
  if (low > 0) return insideMargin ? 'warmer_within_margin' : 'warmer';
  return insideMargin ? 'tied' : 'unresolved';
}

/**
 * Verdict where specimens have mounts that throttled: those were left out, so the mean of what is left lies too low, and only a claim that
 * gets stronger with a higher true value stands.
 * @param bounded whether a and b are such specimens
 */
export function boundedVerdict(verdict: Verdict, [a, b]: [boolean, boolean]): Verdict {
  if (!a && !b) return verdict;
  if (a && !b && (verdict === 'warmer' || verdict === 'warmer_within_margin')) return 'warmer';
  if (b && !a && (verdict === 'cooler' || verdict === 'cooler_within_margin')) return 'cooler';
  return 'unresolved';
}

const MOST_MOUNTS = 500;

/**
 * Further mounts per specimen expected to settle an unresolved pair, if the true difference is the one observed and the
 * scatter stays what it is: the least number at which the interval clears zero, or falls inside the margin, with 80 % chance.
 * The critical value is kept from the present study, so the answer errs a little to the high side.
 * @param na mounts of a so far
 * @param nb mounts of b so far
 * @returns null where 500 would not do
 */
export function moreMounts(pair: PairTest, margin: number, na: number, nb: number): number | null {
  const half = (pair.ci[1] - pair.ci[0]) / 2;
  if (pair.se === 0 || half === 0) return 0;
  const reach = half / pair.se + normalQuantile(0.8);
  const room = Math.max(Math.abs(pair.difference), margin - Math.abs(pair.difference));
  const perMount = pair.se / Math.sqrt(1 / na + 1 / nb);
  for (let m = 1; m <= MOST_MOUNTS; m++) {
    if (reach * perMount * Math.sqrt(1 / (na + m) + 1 / (nb + m)) <= room) return m;
  }
  return null;
}
