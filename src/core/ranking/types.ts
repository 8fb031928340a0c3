/** One material in one set-up: what all its mounts there say. */
export interface RankingRow {
  /** rig, part, cooler, load and pressure class: what is common to everything compared in it */
  setup: string;
  material: string;
  /** mean of the mounts' area-scaled resistances, mm²·K/W */
  mean: number;
  /** of that mean, taken as known */
  variance: number;
}

/** A difference between two materials over all set-ups, a minus b, mm²·K/W. */
export interface RankedDifference {
  a: string;
  b: string;
  difference: number;
  se: number;
  ci95: [number, number];
  /** for a set-up that is not measured yet; null where it cannot be told */
  prediction95: [number, number] | null;
  /** set-ups in which both were measured */
  shared_setups: number;
}

/** What a set-up says of a material, against what all the others say. */
export interface SetupAgainstOthers {
  setup: string;
  material: string;
  /** first material of the set-up that the others know */
  base: string;
  direct: number;
  others: number;
  /** direct minus others, mm²·K/W */
  difference: number;
  t: number;
  df: number;
  p: number;
}
