import type { ShownDifference } from './rankingAnswer';
import type { MeasuredRange } from './readersPart';

/** What a report needs to say what its materials do on another part. */
export interface PartCalculator {
  /** names of the report's materials that are ranked, best first */
  materials: string[];
  /** each pair once, a before b in that order, mm²·K/W */
  pairs: Pick<ShownDifference, 'a' | 'b' | 'difference' | 'ci95' | 'shown95'>[];
  /** areas, contacts and pressures that were measured, each once */
  measured: MeasuredRange[];
  setups: number;
  mounts: number;
}

/** A pair whichever way round it is asked for; null where it is not known. */
export function pairOf({ pairs }: Pick<PartCalculator, 'pairs'>, a: string, b: string): PartCalculator['pairs'][number] | null {
  const known = pairs.find((p) => p.a === a && p.b === b);
  if (known) return known;
  const turned = pairs.find((p) => p.a === b && p.b === a);
  const back = ([low, high]: [number, number]): [number, number] => [-high, -low];
  return turned ? { a, b, difference: -turned.difference, ci95: back(turned.ci95), shown95: turned.shown95 && back(turned.shown95) } : null;
}
