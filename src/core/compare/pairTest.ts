import { tTwoSided } from '#core/stats/distributions/t';
import type { SpecimenGroup } from './oneWay';
import type { PairTest } from './types';

/** How a family of comparisons judges one of its pairs. */
export interface Yardstick {
  /** half width of the simultaneous interval in standard errors */
  critical: (df: number) => number;
  /** p adjusted for the family, from |t| */
  adjusted: (t: number, df: number) => number;
}

/** Judges one pair by its family's yardstick, given its standard error and degrees of freedom. */
export function judgePair(a: SpecimenGroup, b: SpecimenGroup, se: number, df: number | null, family: Yardstick): PairTest {
  const difference = a.offset - b.offset;
  const names = { a: a.specimen, b: b.specimen, difference, se };
  if (se === 0 || df === null) {
    const p = difference === 0 ? 1 : 0;
    return { ...names, df, p, p_adjusted: p, ci: [difference, difference] };
  }
  const t = Math.abs(difference) / se;
  const half = family.critical(df) * se;
  return { ...names, df, p: tTwoSided(t, df), p_adjusted: family.adjusted(t, df), ci: [difference - half, difference + half] };
}

/** Standard error and Welch–Satterthwaite degrees of freedom of a difference; null where a specimen has one mount. */
export function welch(a: SpecimenGroup, b: SpecimenGroup): { se: number; df: number | null } | null {
  if (a.sd === null || b.sd === null) return null;
  const va = (a.sd * a.sd) / a.n;
  const vb = (b.sd * b.sd) / b.n;
  if (va + vb === 0) return { se: 0, df: null };
  const df = (va + vb) ** 2 / ((va * va) / (a.n - 1) + (vb * vb) / (b.n - 1));
  return { se: Math.sqrt(va + vb), df };
}
