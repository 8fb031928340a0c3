import 'reflect-metadata';
import { Type } from 'class-transformer';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsOptional, IsString, Length, MaxLength, ValidateNested } from 'class-validator';
import { ReadingChoices } from './importPlan';

/** Most columns of a layout: as many as a log may have. */
const MOST_HEADERS = 2000;
/** Most layouts in one file of layouts. */
const MOST_LAYOUTS = 500;

/** How files with these headers are read. */
export class Layout {
  @IsString({ message: 'Give the layout a name.' })
  @Length(1, 120, { message: 'A layout needs a name of 1 to 120 characters.' })
  name!: string;

  @IsArray({ message: 'The headers of a layout are a list of texts.' })
  @ArrayMinSize(2, { message: 'A layout has at least two headers.' })
  @ArrayMaxSize(MOST_HEADERS, { message: `A layout has up to ${MOST_HEADERS} headers.` })
  @IsString({ each: true, message: 'Each header of a layout is a text.' })
  @MaxLength(500, { each: true, message: 'A header has up to 500 characters.' })
  headers!: string[];

  @ValidateNested()
  @Type(() => ReadingChoices)
  reading: ReadingChoices = new ReadingChoices();

  @IsOptional()
  @IsString()
  @MaxLength(200)
  sensor?: string | null;
}

/** A file of layouts to be shared. */
export class LayoutFile {
  @IsArray({ message: 'A file of layouts holds a list named "layouts".' })
  @ArrayMaxSize(MOST_LAYOUTS, { message: `A file holds up to ${MOST_LAYOUTS} layouts.` })
  @ValidateNested({ each: true, message: 'A file of layouts holds a list named "layouts".' })
  @Type(() => Layout)
  layouts!: Layout[];
}

/** Decisions in words, for tables of layouts. */
export function decisionsOf({ reading, sensor }: Pick<Layout, 'reading' | 'sensor'>): string[] {
  const roles = Object.entries(reading.roles ?? {}).map(([column, role]) => `${column} is ${role === 'ignore' ? 'left aside' : role}`);
  const units = Object.entries(reading.units ?? {}).map(([column, unit]) => `${column} in ${unit}`);
  return [
    ...roles,
    ...units,
    ...(reading.day_first === undefined ? [] : [reading.day_first ? 'the day is first' : 'the month is first']),
    ...(reading.decimal ? [`decimal “${reading.decimal}”`] : []),
    ...(sensor ? [`judged by ${sensor}`] : []),
  ];
}

/** True where a person decided anything about how a file is read. */
export function isDecided(reading: ReadingChoices, sensor: string | null | undefined): boolean {
  return decisionsOf({ reading, sensor }).length > 0 || reading.delimiter !== undefined;
}
