import type { Unit } from '#core/units/units';
import type { ClockRepair } from './clock';

/** What a column of a log is for. */
export const ROLES = [
  'sensor',
  'ambient',
  'coolant',
  'exhaust',
  'part',
  'power',
  'clock',
  'fan',
  'load',
  'throttle',
  'noise',
  'voltage',
  'score',
  'frame',
  'ignore',
] as const;
export type Role = (typeof ROLES)[number];

export type Delimiter = ',' | ';' | '\t' | ' ' | '|';
export type Decimal = '.' | ',';

export type TimeFormat =
  | 'iso'
  | 'dotted_date'
  | 'day_month'
  | 'month_day'
  | 'time_of_day'
  | 'elapsed_clock'
  | 'epoch_s'
  | 'epoch_ms'
  | 'epoch_us'
  | 'epoch_ns'
  | 'month_name'
  | 'excel_serial'
  | 'elapsed_s';

/** Decisions a person may overrule; what is not given is guessed. Columns go by their name without the unit. */
export interface LogOptions {
  delimiter?: Delimiter;
  decimal?: Decimal;
  /** a role given here displaces guesses of the same role */
  roles?: Record<string, Role>;
  /** guesses stay beside given roles, as where a person sees them all and corrects one */
  keep_guesses?: boolean;
  /** a column that is a sensor whatever its name suggests, beside those that are guessed */
  sensor?: string;
  /** columns of other parts that a study gives a limit, or a rig names: read where nothing else is known of them */
  parts?: string[];
  units?: Record<string, Unit>;
  day_first?: boolean;
}

export interface LogColumn {
  /** position in the file, from 0 */
  index: number;
  /** header without its unit */
  name: string;
  unit: Unit | null;
  /** the unit was read from the file or given by a person, not supposed from the role */
  labelled: boolean;
  role: Role;
  /** why this role: given by a person, or what in the name, unit or values decided */
  reason: string;
  /** one value per kept row, in the core's units; NaN where missing */
  values: Float64Array;
  /** smallest step in the data, in the core's units; null where the values never change */
  resolution: number | null;
  /** true for kelvin over ambient instead of a temperature */
  rise: boolean;
}

/** Rows that were counted and left out. */
export interface RowCounts {
  partial: number;
  ragged: number;
  repeated: number;
  summary: number;
  out_of_order: number;
}

export interface LogTime {
  /** names of the columns the time is read from */
  columns: string[];
  format: TimeFormat;
  /** seconds since 1970 of the first kept row, read as UTC where no zone is given; null for elapsed and undated times */
  start_epoch_s: number | null;
  zoned: boolean;
}

export interface Log {
  file: string;
  encoding: string;
  delimiter: Delimiter;
  decimal: Decimal;
  /** line of the header from 1, null where the file has none */
  header_line: number | null;
  unit_line: number | null;
  first_data_line: number;
  time: LogTime;
  /** seconds from the first kept row */
  t: Float64Array;
  columns: LogColumn[];
  rows: RowCounts;
  /** what was put right in its times */
  clock: ClockRepair;
  /** cells of the first data rows as they stand in the file */
  preview: string[][];
  /** all column headers as they stand in the file */
  headers: string[];
}

/** A file that cannot be read: what is wrong, where, and what would be right, in one line. */
export class LogError extends Error {
  constructor(
    readonly file: string,
    readonly problem: string,
    readonly place: { row?: number; column?: string } = {},
    /** a decision that would let the file be read */
    readonly asks: 'day_order' | 'clock_offset' | null = null,
  ) {
    const where = [file, place.row && `row ${place.row}`, place.column && `column "${place.column}"`].filter(Boolean).join(', ');
    super(`${where}: ${problem}`);
    this.name = 'LogError';
  }
}
