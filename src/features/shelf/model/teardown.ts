import { plural } from '#core/text/words';
import 'reflect-metadata';
import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsInt, IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min, ValidateNested } from 'class-validator';

const MOST_STEPS = 60;

/** One thing that is undone to open a device; read backwards it is one thing to put back. */
export class TeardownStep {
  @IsString({ message: 'Say what is undone.' })
  @Length(1, 200, { message: 'What is undone takes 1 to 200 characters.' })
  what!: string;

  @IsOptional()
  @IsInt({ message: 'Screws are counted.' })
  @Min(0, { message: 'Screws are counted from 0 to 99.' })
  @Max(99, { message: 'Screws are counted from 0 to 99.' })
  screws?: number | null;

  @IsOptional()
  @IsNumber({}, { message: 'The length of the screws is a number of mm.' })
  @Min(0.5, { message: 'A screw is 0.5 to 300 mm long.' })
  @Max(300, { message: 'A screw is 0.5 to 300 mm long.' })
  screw_mm?: number | null;

  /** where they are, or what else would be mistaken */
  @IsOptional()
  @IsString()
  @MaxLength(120, { message: 'The place holds up to 120 characters.' })
  place?: string;

  @IsOptional()
  @IsString()
  @MaxLength(120, { message: 'Connectors hold up to 120 characters.' })
  connectors?: string;

  @IsOptional()
  @IsString()
  @MaxLength(80, { message: 'The tool holds up to 80 characters.' })
  tool?: string;

  @IsOptional()
  @IsNumber({}, { message: 'Minutes are a number.' })
  @Min(0, { message: 'A step takes 0 to 600 minutes.' })
  @Max(600, { message: 'A step takes 0 to 600 minutes.' })
  minutes?: number | null;

  /** number of its photograph */
  @IsOptional()
  @IsInt()
  photograph?: number | null;
}

export class Teardown {
  @IsInt({ message: 'Say which version was changed.' })
  base!: number;

  @IsArray({ message: 'The steps are a list.' })
  @ArrayMaxSize(MOST_STEPS, { message: `A device is taken apart in up to ${MOST_STEPS} steps.` })
  @ValidateNested({ each: true })
  @Type(() => TeardownStep)
  steps!: TeardownStep[];
}

/** Minutes to take a device apart by its list; null where no step tells them. */
export function teardownMinutes(steps: TeardownStep[]): number | null {
  const told = steps.flatMap((s) => s.minutes ?? []);
  return told.length === 0 ? null : told.reduce((sum, m) => sum + m, 0);
}

/** Screws of a step in words, such as "4 screws, 8 mm, under the label"; empty where there are none. */
export function screwWords({ screws, screw_mm, place }: TeardownStep): string {
  return [...(screws ? [plural(screws, 'screw')] : []), ...(screws && screw_mm ? [`${screw_mm} mm`] : []), ...(place ? [place] : [])].join(
    ', ',
  );
}
