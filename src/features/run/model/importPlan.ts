import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { type Delimiter, ROLES, type Role } from '#core/signal/logs/types';
import { UNITS, type Unit } from '#core/units/units';
import { SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { NumbersIn, ValuesIn } from '#rules/validation';

/** How files are to be read: what a person decided over the guesses. */
export class ReadingChoices {
  @IsOptional()
  @ValuesIn(ROLES)
  roles?: Record<string, Role>;

  @IsOptional()
  @IsBoolean()
  keep_guesses?: boolean;

  @IsOptional()
  @ValuesIn(Object.keys(UNITS))
  units?: Record<string, Unit>;

  @IsOptional()
  @IsBoolean()
  day_first?: boolean;

  @IsOptional()
  @IsIn([',', ';', '\t', ' ', '|'])
  delimiter?: Delimiter;

  @IsOptional()
  @IsIn(['.', ','])
  decimal?: '.' | ',';
}

/** Where a run belongs: existing study, specimen, mount and rig by id, or new ones by name. */
export class RunPlace {
  @IsOptional()
  @IsInt()
  study_id?: number | null;

  @ValidateIf((o: RunPlace) => !o.study_id)
  @IsString({ message: 'Give the new study a title.' })
  @Length(1, 120, { message: 'The study needs a title of 1 to 120 characters.' })
  study_title?: string;

  @IsOptional()
  @IsInt()
  specimen_id?: number | null;

  @ValidateIf((o: RunPlace) => !o.specimen_id)
  @IsString({ message: 'Name the specimen.' })
  @Length(1, 80, { message: 'The specimen needs a name of 1 to 80 characters.' })
  specimen_name?: string;

  @ValidateIf((o: RunPlace) => !o.specimen_id)
  @IsIn(SPECIMEN_KINDS, { message: 'Choose what kind of specimen it is.' })
  specimen_kind?: SpecimenKind;

  /** absent: the run opens a new mount */
  @IsOptional()
  @IsInt()
  mount_id?: number | null;

  @IsOptional()
  @IsString()
  @MaxLength(2000, { message: 'A note holds up to 2000 characters.' })
  mount_note?: string;

  /** which of the study's named loads it ran under */
  @IsOptional()
  @IsString()
  @Length(1, 60, { message: 'A load has a name of 1 to 60 characters.' })
  load?: string | null;

  @IsOptional()
  @IsInt()
  rig_id?: number | null;

  @ValidateIf((o: RunPlace) => !o.rig_id)
  @IsString({ message: 'Name the rig.' })
  @Length(1, 80, { message: 'The rig needs a name of 1 to 80 characters.' })
  rig_name?: string;

  /** throttle limit of a new rig */
  @IsOptional()
  @IsNumber({ allowNaN: false }, { message: 'The throttle limit is a number in °C.' })
  @Min(30, { message: 'A throttle limit below 30 °C is not plausible.' })
  @Max(300, { message: 'A throttle limit above 300 °C is not plausible.' })
  rig_limit_c?: number | null;
}

/** One import: decisions about reading, the place of the run, and an id that makes repeating it harmless. */
export class ImportPlan {
  @IsUUID()
  import_id!: string;

  @ValidateNested()
  @Type(() => ReadingChoices)
  reading: ReadingChoices = new ReadingChoices();

  @ValidateNested()
  @Type(() => RunPlace)
  place!: RunPlace;

  @IsOptional()
  @IsString()
  @MaxLength(200)
  sensor?: string | null;

  @IsOptional()
  @IsNumber({ allowNaN: false }, { message: 'The room temperature is a number in °C.' })
  @Min(-60, { message: 'A room below −60 °C is not plausible.' })
  @Max(80, { message: 'A room above 80 °C is not plausible.' })
  room_c?: number | null;

  @IsOptional()
  @IsNumber({ allowNaN: false }, { message: 'The uncertainty of the room is a number in K.' })
  @Min(0)
  @Max(20)
  room_u_k?: number | null;

  @IsOptional()
  @NumbersIn()
  offsets?: Record<string, number>;

  /** layout by which the files were read */
  @IsOptional()
  @IsInt()
  layout_id?: number | null;

  /** false where other loads ran beside the program whose results come along */
  @IsOptional()
  @IsBoolean()
  comparable?: boolean;
}
