import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { Amount, OneOf } from '#rules/rules';

/** An outcome a study is planned for, with the smallest difference that matters in it. */
export class PlannedOutcome {
  @OneOf(Object.keys(OUTCOMES), `An outcome is one of ${Object.keys(OUTCOMES).join(', ')}.`)
  key!: OutcomeKey;

  @Amount(1e-6, 1e6, 'The margin of an outcome is a number above 0 and below 1,000,000 of its unit.')
  margin!: number;
}
