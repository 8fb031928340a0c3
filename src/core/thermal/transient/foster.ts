/**
 * A Foster chain: stages in no order, each a resistance with its time constant. Its stages have no place in the body; those of a Cauer
 * ladder do.
 */
export interface FosterChain {
  /** K/W */
  R: number[];
  /** s */
  tau: number[];
}

/** Temperature rise per watt at a time after a step of power, K/W. */
export function stepResponse({ R, tau }: FosterChain, t: number): number {
  // expm1 keeps the digits of short times
  return R.reduce((sum, r, i) => sum - r * Math.expm1(-t / tau[i]), 0);
}

/** Whole resistance, K/W. */
export const totalResistance = ({ R }: FosterChain): number => R.reduce((sum, r) => sum + r, 0);

/** Capacities of the stages, J/K. */
export const fosterCapacities = ({ R, tau }: FosterChain): number[] => R.map((r, i) => tau[i] / r);
