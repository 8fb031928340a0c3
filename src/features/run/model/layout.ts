import { ListOf, Maybe, Nested, Text, Texts } from '#rules/rules';
import { ReadingChoices } from './importPlan';

/** Most columns of a layout: as many as a log may have. */
const MOST_HEADERS = 2000;
/** Most layouts in one file of layouts. */
const MOST_LAYOUTS = 500;

/** How files with these headers are read. */
export class Layout {
  @Text(1, 120, 'A log format needs a name of 1 to 120 characters.')
  name!: string;

  @Texts(MOST_HEADERS, 500, `The headers of a log format are a list of 2 to ${MOST_HEADERS} texts of up to 500 characters.`, 2)
  headers!: string[];

  @Nested(() => ReadingChoices)
  reading: ReadingChoices = new ReadingChoices();

  @Maybe(Text(0, 200))
  sensor?: string | null;
}

/** A file of layouts to be shared. */
export class LayoutFile {
  @ListOf(() => Layout, MOST_LAYOUTS, `A file of log formats holds a list named "layouts", of up to ${MOST_LAYOUTS}.`)
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
export const isDecided = (reading: ReadingChoices, sensor: string | null | undefined): boolean =>
  decisionsOf({ reading, sensor }).length > 0 || reading.delimiter !== undefined;
