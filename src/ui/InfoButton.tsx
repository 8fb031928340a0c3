import { Info } from 'lucide-react';
import type { ComponentProps } from 'react';
import type { TermKey } from './glossary';

/** What each term is called in the question of its button. */
const NAMES: Record<TermKey, string> = {
  ...{ rise: 'ΔT over ambient', window: 'the averaging window', mount: 'a mount', method: 'the method of scatter', firm: 'firm' },
  ...{ different: 'different', equivalent: 'equivalent', margin: 'the smallest difference that matters', group: 'a group' },
  ...{ adjust: 'adjusting', interim: 'an interim analysis', power: 'power', detectable: 'the detectable difference' },
  ...{ interval: 'the interval', throttled: 'throttled', imprint: 'an imprint', prediction_interval: 'a prediction interval' },
  ...{ setup: 'a set-up', tau: 'τ' },
};

/** A small ⓘ beside a term. */
export const InfoButton = ({ term, ...rest }: ComponentProps<'button'> & { term: TermKey }) => (
  <button
    type="button"
    {...rest}
    className="mx-1 inline-grid size-6 place-items-center rounded-full align-middle text-note leading-none text-soft hover:bg-band hover:text-ink print:hidden"
    aria-label={`What is ${NAMES[term]}?`}
  >
    <Info size={14} aria-hidden="true" />
  </button>
);
