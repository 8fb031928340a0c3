import { inThreads } from '#app/jobs';
import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysisOptions } from '#core/compare/types';
import { beforeAndAfter } from '#features/results/model/beforeAfter';
import { answerCoolers } from '#features/results/model/coolers/coolersAnswer';
import type { CoolerQuestion } from '#features/results/model/coolers/figures';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import { checkRests, type RestKey, type RestsOn, restsNow } from '#features/results/model/recommendation';
import { answerResults } from '#features/results/model/resultsAnswer';
import { sweepsOf } from '#features/results/model/sweeps';

export const resultsTasks = {
  compareRuns: ({ rows, options }: { rows: AnalysisRow[]; options: Partial<AnalysisOptions> }) => analyse(rows, options),
  /** a comparison with its words and marks, as the results place tells it */
  answer: ({ facts, choice, confidence }: { facts: StudyFacts; choice: ResultsChoice; confidence: number }) =>
    answerResults(facts, choice, confidence),
  /** coolers compared where they are held alike */
  coolers: ({ facts, question }: { facts: StudyFacts; question: CoolerQuestion }) => answerCoolers(facts, sweepsOf(facts), question),
  /** how the verdicts stand now that words rest on */
  checkRests: ({ facts, rests, confidence }: { facts: StudyFacts; rests: RestsOn[]; confidence: number }) =>
    checkRests(facts, rests, confidence),
  /** the verdicts of now that words are to rest on */
  restsNow: ({ facts, rests, confidence }: { facts: StudyFacts; rests: RestKey[]; confidence: number }) =>
    restsNow(facts, rests, confidence),
  beforeAndAfter: (facts: StudyFacts) => beforeAndAfter(facts),
};
export const resultsThreads = inThreads(resultsTasks);
