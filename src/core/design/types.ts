import type { ScatterChoice } from '#core/compare/types';

/** How the verdicts of a planned study will be reached; the same names as the options of the comparison. */
export interface PlannedComparison {
  specimens: number;
  /** runs on each mount, averaged within it */
  runs: number;
  /** what margin and scatter are in; K where it is not said */
  unit?: string;
  /** standard deviation between mounts of one specimen, in its unit */
  mount_sd: number;
  /** standard deviation between runs on one mount, in its unit */
  run_sd: number;
  /** smallest difference that matters, in its unit */
  margin: number;
  confidence: number;
  family: 'all' | 'reference';
  scatter: ScatterChoice;
  /** whether the specimens are of one kind; goes into the measured choice of school, true where absent */
  one_kind?: boolean;
  /** power: wanted chance of finding a difference */
  power: number;
}

/** What a bench costs in time. */
export interface BenchTimes {
  /** hands-on minutes to clean, apply and assemble */
  mount_min: number;
  /** minutes of one run, its cool-down included */
  run_min: number;
  /** working minutes of a bench day */
  day_min: number;
}

/** A finding of a plan, with the nearest plan that would not have it. */
export interface PlanFinding {
  code: string;
  severity: 'note' | 'warn' | 'reject';
  message: string;
  /** what to change to, as a sentence */
  nearest?: string;
  /** field of the plan it stands at */
  field?: string;
  numbers?: Record<string, number | null>;
}
