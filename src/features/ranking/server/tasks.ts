import { inThreads } from '#app/jobs';
import { type AdjustedAgainstOthers, adjustedWithinSetups, setupsAgainstOthers } from '#core/ranking/againstOthers';
import { connectedTo } from '#core/ranking/connected';
import type { NextStudy } from '#core/ranking/nextStudy';
import { answerNext, type NextQuestion } from '#features/ranking/model/nextChoices';
import { answerPair, answerRanking, type RankingQuestion } from '#features/ranking/model/rankingAnswer';

export const rankingTasks = {
  rank: (question: RankingQuestion) => answerRanking(question),
  rankPair: ({ question, a, b }: { question: RankingQuestion; a: string; b: string }) => answerPair(question, a, b),
  /** some set-ups against all the others */
  againstOthers: ({ question: { rows, reference }, setups }: { question: RankingQuestion; setups: string[] }): AdjustedAgainstOthers[] =>
    adjustedWithinSetups(setupsAgainstOthers(connectedTo(rows, reference), setups)),
  nextStudies: (question: NextQuestion): NextStudy[] => answerNext(question),
};
export const rankingThreads = inThreads(rankingTasks);
