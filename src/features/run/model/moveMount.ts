import { Id, Maybe, Text, Whole } from '#rules/rules';

/** Where a mount is moved: to another specimen, of its study or another, or to another rig. */
export class MoveMount {
  @Id()
  specimen_id!: number;

  @Id()
  rig_id!: number;

  /** number it is to have there; absent, or where another mount has it: the next */
  @Maybe(Whole(1, 100_000, 'A mount is a whole number from 1.'))
  number?: number | null;

  @Text(0, 500, 'A reason holds up to 500 characters.')
  reason = '';

  @Text(0, 20, 'Initials hold up to 20 characters.')
  who = '';
}
