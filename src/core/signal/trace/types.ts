import type { ClockRepair } from '#core/signal/logs/clock';
import type { LogColumn, LogTime, Role, RowCounts } from '#core/signal/logs/types';

/** One quantity over time. Channels of one file share their time axis. */
export interface Channel extends Pick<LogColumn, 'name' | 'role' | 'unit' | 'values' | 'resolution' | 'rise' | 'labelled'> {
  file: string;
  /** seconds on the run's clock, which starts at the first sample of the first file */
  t: Float64Array;
  /** readings with flagged spikes taken out */
  clean: Float64Array;
  /** usual time between samples of its file, s */
  period_s: number;
  missing: number;
  spikes: number;
  stuck: boolean;
  dead: boolean;
  /** second from which a sensor gave impossible values to the end; null where it did not die */
  died_s: number | null;
  /** without a unit in the file, and read as °F because of its levels */
  guessed_f: boolean;
  /** says °C, and agrees with its peers only as °F */
  doubtful_f: boolean;
  /** where an ambient probe stands; null for other roles */
  place: AmbientPlace | null;
  /** an ambient with one value all through: as good as one typed value */
  constant: boolean;
}

/** Where the air is measured; places are never averaged with each other. */
export const PLACES = ['room', 'inlet', 'case'] as const;
export type AmbientPlace = (typeof PLACES)[number];

/** Which ambient the rise is taken over, and what the study allows of it. */
export interface AmbientChoice {
  place: AmbientPlace;
  /** probes that count, by name; all of the place where empty */
  probes: string[];
  band_c: [number, number] | null;
  /** names of probes that are probes although they show one value all through */
  known_probes: string[];
}

export const ANY_AMBIENT: AmbientChoice = { place: 'room', probes: [], band_c: null, known_probes: [] };

/** What tells load from idle: power where logged, else clock, else load, else the sensors themselves. */
export interface Drive {
  kind: 'power' | 'clock' | 'load' | 'temperature';
  t: Float64Array;
  /** 5 s running median */
  values: Float64Array;
  period_s: number;
}

/** A file of a run: its times, the rows that were left out of it and kept, and its columns of temperatures that serve nothing. */
export interface TraceFile {
  name: string;
  time: LogTime;
  rows: RowCounts;
  kept: number;
  clock: ClockRepair;
  unused: { name: string; reason: string }[];
}

/** All channels of one run on one clock. */
export interface Trace {
  files: TraceFile[];
  channels: Channel[];
  room: AmbientChoice;
  /** what tells load from idle; null without any channel that could */
  drive: Drive | null;
  /** seconds added to each further file's times to reach the first file's clock */
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
export const usable = (trace: Trace, role: Role): Channel[] => trace.channels.filter((c) => c.role === role && !c.stuck && !c.dead);
