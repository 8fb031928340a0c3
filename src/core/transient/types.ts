import type { StructurePoint } from './cauer';
import type { FosterChain } from './foster';

/** Every option of a step and its reading, with its unit. */
export interface TransientOptions {
  /** which step of the log is read */
  step: 'heating' | 'cooling';
  /** sensor that is read; null for the one that ends hottest */
  sensor: string | null;
  /** power of the step where none was logged, W */
  power_w: number | null;
}

/** The course after one step of power, over the room and per watt. */
export interface StepRecord {
  kind: 'heating' | 'cooling';
  sensor: string;
  /** s after the step */
  t: Float64Array;
  /** K/W from the level before the step, rising for both kinds */
  k_per_w: Float64Array;
  /** power that came or went, W */
  power_w: number;
  /** when the step was, s on the log's clock */
  at_s: number;
  interval_s: number;
  /** samples of the level before it */
  samples_before: number;
  /** smallest step of the sensor, K; null where none can be told */
  resolution_k: number | null;
  /** standard deviation of one reading, K */
  noise_k: number;
  findings: TransientFinding[];
}

export type TransientCode =
  | 'no_step'
  | 'no_power'
  | 'power_moves'
  | 'fan_moves'
  | 'moving_before'
  | 'gaps'
  | 'few_samples'
  | 'too_slow'
  | 'dark_part'
  | 'too_coarse'
  | 'coarse'
  | 'not_at_end'
  | 'room_unknown';

/** What an automatic check says of a step. A refusal leaves no structure. */
export interface TransientFinding {
  code: TransientCode;
  severity: 'warn' | 'refuse';
  sentence: string;
}

/** One node of the ladder that tells a step: heat that is stored there, and the way on to the next. */
export interface Layer {
  /** J/K */
  c: Estimate;
  /** K/W */
  r: Estimate;
  /** from the sensor to the end of this layer, K/W */
  until: Estimate;
}

export interface Estimate {
  value: number;
  se: number;
}

/** Where heat is held up and where it is stored on its way from the sensor to the room, as one step tells it. */
export interface ThermalStructure {
  spectrum: FosterChain;
  /** cumulative structure of the whole spectrum */
  curve: StructurePoint[];
  /** the fewest layers that tell the step as well */
  layers: Layer[];
  total: Estimate;
  /** resistance that came faster than the log can follow, K/W */
  dark_k_per_w: number;
  findings: TransientFinding[];
}

/** Whether and where two mounts part, seen from the sensor. */
export interface Parting {
  kind: 'alike' | 'one_layer' | 'from_here_on' | 'from_the_start';
  /** where they part, K/W from the sensor; null where they do not */
  at: Estimate | null;
  /** where the layer that differs ends in the first and in the second */
  ends: [Estimate, Estimate] | null;
  /** what the second has more than the first from there on, K/W */
  more: Estimate | null;
  /** other places that tell the two nearly as well, K/W from the sensor */
  others: number[];
  /** heat stored between the sensor and that place, J/K */
  before_j_per_k: Estimate | null;
  /** whether the layer that differs is the last one, into the room */
  is_last: boolean;
  totals: [Estimate, Estimate];
  /** the layers of both, as they are told together */
  layers: [Layer[], Layer[]];
}
