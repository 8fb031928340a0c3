import type { RankingPlace } from '#features/ranking/server/rankingPlace';

/** A place that has something to rank. */
export type RankedPlace = RankingPlace & { answer: NonNullable<RankingPlace['answer']> };
