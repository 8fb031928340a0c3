import type { Role } from '#core/signal/logs/types';
import type { ReduceOptions, StartState } from '#core/signal/reduce/types';
import type { Unit } from '#core/units/units';

/** What a live run is for: runs on a mount, cycles until the interface no longer gains, or an attended test that ends at a limit. */
type LiveKind = 'run' | 'conditioning' | 'limit_test';

/** One quantity that a source reads. */
export interface LiveChannel {
  name: string;
  role: Role;
  unit: Unit | null;
  source: string;
  /** usual time between readings, s */
  period_s: number;
}

/** What the machine goes by. Times are seconds of the bench, temperatures °C, rises K. */
export interface LiveSettings
  extends Pick<
    ReduceOptions,
    | 'window_s'
    | 'slope_k_per_min'
    | 'margin_k'
    | 'limit_c'
    | 'ambient_band_c'
    | 'power_w'
    | 'power_tolerance'
    | 'fan_rpm'
    | 'fan_tolerance'
    | 'room_c'
    | 'first'
    | 'awaited'
  > {
  kind: LiveKind;
  /** runs wanted on this mount, or cycles at most */
  cycles: number;
  /** hard limit at which the load is cut off */
  stop_c: number | null;
  /** steepest rise of a sensor that is allowed after the first minute of load, K/min */
  most_k_per_min: number | null;
  /** idle before a load at least, and a load at most */
  idle_s: number;
  most_load_s: number;
  /** cool-down that belongs to a run's record */
  cooldown_s: number;
  /** standard deviation between cycles, K, for conditioning */
  run_sd_k: number;
  /** the load can be switched by command */
  switched: boolean;
  /** how far the interface is conditioned, where its material asks for it */
  conditioned: { done: boolean; message: string } | null;
  /** s of the bench that a command takes to show in the readings: the wait between reading and asking, at the bench's speed */
  lag_s: number;
}

const LIVE_STAGES = ['preflight', 'idle', 'load', 'settling', 'averaging', 'cooldown', 'finished', 'stopped'] as const;
export type LiveStage = (typeof LIVE_STAGES)[number];

/** A cycle whose readings are complete: it can be reduced and kept as a run. */
export interface ClosedCycle {
  cycle: number;
  from_s: number;
  to_s: number;
  /** live mean over the last window, K; the run's own value comes of its reduction */
  rise_k: number | null;
  /** why it ended, where it did not end steady */
  reason: string | null;
}

/** An event named by a tester or told by a channel, and the load step it fell in. */
interface LiveMark {
  event: string;
  at_s: number;
  load_w: number | null;
}

/** Where a live run stands; all that the machine needs to go on after a break lies in it and in the readings. */
export interface LiveState {
  /** time up to which it has followed the readings */
  t: number;
  stage: LiveStage;
  since_s: number;
  cycle: number;
  /** where the record of this cycle begins */
  cycle_from_s: number;
  load_from_s: number | null;
  load_to_s: number | null;
  /** power at idle, by which load is told, W */
  idle_w: number | null;
  /** when the window opened; null while it is shut */
  opened_s: number | null;
  /** when the load was last asked to start or to end in this stage, or, under a load that has just begun, to start */
  asked_s: number | null;
  /** how long the drive rose in this idle without becoming a load, s; null or nothing where it did not */
  brief_s?: number | null;
  /** rise over the last window with its slope, as last judged */
  window: { rise_k: number; slope: number; reach: number; steady: boolean } | null;
  /** sensor and coolant over ambient before load, of this cycle and of the first */
  start: StartState | null;
  first: StartState | null;
  /**
   * what the mean of the last window may still be short of, as last forecast: one-sided 95 % bound and slowest time constant; null while
   * nothing is known
   */
  left: { k: number; tau_s: number } | null;
  closed: ClosedCycle[];
  marks: LiveMark[];
  /** what it waits for, in words */
  waits: string;
  /** why the load was switched off while nobody watched: nothing is switched on again until a person says so; null otherwise */
  held?: string | null;
  /** the load is asked to be on; told to devices that switch it themselves */
  load_wanted?: boolean;
}

/** What the machine asks the bench for. */
export type LiveAction = 'load_on' | 'load_off' | 'cut_off';

export const LIVE_DEFAULTS: LiveSettings = {
  kind: 'run',
  cycles: 1,
  window_s: 120,
  slope_k_per_min: 0.2,
  margin_k: 1,
  limit_c: null,
  stop_c: null,
  most_k_per_min: null,
  ambient_band_c: null,
  power_w: null,
  power_tolerance: 0.02,
  fan_rpm: null,
  fan_tolerance: 0.02,
  idle_s: 120,
  most_load_s: 3600,
  cooldown_s: 60,
  room_c: null,
  first: null,
  run_sd_k: 0.1,
  switched: false,
  conditioned: null,
  awaited: [],
  lag_s: 0,
};
