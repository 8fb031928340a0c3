import { OUTCOMES } from '#core/compare/outcomes';
import { writeSigned } from '#core/text/words';
import type { OutcomeChange } from './beforeAfter';

/** An outcome's change as a figure with its unit. */
export function changeWords({ outcome, change, ci }: Pick<OutcomeChange, 'outcome' | 'change' | 'ci'>): string {
  if (change === null) return 'no value to compare';
  const { digits, unit } = OUTCOMES[outcome];
  const interval = ci === null || ci[0] === ci[1] ? 'no interval' : `${writeSigned(ci[0], digits)} to ${writeSigned(ci[1], digits)}`;
  return `${writeSigned(change, digits)} ${unit} (${interval})`;
}
