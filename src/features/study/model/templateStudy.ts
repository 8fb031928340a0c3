import { Amount, ListOf, Maybe, Nested, OneOf, Text, Whole } from '#rules/rules';
import { TEMPLATE_KEYS, type TemplateKey } from './templates';

/** Most things a study starts with. */
export const MOST_NAMES = 40;

class Name {
  @Text(1, 80, 'A name of what is compared has 1 to 80 characters.')
  name!: string;
}

class Clocks {
  @Amount(1, 100_000, 'The lowest clock is a number between 1 and 100,000 MHz.')
  from!: number;

  @Amount(1, 100_000, 'The highest clock is a number between 1 and 100,000 MHz.')
  to!: number;

  @Amount(1, 10_000, 'The step of the clock is a number between 1 and 10,000 MHz.')
  step!: number;
}

/** A study that starts from a question. */
export class TemplateStudy {
  @OneOf(TEMPLATE_KEYS, 'Choose the question the study starts from.')
  template!: TemplateKey;

  @Text(1, 120, 'The title needs 1 to 120 characters.')
  title!: string;

  @ListOf(() => Name, MOST_NAMES, `A study starts with 1 to ${MOST_NAMES} things to compare.`, 1)
  names!: Name[];

  @Amount(0.01, 10_000, 'The smallest difference that matters is a number between 0.01 and 10,000.')
  margin!: number;

  @Maybe(Whole(1, 1000, 'The days are a whole number from 1 to 1,000.'))
  days?: number | null;

  @Maybe(Nested(() => Clocks))
  clocks?: Clocks | null;
}
