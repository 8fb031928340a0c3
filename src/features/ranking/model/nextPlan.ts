import { Amount, Text, Texts, Whole } from '#rules/rules';

/** What there is to spend on the next study. */
export class NextAsked {
  @Amount(0.1, 2000, 'Hours at hand are a number from 0.1 to 2000.')
  hours!: number;

  @Amount(0.05, 200, 'Hours a mount are a number from 0.05 to 200, its runs included.')
  hours_per_mount!: number;

  @Whole(1, 50, 'Mounts of each are a whole number from 1 to 50.')
  mounts!: number;

  /** keys of materials; empty: those that the ranking leaves open */
  @Texts(40, 200, 'Choose up to 40 materials.')
  candidates!: string[];
}

/** A study to be planned from the ranking. */
export class NextPlanned {
  @Text(1, 200, 'Say which set-up it is for.')
  setup!: string;

  @Texts(40, 200, 'A study compares two to 40 materials.', 2)
  materials!: string[];

  @Whole(1, 50, 'Mounts of each are a whole number from 1 to 50.')
  mounts!: number;
}
