import { combineUncertainty, type UncertaintyBudget, type UncertaintySource } from './combine';

/** What is known of an instrument that a rise rests on. */
export interface RiseInstrument {
  name: string;
  reads: 'sensor' | 'ambient';
  /** plus or minus, K; null where the sheet does not tell */
  accuracy_k: number | null;
  /** smallest step, K */
  resolution_k: number | null;
}

/** Mean of a specimen with its scatter. */
interface MeanWithError {
  se: number;
  df: number;
}

/**
 * Budget of one specimen's ΔT over ambient as an absolute value: its mounts' scatter, and what each instrument may be off by.
 * @returns expanded uncertainty in K, at the confidence asked for
 */
export const absoluteBudget = (mean: MeanWithError, instruments: RiseInstrument[], confidence: number): UncertaintyBudget =>
  combineUncertainty(
    [scatterOf('Scatter of the mounts', mean.se, mean.df), ...instruments.flatMap((i) => sourcesOf(i, share(i, instruments)))],
    [],
    confidence,
  );

/**
 * Budget of a difference of two specimens. Where both were measured with the same instruments, on one rig or alike on each of several,
 * every offset is shared and cancels; of the instruments only their steps remain, and those are within the scatter already.
 * @param shared whether both were measured with the same instruments
 */
export function differenceBudget(
  difference: MeanWithError,
  instruments: RiseInstrument[],
  shared: boolean,
  confidence: number,
): UncertaintyBudget {
  const offsets = instruments.flatMap((i) => sourcesOf(i, shared ? 0 : Math.SQRT2 * share(i, instruments)));
  return combineUncertainty([scatterOf('Scatter of the mounts of both', difference.se, difference.df), ...offsets], [], confidence);
}

const scatterOf = (name: string, sd: number, df: number): UncertaintySource => ({ name, distribution: 'normal', sd, df, sensitivity: 1 });

/** Weight of an instrument in what it reads: those that read the same are averaged, as far as their sheets tell anything of them. */
function share({ reads }: RiseInstrument, instruments: RiseInstrument[]): number {
  const told = instruments.filter((i) => i.reads === reads && (i.accuracy_k !== null || i.resolution_k !== null)).length;
  return 1 / Math.max(1, told);
}

function sourcesOf({ name, reads, accuracy_k, resolution_k }: RiseInstrument, size: number): UncertaintySource[] {
  const sensitivity = reads === 'sensor' ? size : size === 0 ? 0 : -size;
  return [
    ...(accuracy_k
      ? [{ name: `${name}, accuracy`, distribution: 'rectangular' as const, half_width: accuracy_k, df: null, sensitivity }]
      : []),
    ...(resolution_k
      ? [{ name: `${name}, step`, distribution: 'rectangular' as const, half_width: resolution_k / 2, df: null, sensitivity }]
      : []),
  ];
}
