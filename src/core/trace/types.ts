import type { LogTime, Role, RowCounts } from '../logs/types';
import type { Unit } from '../units/units';

/** One quantity over time. Channels of one file share their time axis. */
export interface Channel {
  name: string;
  file: string;
  role: Role;
  unit: Unit | null;
  /** seconds on the run's clock, which starts at the first sample of the first file */
  t: Float64Array;
  /** readings in the core's units, NaN where missing */
  values: Float64Array;
  /** readings with flagged spikes taken out */
  clean: Float64Array;
  resolution: number | null;
  /** true for kelvin over ambient, where no ambient was logged that could be added */
  rise: boolean;
  /** usual time between samples of its file, s */
  period_s: number;
  missing: number;
  spikes: number;
  stuck: boolean;
  dead: boolean;
}

/** What tells load from idle: power where logged, else clock, else load, else the sensors themselves. */
export interface Drive {
  kind: 'power' | 'clock' | 'load' | 'temperature';
  t: Float64Array;
  /** 5 s running median */
  values: Float64Array;
  period_s: number;
}

/** All channels of one run on one clock. */
export interface Trace {
  files: { name: string; time: LogTime; rows: RowCounts }[];
  channels: Channel[];
  /** seconds added to each further file's times to reach the first file's clock */
  /** what tells load from idle; null without any channel that could */
  drive: Drive | null;
  clock_offset_s: Record<string, number>;
  /** files put on the clock by correlation, with the height of the correlation's peak */
  correlated: Record<string, number>;
  samples: number;
  period_s: number;
  duration_s: number;
}

/** Span of time, its end not included. */
export interface Span {
  start_s: number;
  end_s: number;
}

/** Channels of a role that can be relied on. */
export function usable(trace: Trace, role: Role): Channel[] {
  return trace.channels.filter((c) => c.role === role && !c.stuck && !c.dead);
}
