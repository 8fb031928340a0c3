/** What a comparison takes in and gives back. Field names of results are those of the headless contract. */

import type { OutcomeKey } from './outcomes';

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
  /** decide: waits for a person, and stays out of means until then */
  severity: 'note' | 'warn' | 'decide' | 'reject';
  message: string;
  numbers?: Record<string, number | null>;
}

/** How specimens are compared. */
export interface AnalysisOptions {
  /** default: the first specimen of the rows */
  reference?: string;
  /** smallest difference that matters, in the outcome's unit */
  margin: number;
  confidence: number;
  scatter: ScatterChoice;
  /** whether the specimens are of one kind, whose mounts may be expected to scatter alike; for the measured choice of school */
  one_kind: boolean;
  /** all pairs, or those with the reference only */
  family: 'all' | 'reference';
  outcome: OutcomeKey;
  /** what mounts share and the comparison takes out; null for none */
  block: BlockBy | null;
  /** scatter between mounts taken for a specimen with one mount when the study itself cannot tell; 0 where none is known */
  default_mount_sd: number;
  /** scatter known from the lab's earlier work, by specimen; it goes before the default */
  borrowed: Record<string, BorrowedScatter>;
  /** specimens that are one device's own state and cannot be remounted: their mean carries run error only */
  fixed_states: string[];
  /** errors that all mounts of a specimen share, by specimen, beside the scatter of its mounts */
  shared_errors: Record<string, SharedError>;
  /** mounts at which a verdict was shown outside the planned looks, before more were added; null where none were */
  unplanned_look: number | null;
  /** whether to draw the chances of being coolest, which takes most of the time of a small comparison */
  chances: boolean;
  /** whether to tell with how many more mounts an open pair would be settled; where thousands of studies are drawn nobody reads it */
  outlook: boolean;
}

/** An error that all mounts of a specimen share, so that their scatter does not show it: of a curve through their readings, say. */
export interface SharedError {
  se: number;
  df: number;
}

/** A scatter between mounts that was not measured in the study. */
export interface BorrowedScatter {
  sd: number;
  df: number;
  /** where it comes from, for the sentence */
  from: string;
}

/** A pair under one school. */
export interface SchoolResult {
  se: number;
  df: number | null;
  ci: [number, number];
  p_adjusted: number;
  verdict: Verdict;
}

/** A pair as it is judged, with what each school says of it. Where all mounts read the same there is no interval and no p. */
export interface AnalysedPair extends Omit<PairTest, 'ci' | 'p' | 'p_adjusted'> {
  ci: [number, number] | null;
  p: number | null;
  p_adjusted: number | null;
  verdict: Verdict;
  firm: boolean;
  /** further mounts of each expected to settle an unresolved pair; null where no reachable number would */
  more_mounts: number | null;
  pooled: SchoolResult | null;
  separate: SchoolResult | null;
  strict: SchoolResult | null;
  /** specimens of the two with throttled mounts: their true value lies at or above what is left */
  throttled: string[];
  sentence: string;
}

/** A specimen as it is told: its mean over mounts with its error, letters and chance. */
export interface AnalysedSpecimen {
  specimen: string;
  mounts: number;
  runs: number;
  mean: number;
  se: number | null;
  df: number | null;
  ci: [number, number] | null;
  sd_mounts: number | null;
  group: string;
  chance_coolest: number | null;
}

/** A whole comparison. */
export interface Analysis {
  reference: string;
  margin: number;
  confidence: number;
  outcome: OutcomeKey;
  block: BlockBy | null;
  specimens: AnalysedSpecimen[];
  scatter: {
    school: ScatterSchool;
    mount_sd: number | null;
    run_sd: number | null;
    pooled_sd: number | null;
    df: number;
    repeatability_limit: number | null;
    mount_limit: number | null;
    brown_forsythe_p: number | null;
    /** F test of the blocks, given the specimens; null without blocks */
    block_p: number | null;
  };
  pairs: AnalysedPair[];
  odd_mounts: { specimen: string; mount: string; studentized: number; p_bonferroni: number }[];
  findings: Finding[];
  sentences: string[];
}
