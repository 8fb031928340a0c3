import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsIn, IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import { DECISION_CODES } from '#core/signal/reduce/decisions';
import { UNITS, type Unit } from '#core/units/units';
import { ValuesIn } from '#rules/validation';

/** How a person settles what a run waits for: each way is taken into its reading, which is then made anew. */
export class Decision {
  /** findings that are right as they are */
  @IsOptional()
  @IsArray({ message: 'What is accepted is a list of findings.' })
  @ArrayMaxSize(20, { message: 'Up to 20 findings are accepted at once.' })
  @IsIn(DECISION_CODES, { each: true, message: `Only a finding that needs a decision can be accepted: ${DECISION_CODES.join(', ')}.` })
  accept?: string[];

  /** probes that measure the room */
  @IsOptional()
  @IsArray({ message: 'Probes of the room are a list of names.' })
  @ArrayMaxSize(50, { message: 'Up to 50 probes are named.' })
  @IsString({ each: true, message: 'A probe is named by its column.' })
  @MaxLength(200, { each: true, message: 'A column has up to 200 characters.' })
  ambient_probes?: string[];

  @IsOptional()
  @IsNumber({}, { message: 'The room is a number in °C.' })
  @Min(-60, { message: 'A room below −60 °C is not plausible.' })
  @Max(80, { message: 'A room above 80 °C is not plausible.' })
  room_c?: number;

  @IsOptional()
  @IsNumber({}, { message: 'The uncertainty of the room is a number in K.' })
  @Min(0, { message: 'An uncertainty is not negative.' })
  @Max(20, { message: 'An uncertainty above 20 K says nothing.' })
  room_u_k?: number;

  /** units of columns */
  @IsOptional()
  @ValuesIn(Object.keys(UNITS))
  units?: Record<string, Unit>;

  @IsString({ message: 'Say in 1 to 500 characters why: it stays in the record.' })
  @Length(1, 500, { message: 'Say in 1 to 500 characters why: it stays in the record.' })
  reason!: string;

  @IsOptional()
  @IsString({ message: 'Initials are a text.' })
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  who?: string;

  /** this run, or all of its study under the same load that wait for the same */
  @IsOptional()
  @IsIn(['run', 'load'], { message: 'A decision is for this run, or for all runs of its load.' })
  covers?: 'run' | 'load';
}
