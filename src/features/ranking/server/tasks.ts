import { inThreads } from '#app/jobs';
import { type AdjustedAgainstOthers, adjustedWithinSetups, setupsAgainstOthers } from '#core/ranking/againstOthers';
import { connectedTo } from '#core/ranking/connected';
import type { NextStudy } from '#core/ranking/nextStudy';
import { rankMaterials } from '#core/ranking/rankMaterials';
import { type ControlQuestion, type SetupControl, setupControl } from '#features/ranking/model/control';
import { answerNext, type NextQuestion } from '#features/ranking/model/nextChoices';
import { answerRanking, type RankingQuestion, type ShownDifference, shownDifferences } from '#features/ranking/model/rankingAnswer';

export const rankingTasks = {
  rank: (question: RankingQuestion) => answerRanking(question),
  rankPairs: ({ question, pairs }: { question: RankingQuestion; pairs: [a: string, b: string][] }): ShownDifference[] =>
    shownDifferences(rankMaterials(question.rows, question.reference), pairs),
  /** some set-ups against all the others */
  againstOthers: ({ question: { rows, reference }, setups }: { question: RankingQuestion; setups: string[] }): AdjustedAgainstOthers[] =>
    adjustedWithinSetups(setupsAgainstOthers(connectedTo(rows, reference), setups)),
  /** the reference on each of some set-ups over the years */
  control: (questions: ControlQuestion[]): SetupControl[] => questions.flatMap((q) => setupControl(q) ?? []),
  nextStudies: (question: NextQuestion): NextStudy[] => answerNext(question),
};
export const rankingThreads = inThreads(rankingTasks);
