import { Amount, Maybe, Text } from '#rules/rules';

/** A study as it is opened: one question, and the smallest difference that matters to its reader. */
export class NewStudy {
  @Text(1, 120, 'The title needs 1 to 120 characters.')
  title!: string;

  @Maybe(Text(0, 1000, 'The question holds up to 1000 characters.'))
  question?: string;

  @Amount(
    0.01,
    50,
    'The margin is a number between 0.01 and 50 K: a smaller one is finer than any sensor, with a larger one everything counts as equivalent.',
  )
  margin_k!: number;
}
