import { write } from '#core/text/words';
import { boundOfMount } from '#features/results/model/bounds';
import type { MountFigure } from '#features/results/model/figures';

/** A mount's value as it is printed: what it reads, also where a person left it out, or its bound where it has no value. */
export function mountWords(m: MountFigure, digits: number): string {
  const value = m.value ?? m.left_out_value;
  if (value !== null) return write(value, digits);
  const bound = boundOfMount(m);
  return bound === null ? '–' : `${bound.side === 'above' ? '≥' : '≤'} ${write(bound.at, digits)}`;
}
