import type { SpecimenGroup } from './oneWay';
import { judgePair, type Yardstick } from './pairTest';
import type { PairTest, SharedError } from './types';

/** Adds independent errors, with Welch–Satterthwaite degrees of freedom; a part without scatter adds none. */
export function addErrors(parts: { se: number; df: number | null }[]): { se: number; df: number | null } {
  if (parts.length === 1) return { ...parts[0] };
  const variance = parts.reduce((sum, p) => sum + p.se * p.se, 0);
  const weight = parts.reduce((sum, p) => sum + (p.df === null ? 0 : p.se ** 4 / p.df), 0);
  return { se: Math.sqrt(variance), df: weight > 0 ? variance ** 2 / weight : null };
}

/** A pair's test with what the mounts of each of the two share added to its error. */
export function withShared(
  test: PairTest,
  [a, b]: [SpecimenGroup, SpecimenGroup],
  shared: Record<string, SharedError>,
  yardstick: Yardstick,
  wholeDf = false,
): PairTest {
  const own = [a, b].flatMap((g) => shared[g.specimen] ?? []).filter((e) => e.se > 0);
  if (own.length === 0) return test;
  const { se, df } = addErrors([test, ...own]);
  return judgePair(a, b, se, df === null || !wholeDf ? df : Math.max(1, Math.floor(df)), yardstick);
}
