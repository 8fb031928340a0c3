import type { OutcomeKey } from '#core/compare/outcomes';
import type { AnalysisOptions, BlockBy, ScatterSchool } from '#core/compare/types';
import type { TimeTo } from '#core/signal/reduce/types';
import type { TriedStep } from '#core/stability/ladder';
import type { RiseInstrument } from '#core/stats/uncertainty/riseBudget';
import type { PartMargin } from '#core/thermal/limits/partLimits';
import type { AmbientSchool } from './levelScale';

/** One part of a rig in a run: how far it stands over the room, and its resistance where its share of the power is known. */
export interface PartFigure {
  part: string;
  rise_k: number;
  r_k_per_w: number | null;
}

/** What a comparison needs to know of one run. */
export interface RunFact {
  run_id: number;
  run: number;
  mount_id: number;
  mount: number;
  specimen: string;
  rig: string;
  /** bench day, as 2026-06-04; null where the log does not tell */
  day: string | null;
  load: string | null;
  /** when it began, seconds since 1970; null where the log does not tell */
  at_s?: number | null;
  /** false where its clock named no zone: a time as the bench's clock showed it */
  at_zoned?: boolean;
  valid: boolean;
  r_valid: boolean;
  censored: boolean;
  /** highest value where it throttled: at or above */
  values: Partial<Record<OutcomeKey, number>>;
  events: TimeTo[];
  /** steps of a stability ladder that were tried */
  ladder?: TriedStep[];
  /** parts of its rig, where that has several */
  parts?: PartFigure[];
  /** rise of each sensor or part by its name, K */
  sensors?: Record<string, number>;
  power_w: number | null;
  exhaust_rise_k: number | null;
  /** room of each part to its own limit; empty where the plan states none */
  margins: PartMargin[];
  /** findings that wait for a person; until then it takes no part in means */
  undecided: string[];
  mount_reason: string | null;
  run_reason: string | null;
}

export interface SpecimenFact {
  id: number;
  name: string;
  position: number;
  kind: string;
  /** one device's own state, which cannot be mounted again */
  fixed: boolean;
  /** its level of each of two crossed factors, where the study has two */
  levels: [string, string] | null;
  /**
   * money of one mount with what it needs once, or of the plan's years with renewals; of a material what serves again is shared by its
   * mounts; null where it has no price
   */
  cost: number | null;
  /** minutes of hands-on work for one mount, with what is done once */
  minutes: number | null;
  /** tries to mount it, and those that failed */
  tries: number;
  failed: number;
  mounts_planned: number;
}

/** A study as its results rest on it. */
export interface StudyFacts
  extends Pick<AnalysisOptions, 'confidence' | 'family' | 'block' | 'borrowed' | 'default_mount_sd' | 'unplanned_look'> {
  study_id: number;
  title: string;
  question: string;
  reference: string | null;
  specimens: SpecimenFact[];
  runs: RunFact[];
  /** named loads, in their order; empty where the study names none */
  loads: string[];
  /** what it is judged by: the rise, or the first of its outcomes where that is not among them */
  main_outcome: OutcomeKey;
  margin_k: number;
  /** smallest difference that matters, by outcome, where the study says it */
  margins: Partial<Record<OutcomeKey, number>>;
  scatter: ScatterSchool | 'auto';
  design: 'one_factor' | 'two_by_two' | 'before_after';
  /** how the level of a rise is told */
  ambient_school: AmbientSchool;
  currency: string | null;
  /** years that costs are told for; null or missing for one mount */
  years?: number | null;
  instruments: RiseInstrument[];
  /** names of the factors that vary, the second of a crossed design or null */
  factors: [string, string | null];
  sound: SoundSetup;
  /** temperature of the room that the parts' limits are told for, °C; null where the plan states no limits */
  limits_room_c: number | null;
  /** sensors that have a limit and are in no log, as a sentence; null where all are */
  limits_unread: string | null;
  /** ages to measure each mount at, days; empty where none are planned */
  ages: number[];
}

/** How sound was read, and how it is told. */
export interface SoundSetup {
  /** level of the room with everything off, dB; null where it was not read */
  floor_db: number | null;
  /** distance of the meter and the one levels are told for, m; null where not stated */
  distance_m: number | null;
  at_m: number | null;
  /** level that coolers are compared at, dB */
  target_db: number | null;
  weighting: 'A' | 'C' | 'Z';
}

/** What is looked at: the choices of the results place. */
export interface ResultsChoice {
  outcome: OutcomeKey;
  scatter: ScatterSchool | 'auto';
  family: 'all' | 'reference';
  block: BlockBy | null;
  load: string | null;
  /** for the rise at a stated power, W */
  power_w: number | null;
  /** for the time to an event */
  event: string | null;
  /** for one sensor or one part: its name */
  sensor?: string | null;
  /** of a ladder: the voltage its clock is told at, V, or the clock its voltage is told at, MHz; the mean over all voltages */
  at?: number | 'mean' | null;
  /** whether what a person left out is included again */
  with_excluded: boolean;
  /** whether runs that wait for a decision are taken in as they stand */
  with_undecided?: boolean;
}
