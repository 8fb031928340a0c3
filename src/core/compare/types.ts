/** What a comparison takes in and gives back. Field names of results are those of the headless contract. */

/** Value of one mount: the mean of its valid runs. */
export interface MountValue {
  specimen: string;
  mount: string;
  value: number;
}

/** How scatter is treated: one for all specimens, or each its own. */
export type ScatterSchool = 'pooled' | 'separate';

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

/** An outcome to compare: its unit and the words for it. Lower is better for every outcome built so far. */
export interface Outcome {
  key: 'rise' | 'r_k_per_w';
  unit: string;
  /** decimals that are honest to print */
  digits: number;
}

export const OUTCOMES: Record<Outcome['key'], Outcome> = {
  rise: { key: 'rise', unit: 'K', digits: 1 },
  r_k_per_w: { key: 'r_k_per_w', unit: 'K/W', digits: 3 },
};

export interface Finding {
  code: string;
  severity: 'note' | 'warn' | 'reject';
  message: string;
  numbers?: Record<string, number | null>;
}
