import { compactLetters } from '#core/compare/letters';
import { normalCdf } from '#core/stats/distributions/normal';
import { tTwoSided } from '#core/stats/distributions/t';
import { holm } from '#core/stats/holm';
import { allPairs, difference, type Ranking } from './rankMaterials';

/** A pair of materials with the chance of seeing such a difference where there is none, adjusted for all pairs. */
export interface RankedPair {
  a: string;
  b: string;
  p: number;
  p_adjusted: number;
}

/** Every pair with its p value, adjusted for all of them (Holm). */
export function rankedPairs(ranking: Ranking): RankedPair[] {
  const pairs = allPairs(ranking);
  const ps = pairs.map(({ difference: d, se }) => {
    const t = Math.abs(d) / se;
    return ranking.df > 0 ? tTwoSided(t, ranking.df) : 2 * (1 - normalCdf(t));
  });
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
