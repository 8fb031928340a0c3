import { inThreads } from '#app/jobs';
import { type AdjustedAgainstOthers, adjustedWithinSetups, setupsAgainstOthers } from '#core/ranking/againstOthers';
import { connectedTo } from '#core/ranking/connected';
import type { NextStudy } from '#core/ranking/nextStudy';
import { rankMaterials } from '#core/ranking/rankMaterials';
import { answerNext, type NextQuestion } from '#features/ranking/model/nextChoices';
import {
  answerPair,
  answerRanking,
  type RankingQuestion,
  type ShownDifference,
  shownDifferences,
} from '#features/ranking/model/rankingAnswer';

export const rankingTasks = {
  rank: (question: RankingQuestion) => answerRanking(question),
  rankPair: ({ question, a, b }: { question: RankingQuestion; a: string; b: string }) => answerPair(question, a, b),
  rankPairs: ({ question, pairs }: { question: RankingQuestion; pairs: [a: string, b: string][] }): ShownDifference[] =>
    shownDifferences(rankMaterials(question.rows, question.reference), pairs),
  /** some set-ups against all the others */
  againstOthers: ({ question: { rows, reference }, setups }: { question: RankingQuestion; setups: string[] }): AdjustedAgainstOthers[] =>
    adjustedWithinSetups(setupsAgainstOthers(connectedTo(rows, reference), setups)),
  nextStudies: (question: NextQuestion): NextStudy[] => answerNext(question),
};
export const rankingThreads = inThreads(rankingTasks);
