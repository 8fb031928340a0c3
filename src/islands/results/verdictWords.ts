import type { Verdict } from '#core/compare/types';

const WORDS: Record<Verdict, string> = {
  cooler: 'a cooler',
  warmer: 'b cooler',
  cooler_within_margin: 'a cooler, within margin',
  warmer_within_margin: 'b cooler, within margin',
  tied: 'tied',
  unresolved: 'unresolved',
};

/** A verdict in the words of a table with the columns a and b. */
export function verdictWords(verdict: Verdict): string {
  return WORDS[verdict];
}
