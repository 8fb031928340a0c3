import type { PowerCourse } from '#core/signal/course/powerCourse';
import type { ReadingErrors } from '#core/signal/course/readingErrors';
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
  /** s after the beginning of the step */
  t: Float64Array;
  /** K/W from the mean before the step, rising for both kinds; samples before the step stand first, at times below zero */
  k_per_w: Float64Array;
  /** what the power did, as a share of its step */
  course: PowerCourse;
  /** standard deviation of what the clocks of power and sensor may lie apart, s */
  moment_sd_s: number;
  /** power that came or went, W */
  power_w: number;
  /** when the step was, s on the log's clock */
  at_s: number;
  interval_s: number;
  /** smallest step of the sensor, K; null where none can be told */
  resolution_k: number | null;
  /** errors of one reading, K */
  errors: ReadingErrors;
  findings: TransientFinding[];
}

type TransientCode =
  | 'no_step'
  | 'no_power'
  | 'power_moves'
  | 'fan_moves'
  | 'moving_before'
  | 'power_unlogged'
  | 'does_not_fit'
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
export interface StepLayer {
  /** J/K */
  c: Estimate;
  /** K/W */
  r: Estimate;
  /** from the sensor to the end of this layer, K/W */
  until: Estimate;
  /** where the log ends before this layer does: what it holds up at least, K/W; its other figures are not told then */
  least: number | null;
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
  layers: StepLayer[];
  /** null where the log ends before the temperature does */
  total: Estimate | null;
  /** chi-square of the layers per degree of freedom: how well they fit */
  misfit: number;
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
  /** they part nearer to the sensor than this, K/W, where the logs are too slow to say more; null where they are not */
  within: number | null;
  /** null where a log ends before its temperature does */
  totals: [Estimate, Estimate] | null;
  /** chi-square of both per degree of freedom */
  misfit: number;
  /** the layers of both, as they are told together */
  layers: [StepLayer[], StepLayer[]];
}
