import { OneOf, Text, Whole } from '#rules/rules';
import { BIN_KINDS, type BinKind } from './binKinds';

/** A thing that is to be deleted, and why. */
export class Deletion {
  @OneOf(BIN_KINDS, 'Say what is deleted: a study, specimen, mount, try, run, note or draft.')
  kind!: BinKind;

  @Whole(1, Number.MAX_SAFE_INTEGER, 'Say which one is deleted, by its number.')
  id!: number;

  @Text(0, 20, 'Initials hold up to 20 characters.')
  who = '';

  @Text(0, 500, 'A reason holds up to 500 characters.')
  reason = '';
}
