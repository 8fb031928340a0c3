import { IsISO8601, IsOptional, IsUUID } from 'class-validator';
import { SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { Id, If, ListOf, Maybe, Nested, OneOf, Text, Whole } from '#rules/rules';
import { StudyChange, TypedValues } from './typedRun';

/** Most rows of a table of readings. */
export const MOST_ROWS = 500;

/** One run of a table of readings: where it belongs by name, and what was read. */
export class TypedRow extends TypedValues {
  @IsUUID()
  import_id!: string;

  @Text(1, 80, 'A row needs the name of what was measured, of up to 80 characters.')
  specimen!: string;

  @Maybe(Whole(1, 100_000, 'A mount is a whole number from 1.'))
  mount?: number | null;

  @Maybe(Text(0, 80, 'A rig or device has a name of up to 80 characters.'))
  rig?: string | null;

  @Maybe(Text(0, 60, 'A load has a name of up to 60 characters.'))
  load?: string | null;

  @IsOptional()
  @IsISO8601({}, { message: 'The date is a day such as 2026-06-04, with a time or without.' })
  read_at?: string | null;
}

/** Many runs that were read from a display, stored together or not at all. */
export class TypedTable {
  @Maybe(Id())
  study_id?: number | null;

  @If((t: TypedTable) => !t.study_id, Text(1, 120, 'The study needs a title of 1 to 120 characters.'))
  study_title?: string;

  /** kind of what the study does not know yet */
  @Maybe(OneOf(SPECIMEN_KINDS, 'Choose what kind of specimen it is.'))
  kind?: SpecimenKind;

  /** rig or device of rows that name none */
  @Maybe(Text(0, 80, 'A rig or device has a name of up to 80 characters.'))
  rig?: string | null;

  @ListOf(() => TypedRow, MOST_ROWS, `A table has 1 to ${MOST_ROWS} rows.`, 1)
  rows!: TypedRow[];

  @Maybe(Nested(() => StudyChange))
  study?: StudyChange;
}
