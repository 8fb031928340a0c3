/** What a comparison takes in and gives back. Field names of results are those of the headless contract. */

/** Value of one mount: the mean of its valid runs. */
export interface MountValue {
  specimen: string;
  mount: string;
  value: number;
  /** what it was made and run in: its bench day, rig or rig-day; absent where nothing is blocked */
  block?: string;
}

/** What mounts share beside their specimen, and what a comparison takes out. */
export type BlockBy = 'day' | 'rig' | 'rig-day';

/** How scatter is treated: one for all specimens, each its own, or each its own with limits that keep the error rate on few mounts too. */
export type ScatterSchool = 'pooled' | 'separate' | 'strict';

/** A school, or the rule that picks it: by the number of mounts alone, or by what the calibration measured of each school. */
export type ScatterChoice = ScatterSchool | 'auto' | 'measured';

export type Verdict = 'cooler' | 'warmer' | 'cooler_within_margin' | 'warmer_within_margin' | 'tied' | 'unresolved';

/** Difference a − b of two specimens under one school, adjusted for all pairs. */
export interface PairTest {
  a: string;
  b: string;
  difference: number;
  se: number;
  /** null where both specimens have no scatter at all */
  df: number | null;
  /** two-sided, for this pair alone */
  p: number;
  p_adjusted: number;
  /** simultaneous interval */
  ci: [number, number];
}

export interface Finding {
  code: string;
  severity: 'note' | 'warn' | 'reject';
  message: string;
  numbers?: Record<string, number | null>;
}
