import { IsUUID } from 'class-validator';
import { type Delimiter, ROLES, type Role } from '#core/signal/logs/types';
import { UNITS, type Unit } from '#core/units/units';
import { SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { Amount, Id, If, Maybe, Nested, NumbersIn, OneOf, Text, ValuesIn, Whole, YesNo } from '#rules/rules';

/** How files are to be read: what a person decided over the guesses. */
export class ReadingChoices {
  @Maybe(ValuesIn(ROLES))
  roles?: Record<string, Role>;

  @Maybe(YesNo())
  keep_guesses?: boolean;

  @Maybe(ValuesIn(Object.keys(UNITS)))
  units?: Record<string, Unit>;

  @Maybe(YesNo())
  day_first?: boolean;

  @Maybe(OneOf([',', ';', '\t', ' ', '|']))
  delimiter?: Delimiter;

  @Maybe(OneOf(['.', ',']))
  decimal?: '.' | ',';
}

/** Where a run belongs: existing study, specimen, mount and rig by id, or new ones by name. */
export class RunPlace {
  @Maybe(Id())
  study_id?: number | null;

  @If((o: RunPlace) => !o.study_id, Text(1, 120, 'The study needs a title of 1 to 120 characters.'))
  study_title?: string;

  @Maybe(Id())
  specimen_id?: number | null;

  @If((o: RunPlace) => !o.specimen_id, Text(1, 80, 'The specimen needs a name of 1 to 80 characters.'))
  specimen_name?: string;

  @If((o: RunPlace) => !o.specimen_id, OneOf(SPECIMEN_KINDS, 'Choose what kind of specimen it is.'))
  specimen_kind?: SpecimenKind;

  /** absent: the run opens a new mount */
  @Maybe(Id())
  mount_id?: number | null;

  /** number that a new mount is called by; absent, or where another mount has it: the next */
  @Maybe(Whole(1, 100_000, 'A mount is a whole number from 1.'))
  mount_number?: number | null;

  @Maybe(Text(0, 2000, 'A note holds up to 2000 characters.'))
  mount_note?: string;

  /** which of the study's named loads it ran under */
  @Maybe(Text(1, 60, 'A load has a name of 1 to 60 characters.'))
  load?: string | null;

  @Maybe(Id())
  rig_id?: number | null;

  @If((o: RunPlace) => !o.rig_id, Text(1, 80, 'The rig needs a name of 1 to 80 characters.'))
  rig_name?: string;

  /** throttle limit of a new rig */
  @Maybe(Amount(30, 300, 'The throttle limit is a number between 30 and 300 °C.'))
  rig_limit_c?: number | null;
}

/** One import: decisions about reading, the place of the run, and an id that makes repeating it harmless. */
export class ImportPlan {
  @IsUUID()
  import_id!: string;

  @Nested(() => ReadingChoices)
  reading: ReadingChoices = new ReadingChoices();

  @Nested(() => RunPlace)
  place!: RunPlace;

  @Maybe(Text(0, 200))
  sensor?: string | null;

  @Maybe(Amount(-60, 80, 'The room is a number between −60 and 80 °C.'))
  room_c?: number | null;

  @Maybe(Amount(0, 20, 'The uncertainty of the room is a number in K.'))
  room_u_k?: number | null;

  @Maybe(NumbersIn())
  offsets?: Record<string, number>;

  /** layout by which the files were read */
  @Maybe(Id())
  layout_id?: number | null;

  /** false where other loads ran beside the program whose results come along */
  @Maybe(YesNo())
  comparable?: boolean;
}
