import { write } from '#core/text/words';
import type { MountFigure } from '#features/results/model/figures';

/** A mount's value as it is printed: what it reads, also where a person left it out, or its bound where it throttled. */
export function mountWords(m: MountFigure, digits: number): string {
  const value = m.value ?? m.left_out_value;
  if (value !== null) return write(value, digits);
  return m.at_or_above === null ? '–' : `≥ ${write(m.at_or_above, digits)}`;
}
