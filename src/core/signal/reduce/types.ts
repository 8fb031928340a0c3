import type { Finding } from '#core/compare/types';
import type { RowCounts } from '#core/signal/logs/types';
import type { AmbientPlace, Channel, Span } from '#core/signal/trace/types';
import type { TriedStep } from '#core/stability/ladder';

export type ValueSchool = 'mean' | 'peak' | 'fixed' | 'fitted';
export type Aggregate = 'named' | 'mean' | 'hottest';

/** How a run is reduced. Every default is a study setting. */
export interface ReduceOptions {
  /** throttle limit, °C; null where not known */
  limit_c: number | null;
  /** averaging window, s */
  window_s: number;
  /** steady where slope and uncertainty stay within it, K/min */
  slope_k_per_min: number;
  value: ValueSchool;
  /** for the fixed-time value: seconds after load start */
  at_s: number | null;
  /** entered room temperature for a log without ambient, °C */
  room_c: number | null;
  /** standard uncertainty of the entered room temperature, K */
  room_u_k: number | null;
  /** primary sensor */
  sensor: string | null;
  /** default: named where a primary sensor is given, else mean */
  aggregate: Aggregate | null;
  /** smallest difference that matters, K; creeping is judged against a quarter of it */
  margin_k: number;
  power_w: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
  /** share by which power may differ from what the study holds, and the fan, which may differ by 20 rpm whatever its speed */
  /** the study holds the power, so that another one needs a decision; else it is noted */
  power_held: boolean;
  power_tolerance: number;
  fan_tolerance: number;
  ambient_band_c: [number, number] | null;
  /** largest change of the room within the load, K; null where only its drift per hour is judged */
  ambient_range_k: number | null;
  /** where the study takes its ambient, and probes named by a person; all of the place where none is */
  ambient_place: AmbientPlace;
  ambient_probes: string[];
  /** probes that the shelf knows, with their resolution, K: one value all through is a fault of theirs */
  probe_resolution_k: Record<string, number>;
  /** difference between probes of one place that needs a decision, K */
  ambient_disagree_k: number;
  /** sensors that enter the value in most mounts of the specimen; null where not known */
  sensors: string[] | null;
  /** columns of other parts that are read beside the sensors, by name */
  part_sensors: string[];
  /** the value is the temperature itself, the room not taken off; the room is judged all the same */
  absolute: boolean;
  /** false where the study compares by other outcomes alone: a run without a rise is complete then */
  rise_wanted: boolean;
  /** the run is pre-warmed on purpose */
  prewarmed: boolean;
  /** the run is to start cold, which is judged by itself too, not only against the mount's first run */
  cold_start: boolean;
  /** codes of findings that a person decided to accept */
  accept: string[];
  /** window set by hand; null: the last steady one */
  window: Span | null;
  /** start state of the mount's first run */
  first: StartState | null;
  /** events marked while the run went on, s from the first sample */
  marks: { event: string; at_s: number }[];
  /** events the run was made to wait for; one that did not come is told as longer than the load */
  awaited: string[];
}

export const REDUCE_DEFAULTS: ReduceOptions = {
  limit_c: null,
  window_s: 120,
  slope_k_per_min: 0.2,
  value: 'mean',
  at_s: null,
  room_c: null,
  room_u_k: null,
  sensor: null,
  aggregate: null,
  margin_k: 1,
  power_w: null,
  fan_rpm: null,
  clock_mhz: null,
  power_held: true,
  power_tolerance: 0.02,
  fan_tolerance: 0.02,
  ambient_band_c: null,
  ambient_range_k: null,
  ambient_place: 'room',
  ambient_probes: [],
  probe_resolution_k: {},
  ambient_disagree_k: 2,
  sensors: null,
  part_sensors: [],
  absolute: false,
  rise_wanted: true,
  prewarmed: false,
  cold_start: false,
  accept: [],
  window: null,
  first: null,
  marks: [],
  awaited: [],
};

/** First 30 s before load: how far sensor and coolant stand above ambient. */
export interface StartState {
  sensor_rise_k: number | null;
  coolant_rise_k: number | null;
}

export interface ReducedStage {
  stage: 'idle' | 'boost' | 'sustained' | 'cooldown';
  start_s: number;
  end_s: number;
  power_w: number | null;
  clock_mhz: number | null;
  mean_rise_k: number | null;
  peak_rise_k: number | null;
  /** boosts are numbered from 1 */
  number: number | null;
}

/** What the fan did under load. */
export interface FanFigures {
  min_rpm: number;
  max_rpm: number;
  /** in the sustained stage */
  surges_per_min: number;
  /** time between surges where they come again and again */
  cycle_s: number | null;
  /** from load start until it was half way to its speed under load; null where the speed stayed */
  spin_up_s: number | null;
}

/** Time from load start to an event; a run that ended before it was longer. */
export interface TimeTo {
  event: string;
  s: number;
  reached: boolean;
}

/** What the part got done. */
export interface Performance {
  score: number | null;
  run_time_s: number | null;
  /** frames per second, over all frames */
  frame_rate: number | null;
  /** rate of the slowest hundredth of the frames */
  slow_frame_rate: number | null;
  frame_time_ms: number | null;
  score_per_w: number | null;
}

export interface ReducedSensor {
  name: string;
  mean_c: number | null;
  max_c: number | null;
  rise_k: number | null;
  se_k: number | null;
  n_eff: number | null;
}

interface ReducedChannel extends Pick<Channel, 'name' | 'file' | 'role' | 'unit' | 'missing' | 'spikes' | 'stuck' | 'dead'> {
  samples: number;
}

/** The value under another way to decide. */
export interface Alternative {
  /** probe that is left out */
  without: string | null;
  /** what is taken instead */
  with: string | null;
  rise_k: number | null;
}

/** One run, reduced. Field names are those of the headless contract; what does not exist is null. */
export interface Reduction {
  samples: number;
  period_s: number;
  duration_s: number;
  rows: RowCounts;
  channels: ReducedChannel[];
  clock_offset_s: Record<string, number>;
  stages: ReducedStage[];
  window: { start_s: number; end_s: number } | null;
  /** the window as it is found by itself, where one was set by hand */
  auto_window: { start_s: number; end_s: number } | null;
  steady: boolean;
  steady_at_s: number | null;
  slope_k_per_min: number | null;
  ambient_c: { mean: number; min: number; max: number; drift_k_per_h: number | null } | null;
  sensors: ReducedSensor[];
  /** temperatures of other parts; missing where none was read */
  parts?: ReducedSensor[];
  aggregate: Aggregate;
  value: ValueSchool;
  rise_k: number | null;
  se_k: number | null;
  /** true where the value is the temperature itself, °C */
  absolute?: boolean;
  /** 95 % interval of the value */
  ci_k: [number, number] | null;
  /** step of the coarsest sensor the value rests on */
  resolution_k: number | null;
  mean_rise_k: number | null;
  peak_rise_k: number | null;
  fitted_rise_k: number | null;
  fixed_rise_k: number | null;
  idle_rise_k: number | null;
  hottest_rise_k: number | null;
  spread_k: number | null;
  power_w: number | null;
  r_k_per_w: number | null;
  fan_rpm: number | null;
  /** drive of the fan, %, where its speed was not read but this */
  fan_pct?: number | null;
  /** V, where it was read */
  voltage_v?: number | null;
  clock_mhz: number | null;
  noise_db: number | null;
  /** of the air that leaves the cooler, over the room */
  exhaust_rise_k: number | null;
  throttled_share: number | null;
  censored: boolean;
  valid: boolean;
  r_valid: boolean;
  /** codes of findings that wait for a person; the run takes no part in means until then */
  decision: string[];
  /** the value under the ways to decide */
  alternatives: Alternative[];
  /** with their times from the first sample and from load start */
  events: { event: string; at_s: number; load_s: number }[];
  times_to: TimeTo[];
  fan: FanFigures | null;
  performance: Performance | null;
  /** steps of a stability ladder that were tried */
  ladder?: TriedStep[];
  start_state: StartState;
  findings: Finding[];
}
