import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { Verdict } from '#core/compare/types';

/** The better specimen's word where an outcome has one of its own. */
const BETTER: Partial<Record<OutcomeKey, string>> = {
  rise: 'cooler',
  rise_at_power: 'cooler',
  idle_rise: 'cooler',
  noise: 'quieter',
  clock: 'faster',
  fan_speed: 'slower fan',
};

/** A verdict in the words of a table with the columns a and b: which of the two is the better. */
export function verdictWords(verdict: Verdict, outcome: OutcomeKey): string {
  const word = BETTER[outcome] ?? OUTCOMES[outcome].better;
  if (verdict === 'tied') return 'equivalent';
  if (verdict === 'unresolved') return 'not distinguishable';
  const isLower = verdict === 'cooler' || verdict === 'cooler_within_margin';
  const who = isLower === (OUTCOMES[outcome].better === 'lower') ? 'a' : 'b';
  return `${who} ${word}${verdict.endsWith('margin') ? ', less than matters' : ''}`;
}
