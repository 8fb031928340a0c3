import { compactLetters } from '#core/compare/letters';
import { normalCdf } from '#core/stats/distributions/normal';
import { tTwoSided } from '#core/stats/distributions/t';
import { holm } from '#core/stats/holm';
import { allPairs, difference, type Ranking } from './rankMaterials';
import type { RankedDifference } from './types';

/** A pair of materials with the chance of seeing such a difference where there is none, adjusted for all pairs. */
export interface RankedPair {
  a: string;
  b: string;
  p: number;
  p_adjusted: number;
}

const pOf = ({ df }: Ranking, { difference: d, se }: Pick<RankedDifference, 'difference' | 'se'>): number => {
  const t = Math.abs(d) / se;
  return df > 0 ? tTwoSided(t, df) : 2 * (1 - normalCdf(t));
};

/** p value of one pair, not adjusted. */
export const pairP = (ranking: Ranking, a: string, b: string): number => pOf(ranking, difference(ranking, a, b));

/** Every pair with its p value, adjusted for all of them (Holm). */
export function rankedPairs(ranking: Ranking): RankedPair[] {
  const pairs = allPairs(ranking);
  const ps = pairs.map((p) => pOf(ranking, p));
  const adjusted = holm(ps);
  return pairs.map(({ a, b }, i) => ({ a, b, p: ps[i], p_adjusted: adjusted[i] as number }));
}

/** Materials from the lowest resistance up. */
export const inRankOrder = (ranking: Ranking): string[] => {
  const above = new Map(ranking.design.materials.map((m) => [m, difference(ranking, m, ranking.reference).difference]));
  return [...ranking.design.materials].sort((a, b) => (above.get(a) as number) - (above.get(b) as number));
};

/** Letters of the materials: those that share one are not distinguishable over the set-ups. */
export const rankingGroups = (ranking: Ranking, confidence = 0.95): Map<string, string> =>
  compactLetters(
    inRankOrder(ranking),
    rankedPairs(ranking).flatMap((p): [string, string][] => (p.p_adjusted < 1 - confidence ? [[p.a, p.b]] : [])),
  );
