import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { STAGES, type Stage } from './stages';

const range = (what: string, min: number, max: number, unit: string) => ({
  message: `${what} of a load should be between ${min} and ${max} ${unit}.`,
});

/** One step of a load. */
export class LoadStep {
  @IsIn(Object.keys(STAGES), { message: `A step of a load is one of ${Object.keys(STAGES).join(', ')}.` })
  stage!: Stage;

  @Max(10_000, range('A step', 0.1, 10_000, 'min'))
  @Min(0.1, range('A step', 0.1, 10_000, 'min'))
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'A step of a load has a duration in minutes.' })
  minutes!: number;

  @IsOptional()
  @Max(100_000, range('The power', 0, 100_000, 'W'))
  @Min(0, range('The power', 0, 100_000, 'W'))
  @IsNumber({ allowNaN: false }, { message: 'The power of a step is a number in W.' })
  power_w?: number | null;

  @IsOptional()
  @Max(100_000, range('The clock', 0, 100_000, 'MHz'))
  @Min(0, range('The clock', 0, 100_000, 'MHz'))
  @IsNumber({ allowNaN: false }, { message: 'The clock of a step is a number in MHz.' })
  clock_mhz?: number | null;

  @IsOptional()
  @Max(100, range('The voltage', 0, 100, 'V'))
  @Min(0, range('The voltage', 0, 100, 'V'))
  @IsNumber({ allowNaN: false }, { message: 'The voltage of a step is a number in V.' })
  voltage_v?: number | null;

  @IsOptional()
  @Max(100_000, range('The fan speed', 0, 100_000, 'rpm'))
  @Min(0, range('The fan speed', 0, 100_000, 'rpm'))
  @IsNumber({ allowNaN: false }, { message: 'The fan speed of a step is a number in rpm.' })
  fan_rpm?: number | null;
}

/** One step of a stability ladder. */
class LadderStep {
  @Max(100_000, range('The clock', 1, 100_000, 'MHz'))
  @Min(1, range('The clock', 1, 100_000, 'MHz'))
  @IsNumber({ allowNaN: false }, { message: 'A ladder step has a clock in MHz.' })
  clock_mhz!: number;

  @IsOptional()
  @Max(100, range('The voltage', 0, 100, 'V'))
  @Min(0, range('The voltage', 0, 100, 'V'))
  @IsNumber({ allowNaN: false }, { message: 'The voltage of a ladder step is a number in V.' })
  voltage_v?: number | null;
}

/** A named load that is run on every mount. */
export class Load {
  @Length(1, 60, { message: 'A load has a name of 1 to 60 characters.' })
  @IsString({ message: 'A load has a name.' })
  name!: string;

  @IsOptional()
  @MaxLength(80, { message: 'The program of a load holds up to 80 characters.' })
  @IsString()
  program?: string | null;

  /** programs that run beside it, parted by commas */
  @IsOptional()
  @MaxLength(200, { message: 'The programs beside a load hold up to 200 characters.' })
  @IsString()
  beside?: string | null;

  /** the program with whose end the load ends, where several run */
  @IsOptional()
  @MaxLength(80, { message: 'The program that ends a load holds up to 80 characters.' })
  @IsString()
  ended_by?: string | null;

  @IsOptional()
  @MaxLength(40, { message: 'The version of a load holds up to 40 characters.' })
  @IsString()
  version?: string | null;

  @IsOptional()
  @MaxLength(200, { message: 'The settings of a load hold up to 200 characters.' })
  @IsString()
  settings?: string | null;

  @IsOptional()
  @Max(100_000, range('The number of threads', 1, 100_000, ''))
  @Min(1, range('The number of threads', 1, 100_000, ''))
  @IsInt({ message: 'The threads of a load are a whole number.' })
  threads?: number | null;

  /** scene, and where in it the run starts */
  @IsOptional()
  @MaxLength(120, { message: 'Scene and starting place hold up to 120 characters.' })
  @IsString()
  scene?: string | null;

  @IsOptional()
  @Max(1000, range('The cycles', 1, 1000, ''))
  @Min(1, range('The cycles', 1, 1000, ''))
  @IsInt({ message: 'The cycles of a load are a whole number.' })
  cycles?: number | null;

  @ValidateNested({ each: true, message: 'The steps of a load are a list, each with its stage and minutes.' })
  @ArrayMaxSize(20, { message: 'A load has up to 20 steps.' })
  @IsArray({ message: 'The steps of a load are a list.' })
  @Type(() => LoadStep)
  steps!: LoadStep[];

  @IsOptional()
  @ValidateNested({ each: true, message: 'The ladder of a load is a list of steps, each with its clock.' })
  @ArrayMaxSize(60, { message: 'A ladder has up to 60 steps.' })
  @IsArray({ message: 'The ladder of a load is a list.' })
  @Type(() => LadderStep)
  ladder?: LadderStep[] | null;
}
