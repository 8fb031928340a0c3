import { type AdjustedAgainstOthers, adjustedWithinSetups, setupsAgainstOthers } from '#core/ranking/againstOthers';
import { drawnPredictions } from '#core/ranking/drawnPrediction';
import { through } from '#core/ranking/evidence';
import { inRankOrder, rankingGroups } from '#core/ranking/groups';
import type { MountsRow } from '#core/ranking/mountRows';
import { difference, type Ranking, rankMaterials } from '#core/ranking/rankMaterials';
import type { RankedDifference } from '#core/ranking/types';
import { tQuantile } from '#core/stats/distributions/t';

/** Up to so many materials every pair is judged and lettered. */
const MOST_LETTERED = 40;
/** Up to so many set-ups each is held against the others at once; more are asked for piece by piece. */
export const MOST_AT_ONCE = 24;

/** A difference of two materials with the interval that is shown for a set-up not measured yet. */
export interface ShownDifference extends RankedDifference {
  /** drawn; null where nothing can be said of another set-up */
  shown95: [number, number] | null;
}

/** A material in a ranking, mm²·K/W against the reference. */
export interface RankedMaterial extends ShownDifference {
  material: string;
  setups: number;
  mounts: number;
  /** materials by which it is compared where no set-up has both it and the reference; null where one has */
  through: string[] | null;
  /** letters it shares with those it is not told apart from; empty where there are too many to letter */
  group: string;
}

/** A ranking as its place shows it. */
export interface RankingAnswer {
  reference: string;
  /** best first, with the reference among them */
  materials: RankedMaterial[];
  apart: string[];
  setups: number;
  rows: number;
  mounts: number;
  df: number;
  tau: number | null;
  Q: number;
  Q_p: number | null;
  knapp_hartung: number;
  /** degrees of freedom of the mounts, which the intervals rest on where the set-ups leave none */
  mounts_df: number;
  /** each set-up against the others; null where there are too many to do at once */
  against_others: AdjustedAgainstOthers[] | null;
}

/** What a ranking is computed from. */
export interface RankingQuestion {
  rows: MountsRow[];
  reference: string;
}

/** Ranks materials over their set-ups, as the place shows it. */
export function answerRanking({ rows, reference }: RankingQuestion): RankingAnswer {
  const ranking = rankMaterials(rows, reference);
  const { design, df, tau, Q, Q_p, knapp_hartung, apart } = ranking;
  const connected = design.rows as MountsRow[];
  const order = inRankOrder(ranking);
  const letters = order.length <= MOST_LETTERED && df > 0 ? rankingGroups(ranking) : null;
  const shown = shownDifferences(
    ranking,
    order.map((m) => [m, reference]),
  );
  const materials = order.map((material, i): RankedMaterial => {
    const own = connected.filter((r) => r.material === material);
    return {
      ...shown[i],
      ...{ material, setups: own.length, mounts: own.reduce((sum, r) => sum + r.mounts, 0), group: letters?.get(material) ?? '' },
      through: material === reference || shown[i].shared_setups > 0 ? null : through(connected, material, reference),
    };
  });
  const setups = design.setups.length;
  return {
    ...{ reference, materials, apart, setups, rows: connected.length, df, tau, Q, Q_p, knapp_hartung, mounts_df: mountsDf(connected) },
    mounts: connected.reduce((sum, r) => sum + r.mounts, 0),
    against_others: setups <= MOST_AT_ONCE ? adjustedWithinSetups(setupsAgainstOthers(connected)) : null,
  };
}

/** Differences of pairs with their shown intervals. */
export function shownDifferences(ranking: Ranking, pairs: [a: string, b: string][]): ShownDifference[] {
  const drawn = drawnPredictions(ranking, pairs);
  return pairs.map(([a, b], i) => {
    const told = withMountsDf(ranking, difference(ranking, a, b));
    return a === b ? { ...told, se: 0, ci95: [0, 0], shown95: null } : { ...told, shown95: drawn[i] };
  });
}

const mountsDf = (rows: MountsRow[]): number => rows.reduce((sum, r) => sum + r.mounts - 1, 0);

/** Where the set-ups leave no degree of freedom, as one alone does, the interval is that of the mounts: Student's t of their scatter. */
function withMountsDf({ design, df }: Ranking, told: RankedDifference): RankedDifference {
  const own = mountsDf(design.rows as MountsRow[]);
  if (df > 0 || own < 1) return told;
  const half = tQuantile(0.975, own) * told.se;
  return { ...told, ci95: [told.difference - half, told.difference + half] };
}
