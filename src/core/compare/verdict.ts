import type { Verdict } from './types';

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
