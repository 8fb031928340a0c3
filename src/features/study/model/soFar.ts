import type { AnalysisRow } from '#core/compare/rows';

/** What the runs so far say to a plan. */
export interface RunsSoFar {
  /** their rises, each with why it is left out */
  rows: AnalysisRow[];
  /** mean resistance of each specimen measured, K/W */
  measured: { specimen: string; k_per_w: number }[];
}
