import { IsIn, IsNumber, Max, Min } from 'class-validator';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';

/** An outcome a study is planned for, with the smallest difference that matters in it. */
export class PlannedOutcome {
  @IsIn(Object.keys(OUTCOMES), { message: `An outcome is one of ${Object.keys(OUTCOMES).join(', ')}.` })
  key!: OutcomeKey;

  @Max(1e6, { message: 'The margin of an outcome should be below 1,000,000 of its unit.' })
  @Min(1e-6, { message: 'The margin of an outcome should be above 0.' })
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The margin of an outcome is a number in its unit.' })
  margin!: number;
}
